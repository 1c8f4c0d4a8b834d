// Files of one shape: the same columns by name, whatever their order of rows. What was said once about one is said for the
// next.
import { searchKey } from '../contacts/index.js';
import type { Target } from './columns.js';

/** The column that is written behind a file's own, to say what is wrong with a row; brought again, it fills nothing. */
export const WRONG_COLUMN = 'what is wrong';

/** What one column was said to fill: columns of one name are told apart by their place among each other. */
export interface KnownColumn {
  readonly name: string;
  readonly nth: number;
  readonly target: Target;
}

function named(headers: readonly string[]): { readonly name: string; readonly nth: number }[] {
  const seen = new Map<string, number>();
  return headers.map((header) => {
    const name = searchKey(header);
    const nth = seen.get(name) ?? 0;
    seen.set(name, nth + 1);
    return { name, nth };
  });
}

/** A text that files of one shape share; undefined where no column has a name. */
export function shapeText(headers: readonly string[]): string | undefined {
  const names = headers.map(searchKey).filter((name) => name !== '' && name !== WRONG_COLUMN);
  return names.length === 0 ? undefined : JSON.stringify([...names].sort());
}

export const knownColumns = (
  headers: readonly string[],
  mapping: readonly Target[],
): KnownColumn[] =>
  named(headers).map((column, at) => ({ ...column, target: mapping[at] ?? { to: 'nothing' } }));

/** What the columns of a file fill, as it was said of one of its shape; a field that is gone is filled by none. */
export function mappingFrom(
  headers: readonly string[],
  known: readonly KnownColumn[],
  isThere: (field: string) => boolean,
): Target[] {
  return named(headers).map(({ name, nth }): Target => {
    const target = known.find((one) => one.name === name && one.nth === nth)?.target;
    return target && (target.to !== 'field' || isThere(target.field)) ? target : { to: 'nothing' };
  });
}
