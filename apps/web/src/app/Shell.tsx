// The frame of every screen: top bar, places, and the sign-in in front of it all.
import { Menu, UnstyledButton } from '@mantine/core';
import { IconChevronDown } from '@tabler/icons-react';
import { Suspense } from 'react';
import { Link, NavLink, Outlet } from 'react-router';
import { useMeQuery, useSignOutMutation } from '../office/office.api';
import { OfficeContext } from '../office/OfficeContext';
import { SetUpPage } from '../office/SetUpPage';
import { SignInPage } from '../office/SignInPage';
import { problemOf } from './api';

const places = [
  ['/', 'Desk'],
  ['/contacts', 'Contacts'],
  ['/segments', 'Segments'],
  ['/letters', 'Letters'],
  ['/campaigns', 'Campaigns'],
  ['/results', 'Results'],
  ['/intake', 'Intake'],
] as const;

export function Shell() {
  const me = useMeQuery();
  const [signOut] = useSignOutMutation();
  if (me.isError && !me.data) return <main className="sign-in">{problemOf(me.error).detail}</main>;
  if (!me.data) return <main aria-busy="true" />;
  const { user, office, demo, needsSetUp } = me.data;
  if (needsSetUp) return <SetUpPage />;
  if (!user || !office) return <SignInPage />;
  return (
    <OfficeContext.Provider value={{ user, office }}>
      <a className="skip" href="#work">
        To the work
      </a>
      <header className="bar">
        <Link to="/" className="mark" aria-label="Palabra, to the desk">
          palabra<span>.</span>
        </Link>
        <nav className="places" aria-label="Places">
          {places.map(([to, name]) => (
            <NavLink key={to} to={to} end={to === '/'}>
              {name}
            </NavLink>
          ))}
        </nav>
        <div className="bar-end">
          <Menu position="bottom-end">
            <Menu.Target>
              <UnstyledButton className="act">
                {user.name} <IconChevronDown size={14} aria-hidden />
              </UnstyledButton>
            </Menu.Target>
            <Menu.Dropdown>
              <Menu.Label>{user.role}</Menu.Label>
              <Menu.Item component={Link} to="/settings">
                Settings
              </Menu.Item>
              {demo?.outside && (
                <Menu.Item component="a" href={demo.outside} target="_blank" rel="noreferrer">
                  Everybody’s mailboxes
                </Menu.Item>
              )}
              <Menu.Item onClick={() => void signOut()}>Sign out</Menu.Item>
            </Menu.Dropdown>
          </Menu>
        </div>
      </header>
      <Suspense>
        <Outlet />
      </Suspense>
    </OfficeContext.Provider>
  );
}
