// Loading, empty and wrong, said the same way everywhere.
import type { ReactNode } from 'react';
import { problemOf } from '../app/api';

export function Note({
  kind = 'plain',
  children,
}: {
  readonly kind?: 'plain' | 'good' | 'caution' | 'wrong';
  readonly children: ReactNode;
}) {
  return <div className={`note ${kind}`}>{children}</div>;
}

/** What went wrong with loading, and a way to try again. */
export function Wrong({ error, again }: { readonly error: unknown; readonly again?: () => void }) {
  return (
    <div role="alert">
      <Note kind="wrong">
        {problemOf(error).detail}{' '}
        {again && (
          <button type="button" className="act" onClick={again}>
            Try again
          </button>
        )}
      </Note>
    </div>
  );
}

/** Said in the place of “Are you sure?”. */
export function Removed({
  what,
  onUndo,
}: {
  readonly what: { readonly name: string } | undefined;
  readonly onUndo: () => void;
}) {
  if (!what) return null;
  return (
    <Note>
      “{what.name}” was deleted.{' '}
      <button type="button" className="act" onClick={onUndo}>
        Undo
      </button>
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
    <div className="empty">
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
        <span
          key={at}
          className="ghost"
          style={{ width: `${90 - ((at * 23) % 50)}%`, margin: '14px 0' }}
        />
      ))}
    </div>
  );
}
