// Numbers that open, sums, and bars beside them.
import { UnstyledButton } from '@mantine/core';
import type { PeopleName } from '@palabra/core/contacts';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import classes from './numbers.module.css';

export const count = (value: number): string => value.toLocaleString('en');
/** `1 person`, `12 people`. */
export const people = (value: number): string =>
  `${count(value)} ${value === 1 ? 'person' : 'people'}`;

export const peoplePath = (of: PeopleName): string => `/contacts?of=${encodeURIComponent(of)}`;

/** A number with people behind it; nobody behind it means nothing to open. */
export function Num({
  value,
  to,
  onOpen,
  label,
  large,
}: {
  readonly value: number;
  readonly to?: string;
  /** In place of an address, where it is only made when it is wanted. */
  readonly onOpen?: () => void;
  readonly label?: string;
  readonly large?: boolean;
}) {
  const look = `${classes.num} ${large ? classes.large : ''}`;
  if (onOpen && value > 0)
    return (
      <UnstyledButton
        className={`${look} ${classes.opens} ${classes.button}`}
        aria-label={label && `${count(value)} ${label}`}
        onClick={onOpen}
      >
        {count(value)}
      </UnstyledButton>
    );
  if (!to || value === 0) return <span className={look}>{count(value)}</span>;
  return (
    <Link
      className={`${look} ${classes.opens}`}
      to={to}
      aria-label={label && `${count(value)} ${label}`}
    >
      {count(value)}
    </Link>
  );
}

/** Words with people behind them. */
export function Opens({ to, children }: { readonly to: string; readonly children: ReactNode }) {
  return (
    <Link className={classes.opens} to={to}>
      {children}
    </Link>
  );
}

export interface SumLine {
  readonly label: ReactNode;
  readonly value: number;
  readonly to?: string;
  readonly kind?: 'less' | 'total';
}

/** A calculation read from top to bottom. */
export function Sum({
  lines,
  label,
}: {
  readonly lines: readonly SumLine[];
  readonly label: string;
}) {
  return (
    <table className={classes.sum} aria-label={label}>
      <tbody>
        {lines.map((line, at) => (
          <tr key={at} className={line.kind && classes[line.kind]}>
            <td>
              {line.kind === 'less' && '– '}
              {line.label}
            </td>
            <td>
              <Num value={line.value} to={line.to} />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** How much of a whole, from 0 to 100; what is there at all is seen. */
const share = (value: number, of: number): number =>
  of === 0 ? 0 : Math.max(value > 0 ? 0.6 : 0, (100 * value) / of);

export function Bar({
  value,
  of,
  accent,
  bare,
}: {
  readonly value: number;
  readonly of: number;
  readonly accent?: boolean;
  readonly bare?: boolean;
}) {
  return (
    <span className={`${classes.bar} ${accent ? classes.accent : ''} ${bare ? classes.bare : ''}`}>
      <i style={{ width: `${share(value, of)}%` }} />
    </span>
  );
}

export function Measure({
  label,
  value,
  of,
  to,
  accent,
  number,
}: {
  readonly label: ReactNode;
  readonly value: number;
  readonly of: number;
  readonly to?: string;
  readonly accent?: boolean;
  /** In place of a number that opens. */
  readonly number?: ReactNode;
}) {
  return (
    <div className={classes.measure}>
      <div className={classes.line}>
        <span>{label}</span>
        {number ?? <Num value={value} to={to} />}
      </div>
      <Bar value={value} of={of} accent={accent} />
    </div>
  );
}

/** Figures side by side, each with what it is of. */
export function Figures({
  figures,
}: {
  readonly figures: readonly {
    readonly value: number;
    readonly to?: string;
    readonly label: ReactNode;
    readonly note?: ReactNode;
  }[];
}) {
  return (
    <div className={classes.figures} role="group" aria-label="Figures">
      {figures.map(({ value, to, label, note }, at) => (
        <span key={at}>
          <Num value={value} to={to} large />
          <small>{label}</small>
          {note && <small>{note}</small>}
        </span>
      ))}
    </div>
  );
}

/** How far long work is: parts of a whole, the second kind in the cautionary colour. */
export function Progressing({
  label,
  done,
  failed = 0,
  of,
}: {
  readonly label: string;
  readonly done: number;
  readonly failed?: number;
  readonly of: number;
}) {
  const whole = Math.max(of, 1);
  return (
    <div
      className={classes.progress}
      role="progressbar"
      aria-label={label}
      aria-valuemin={0}
      aria-valuemax={whole}
      aria-valuenow={done + failed}
    >
      <i style={{ width: `${(100 * done) / whole}%` }} />
      <i className={classes.caution} style={{ width: `${(100 * failed) / whole}%` }} />
    </div>
  );
}

/** A figure's past as a small curve; read out by its words. */
export function Spark({
  points,
  label,
  most = Math.max(1, ...points),
}: {
  readonly points: readonly number[];
  readonly label: string;
  /** What the full height stands for; the highest point, without it. */
  readonly most?: number;
}) {
  const step = 100 / Math.max(points.length - 1, 1);
  const line = points.map((value, at) => `${at * step},${26 - (24 * value) / most}`).join(' ');
  return (
    <svg
      className={classes.spark}
      viewBox="0 0 100 28"
      preserveAspectRatio="none"
      role="img"
      aria-label={label}
    >
      <polyline points={line} vectorEffect="non-scaling-stroke" />
    </svg>
  );
}
