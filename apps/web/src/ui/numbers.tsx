// Numbers that open, sums, and bars beside them.
import type { PeopleName } from '@palabra/core/contacts';
import type { ReactNode } from 'react';
import { Link } from 'react-router';

export const count = (value: number): string => value.toLocaleString('en');

/** A number with people behind it; nobody behind it means nothing to open. */
export function Num({
  value,
  to,
  label,
}: {
  readonly value: number;
  readonly to?: string;
  readonly label?: string;
}) {
  if (!to || value === 0) return <span className="num plain">{count(value)}</span>;
  return (
    <Link className="num" to={to} aria-label={label && `${count(value)} ${label}`}>
      {count(value)}
    </Link>
  );
}

export const peoplePath = (of: PeopleName): string => `/contacts?of=${encodeURIComponent(of)}`;

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
    <table className="sum" aria-label={label}>
      <tbody>
        {lines.map((line, at) => (
          <tr key={at} className={line.kind}>
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

export function Measure({
  label,
  value,
  of,
  to,
  accent,
}: {
  readonly label: ReactNode;
  readonly value: number;
  readonly of: number;
  readonly to?: string;
  readonly accent?: boolean;
}) {
  return (
    <div className="measure">
      <div className="measure-line">
        <span>{label}</span>
        <Num value={value} to={to} />
      </div>
      <span className={`measure-bar ${accent ? 'accent' : ''}`}>
        <i
          style={{ width: `${of === 0 ? 0 : Math.max(value > 0 ? 0.6 : 0, (100 * value) / of)}%` }}
        />
      </span>
    </div>
  );
}
