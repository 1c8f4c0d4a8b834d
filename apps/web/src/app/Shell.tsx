// The frame of every screen: top bar, places, and the sign-in in front of it all.
import {
  Menu,
  UnstyledButton,
  useMantineColorScheme,
  type MantineColorScheme,
} from '@mantine/core';
import { IconCheck, IconChevronDown, IconSearch } from '@tabler/icons-react';
import { lazy, Suspense, useEffect, useState, type ReactNode } from 'react';
import { Link, NavLink, Outlet } from 'react-router';
import { useMeQuery, useSignOutMutation } from '../office/office.api';
import { OfficeContext } from '../office/OfficeContext';
import { isTyping } from '../ui/typing';
import { problemOf } from './api';

const SetUpPage = lazy(async () => ({ default: (await import('../office/SetUpPage')).SetUpPage }));
const SignInPage = lazy(async () => ({
  default: (await import('../office/SignInPage')).SignInPage,
}));
const Palette = lazy(async () => ({ default: (await import('./Palette')).Palette }));
const Shortcuts = lazy(async () => ({ default: (await import('./Shortcuts')).Shortcuts }));
const looks: readonly { readonly value: MantineColorScheme; readonly label: string }[] = [
  { value: 'light', label: 'Light' },
  { value: 'dark', label: 'Dark' },
  { value: 'auto', label: 'As the system' },
];

const places = [
  ['/', 'Desk'],
  ['/contacts', 'Contacts'],
  ['/segments', 'Segments'],
  ['/letters', 'Letters'],
  ['/campaigns', 'Campaigns'],
  ['/results', 'Results'],
  ['/intake', 'Intake'],
] as const;

/** The two dialogs that keys open from everywhere; loaded when they are first wanted. */
function useDialogs(): { readonly open: (dialog: Dialog) => void; readonly dialogs: ReactNode } {
  const [dialog, setDialog] = useState<Dialog>();
  const [wanted, setWanted] = useState<ReadonlySet<Dialog>>(new Set());
  const open = (which: Dialog): void => {
    setWanted((before) => new Set([...before, which]));
    setDialog(which);
  };
  useEffect(() => {
    const keys = (event: KeyboardEvent): void => {
      const which =
        (event.ctrlKey || event.metaKey) && !event.altKey && event.key.toLowerCase() === 'k'
          ? 'palette'
          : event.key === '?' && !event.ctrlKey && !event.metaKey && !isTyping(event.target)
            ? 'shortcuts'
            : undefined;
      if (!which) return;
      event.preventDefault();
      open(which);
    };
    window.addEventListener('keydown', keys);
    // Fetched once there is time, so that the first letters typed into it are not lost.
    const soon = setTimeout(() => void import('./Palette'), 1500);
    return () => {
      window.removeEventListener('keydown', keys);
      clearTimeout(soon);
    };
  }, []);
  const close = (): void => setDialog(undefined);
  return {
    open,
    dialogs: (
      <Suspense>
        {wanted.has('palette') && <Palette opened={dialog === 'palette'} onClose={close} />}
        {wanted.has('shortcuts') && <Shortcuts opened={dialog === 'shortcuts'} onClose={close} />}
      </Suspense>
    ),
  };
}

type Dialog = 'palette' | 'shortcuts';

export function Shell() {
  const me = useMeQuery();
  const [signOut] = useSignOutMutation();
  const { colorScheme, setColorScheme } = useMantineColorScheme();
  const { open, dialogs } = useDialogs();
  if (me.isError && !me.data) return <main className="sign-in">{problemOf(me.error).detail}</main>;
  if (!me.data) return <main aria-busy="true" />;
  const { user, office, demo, needsSetUp } = me.data;
  if (needsSetUp || !user || !office)
    return (
      <Suspense fallback={<main aria-busy="true" />}>
        {needsSetUp ? <SetUpPage /> : <SignInPage />}
      </Suspense>
    );
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
          <UnstyledButton
            className="find"
            aria-label="Find or do something"
            aria-keyshortcuts="Control+K"
            onClick={() => open('palette')}
          >
            <IconSearch size={15} aria-hidden /> <span>Find</span> <kbd>Ctrl K</kbd>
          </UnstyledButton>
          <Menu position="bottom-end">
            <Menu.Target>
              <UnstyledButton className="act">
                {user.name} <IconChevronDown size={14} aria-hidden />
              </UnstyledButton>
            </Menu.Target>
            <Menu.Dropdown>
              <Menu.Label>{user.role}</Menu.Label>
              <Menu.Item component={Link} to="/activity">
                Activity
              </Menu.Item>
              <Menu.Item component={Link} to="/settings">
                Settings
              </Menu.Item>
              <Menu.Item onClick={() => open('shortcuts')} rightSection={<kbd>?</kbd>}>
                Keys
              </Menu.Item>
              <Menu.Label>Look</Menu.Label>
              {looks.map(({ value, label }) => (
                <Menu.Item
                  key={value}
                  role="menuitemradio"
                  aria-checked={colorScheme === value}
                  onClick={() => setColorScheme(value)}
                  rightSection={colorScheme === value && <IconCheck size={14} aria-hidden />}
                >
                  {label}
                </Menu.Item>
              ))}
              <Menu.Divider />
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
      {dialogs}
    </OfficeContext.Provider>
  );
}
