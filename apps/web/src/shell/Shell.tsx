// The frame of every screen: top bar, places, and the sign-in in front of it all.
import { Kbd, UnstyledButton } from '@mantine/core';
import { useHotkeys } from '@mantine/hooks';
import { Notifications } from '@mantine/notifications';
import { createSpotlightStore } from '@mantine/spotlight';
import { IconSearch } from '@tabler/icons-react';
import { lazy, Suspense, useEffect, useState, type ReactNode } from 'react';
import { Link, NavLink, Outlet } from 'react-router';
import { problemOf } from '../api/problems';
import { OfficeContext, useMeQuery } from '../office';
import { Mark } from '../ui/Mark';
import { Note } from '../ui/states';
import classes from './shell.module.css';
import { UserMenu } from './UserMenu';

const SetUpPage = lazy(async () => ({ default: (await import('../office/SetUpPage')).SetUpPage }));
const SignInPage = lazy(async () => ({
  default: (await import('../office/SignInPage')).SignInPage,
}));
const Palette = lazy(async () => ({ default: (await import('./Palette')).Palette }));
const Shortcuts = lazy(async () => ({ default: (await import('./Shortcuts')).Shortcuts }));

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
  if (me.isError && !me.data)
    return (
      <main>
        <Note kind="wrong">{problemOf(me.error).detail}</Note>
      </main>
    );
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
      <Frame outside={demo?.outside} />
      {/* Put away at once: two ways back side by side, one of them stale, would ask to be mistaken. */}
      <Notifications position="bottom-left" limit={3} zIndex={400} transitionDuration={0} />
    </OfficeContext.Provider>
  );
}

function Frame({ outside }: { readonly outside: string | undefined }) {
  const { open, dialogs } = useDialogs();
  return (
    <>
      <a className={classes.skip} href="#work">
        To the work
      </a>
      <header className={classes.bar}>
        <Link to="/" aria-label="Palabra, to the desk">
          <Mark />
        </Link>
        <nav className={classes.places} aria-label="Places">
          {places.map(([to, name]) => (
            <NavLink key={to} to={to} end={to === '/'}>
              {name}
            </NavLink>
          ))}
        </nav>
        <div className={classes.end}>
          <UnstyledButton
            className={classes.find}
            aria-label="Find or do something"
            aria-keyshortcuts="Control+K"
            onClick={() => open('palette')}
          >
            <IconSearch size={15} aria-hidden /> <span>Find</span> <Kbd size="xs">Ctrl K</Kbd>
          </UnstyledButton>
          <UserMenu outside={outside} onKeys={() => open('keys')} />
        </div>
      </header>
      <Suspense>
        <Outlet />
      </Suspense>
      {dialogs}
    </>
  );
}

type Dialog = 'palette' | 'keys';
const palette = createSpotlightStore();

/** The two dialogs that keys open from everywhere; loaded when they are first wanted. */
function useDialogs(): { readonly open: (dialog: Dialog) => void; readonly dialogs: ReactNode } {
  const [wanted, setWanted] = useState<ReadonlySet<Dialog>>(new Set());
  const [hasKeys, setHasKeys] = useState(false);
  const open = (which: Dialog): void => {
    setWanted((before) => new Set([...before, which]));
    if (which === 'keys') setHasKeys(true);
    else palette.setState({ ...palette.getState(), opened: true });
  };
  useHotkeys([['mod+K', () => open('palette')]], [], true);
  useHotkeys([
    ['shift+?', () => open('keys')],
    ['?', () => open('keys')],
  ]);
  useEffect(() => {
    // Put there once there is time, so that the first letters typed into it are not lost.
    const soon = setTimeout(() => setWanted((before) => new Set([...before, 'palette'])), 600);
    return () => clearTimeout(soon);
  }, []);
  return {
    open,
    dialogs: (
      <Suspense>
        {wanted.has('palette') && <Palette store={palette} />}
        {wanted.has('keys') && <Shortcuts opened={hasKeys} onClose={() => setHasKeys(false)} />}
      </Suspense>
    ),
  };
}
