// Loading, empty and wrong, said the same way everywhere.
import { Skeleton } from '@mantine/core';
import { useEffect, type ReactNode } from 'react';
import { Link, useRouteError } from 'react-router';
import { isGone, problemOf } from '../api/problems';
import { Page } from './Page';
import classes from './states.module.css';
import { Act } from './text';

export function Note({
  kind = 'plain',
  children,
}: {
  readonly kind?: 'plain' | 'good' | 'caution' | 'wrong';
  readonly children: ReactNode;
}) {
  return (
    <div
      className={`${classes.note} ${classes[kind]}`}
      role={kind === 'wrong' ? 'alert' : undefined}
    >
      {children}
    </div>
  );
}

/** What went wrong with loading, and a way to try again. */
export function Wrong({ error, again }: { readonly error: unknown; readonly again?: () => void }) {
  return (
    <Note kind="wrong">
      {problemOf(error).detail} {again && <Act onClick={again}>Try again</Act>}
    </Note>
  );
}

/** Says what the place is for and offers the first step. */
export function Empty({
  title,
  children,
}: {
  readonly title: string;
  readonly children: ReactNode;
}) {
  return (
    <div className={classes.empty}>
      <b>{title}</b>
      {children}
    </div>
  );
}

/** Grey lines in place of what is coming. */
export function Ghost({ lines = 3 }: { readonly lines?: number }) {
  return (
    <div aria-busy="true" aria-label="loading" role="status">
      {Array.from({ length: lines }, (_, at) => (
        <Skeleton key={at} h={12} my={14} w={`${90 - ((at * 23) % 50)}%`} />
      ))}
    </div>
  );
}

/** An address with nothing behind it, or a page that broke. */
export function Lost() {
  const error = useRouteError();
  // For whoever looks into the browser's console.
  useEffect(() => {
    if (error) reportError(error);
  }, [error]);
  return (
    <Page title={error ? 'This page broke' : 'There is nothing here'}>
      <p>
        {error
          ? 'That is our fault; nothing of yours is lost. Load the page again, or go back to the desk.'
          : 'The address may be incomplete, or what was here was deleted.'}{' '}
        <Link to="/">To the desk</Link>
      </p>
    </Page>
  );
}

/** In place of a page that is still coming, is not there, or can't be read. */
export function Waiting({ error, again }: { readonly error: unknown; readonly again: () => void }) {
  if (error !== undefined && isGone(error)) return <Lost />;
  return (
    <Page title="…" margin={<Ghost lines={6} />}>
      {error === undefined ? <Ghost lines={8} /> : <Wrong error={error} again={again} />}
    </Page>
  );
}
