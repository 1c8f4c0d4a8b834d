// Signs before a line: a stop, a caution, a thing in order. The sign is read out in words.
import { VisuallyHidden } from '@mantine/core';
import type { ReactNode } from 'react';
import classes from './Marks.module.css';

const signs = { stop: '!', caution: '?', good: '✓', no: '✗' } as const;

export function Marks({ children }: { readonly children: ReactNode }) {
  return <ul className={classes.marks}>{children}</ul>;
}

export function Mark({
  kind,
  means,
  depth = 0,
  children,
}: {
  readonly kind: keyof typeof signs;
  readonly means: string;
  /** How far it is indented, in steps. */
  readonly depth?: number;
  readonly children: ReactNode;
}) {
  return (
    <li className={classes.mark} style={{ paddingLeft: 14 * depth }}>
      <span className={`${classes.sign} ${classes[kind]}`} title={means} aria-hidden>
        {signs[kind]}
      </span>
      <span>
        <VisuallyHidden>{means}: </VisuallyHidden>
        {children}
      </span>
    </li>
  );
}
