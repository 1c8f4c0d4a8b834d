// A ruled list: when, what, and what becomes of it.
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import classes from './Rows.module.css';

export function Rows({
  children,
  ordered,
  label,
}: {
  readonly children: ReactNode;
  readonly ordered?: boolean;
  readonly label?: string;
}) {
  return ordered ? (
    <ol className={classes.rows} aria-label={label}>
      {children}
    </ol>
  ) : (
    <ul className={classes.rows} aria-label={label}>
      {children}
    </ul>
  );
}

export function Row({
  when,
  end,
  picture,
  children,
}: {
  readonly when?: ReactNode;
  readonly end?: ReactNode;
  readonly picture?: ReactNode;
  readonly children: ReactNode;
}) {
  return (
    <li className={`${classes.row} ${picture ? classes.pictured : ''}`}>
      {picture}
      {when !== undefined && <span className={classes.when}>{when}</span>}
      <span className={classes.what}>{children}</span>
      {end !== undefined && <span className={classes.end}>{end}</span>}
    </li>
  );
}

/** The name of a thing, leading to it. */
export function Name({
  to,
  title,
  children,
}: {
  readonly to: string;
  readonly title?: string;
  readonly children: ReactNode;
}) {
  return (
    <Link className={classes.name} to={to} title={title}>
      {children}
    </Link>
  );
}
