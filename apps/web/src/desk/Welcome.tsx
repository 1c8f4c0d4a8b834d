// The first sign-in: what the place is for, by what one may do there.
import { Button } from '@mantine/core';
import type { Role } from '@palabra/core/office';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { useOffice, useWelcomedMutation } from '../office';
import { command } from '../ui/command';
import classes from './desk.module.css';

const lines: Record<Role, readonly ReactNode[]> = {
  coordinator: [
    <>
      <Link to="/intake">Intake</Link> brings people in from a list; nothing changes before you have
      looked at it, and each list can be taken back.
    </>,
    <>
      <Link to="/segments">Segments</Link> are groups with a rule. The margin says who is in, and
      why.
    </>,
    <>
      <Link to="/letters">Letters</Link> are written in blocks, and saved as you write.
    </>,
    <>
      <Link to="/campaigns">Campaigns</Link> bring a letter to people. The tally accounts for
      everybody before anything goes out.
    </>,
    <>
      <Link to="/settings">Settings</Link> hold your colleagues: invite them there.
    </>,
  ],
  manager: [
    <>
      You read everything here, and change nothing. <Link to="/results">Results</Link> say what came
      back of each letter; every number opens into its people.
    </>,
  ],
  member: [
    <>
      <Link to="/contacts">Contacts</Link> are the people you look after; change and tag them there.
    </>,
    <>
      <Link to="/campaigns">Campaigns</Link> show what the office sends, and which of your people
      get it.
    </>,
  ],
};

export function Welcome() {
  const { user, office } = useOffice();
  const [welcomed, { isLoading }] = useWelcomedMutation();
  if (!user.isNew) return null;
  return (
    <section className={classes.welcome} aria-label="Welcome">
      <b>
        Welcome to {office.name}, {user.name}. You are a {user.role} here.
      </b>
      <ul>
        {lines[user.role].map((line, at) => (
          <li key={at}>{line}</li>
        ))}
      </ul>
      <p>Ctrl+K finds people and things from everywhere; “?” shows the keys of a page.</p>
      <Button
        size="xs"
        loading={isLoading}
        onClick={() => void command({ run: () => welcomed().unwrap() })}
      >
        Thank you
      </Button>
    </section>
  );
}
