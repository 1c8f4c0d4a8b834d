// The office's settings, its accounts, and what is one's own.
import { Title } from '@mantine/core';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { HandOver, PlacesPart, TopicsPart } from '../contacts';
import { Accounts, OfficeForm, OwnAccount, PasswordForm, Sessions, useMay } from '../office';
import { Page } from '../ui/Page';
import { Soft } from '../ui/text';
import classes from './desk.module.css';

export function SettingsPage() {
  const may = useMay('settings');
  return (
    <Page title="Settings">
      <div className={classes.columns}>
        <Setting title="Office">
          {may ? <OfficeForm /> : <Soft>A coordinator changes the office’s settings.</Soft>}
        </Setting>
        <Setting title="Fields">
          <Soft>
            Stages and sources, and what you know of people beside names and places.{' '}
            <Link to="/settings/fields">Open the fields</Link>
          </Soft>
        </Setting>
        <Setting title="Rating">
          <Soft>
            What opening, clicking and replying count for, and from where on somebody is steady or
            keen. <Link to="/settings/rating">Open the rating</Link>
          </Soft>
        </Setting>
        <Setting title="Topics">
          <TopicsPart may={may} />
        </Setting>
        <Setting title="Places">
          <PlacesPart may={may} />
        </Setting>
        <Setting title="Colleagues">
          <Accounts
            may={may}
            handOver={(account, done) => <HandOver from={account} onDone={done} />}
          />
        </Setting>
        <Setting title="You">
          <OwnAccount />
        </Setting>
        <Setting title="Your password">
          <PasswordForm />
        </Setting>
        <Setting title="Where you are signed in">
          <Sessions />
        </Setting>
      </div>
    </Page>
  );
}

function Setting({ title, children }: { readonly title: string; readonly children: ReactNode }) {
  return (
    <section className={classes.setting}>
      <Title order={2}>{title}</Title>
      {children}
    </section>
  );
}
