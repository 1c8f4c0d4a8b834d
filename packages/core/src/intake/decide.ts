// What the rows of a file do to people: somebody new, somebody changed, nobody changed, or refused. Somebody who is on
// several rows is one person: their first row counts, and what the later ones say comes on top.
import {
  permissionValues,
  type ContactId,
  type FieldValue,
  type PermissionKind,
  type PermissionTerms,
} from '../contacts/index.js';
import type { Result } from '../kernel/index.js';
import type { RowOutcome } from './outcomes.js';
import { raisesPermission, type ImportedRow } from './row.js';

/** Whoever has an address already. */
export interface KnownPerson {
  readonly id: ContactId;
  readonly permission: PermissionKind;
  /** One whom this import may not change. */
  readonly isElsewhere: boolean;
  /** What an earlier row of the file did to them. */
  readonly earlier: RowOutcome | undefined;
  readonly value: (field: string) => FieldValue;
}

export interface ReadRow {
  readonly row: number;
  readonly read: Result<ImportedRow, string>;
}

type DecidedValues = Readonly<Record<string, FieldValue>>;

/** One person of the file who is new, or may be changed. */
export interface DecidedPerson {
  /** Undefined for somebody new. */
  readonly known: KnownPerson | undefined;
  /** All that is known of somebody new; of others only what differs. */
  readonly values: DecidedValues;
  /** What their first row counts as; each further one is `again`. */
  readonly outcome: Extract<RowOutcome, 'new' | 'changed' | 'unchanged' | 'again'>;
  readonly rows: readonly number[];
  /** An earlier row counted them as unchanged, and this one changes them. */
  readonly isChangedAfterAll: boolean;
}

/** A row that changes nobody. */
export type IdleRow =
  | { readonly row: number; readonly outcome: 'refused'; readonly reason: string }
  | { readonly row: number; readonly outcome: 'elsewhere'; readonly person: ContactId }
  /** A further row of somebody elsewhere: nobody is named twice. */
  | { readonly row: number; readonly outcome: 'again' };

export interface DecidedRows {
  readonly people: readonly DecidedPerson[];
  readonly idle: readonly IdleRow[];
}

/** `known` by address key. */
export function decideRows(
  rows: readonly ReadRow[],
  known: ReadonlyMap<string, KnownPerson>,
  terms: PermissionTerms,
): DecidedRows {
  const idle: IdleRow[] = [];
  const elsewhere = new Set<ContactId>();
  const merged = new Map<
    string,
    { known: KnownPerson | undefined; values: DecidedValues; rows: number[] }
  >();
  for (const { row, read } of rows) {
    if (!read.ok) {
      idle.push({ row, outcome: 'refused', reason: read.error });
      continue;
    }
    const { address, values } = read.value;
    const person = known.get(address.key);
    if (person?.isElsewhere) {
      const isFirst = person.earlier === undefined && !elsewhere.has(person.id);
      elsewhere.add(person.id);
      idle.push(
        isFirst ? { row, outcome: 'elsewhere', person: person.id } : { row, outcome: 'again' },
      );
      continue;
    }
    const one = merged.get(address.key) ?? {
      known: person,
      values: person ? {} : { address: address.address },
      rows: [],
    };
    one.rows.push(row);
    const rises = !person || raisesPermission(person.permission, terms.permission);
    one.values = { ...one.values, ...values, ...(rises ? permissionValues(terms) : {}) };
    merged.set(address.key, one);
  }
  return { people: [...merged.values()].map(decided), idle };
}

function decided(one: {
  readonly known: KnownPerson | undefined;
  readonly values: DecidedValues;
  readonly rows: readonly number[];
}): DecidedPerson {
  const { known, rows } = one;
  if (!known) return { ...one, outcome: 'new', isChangedAfterAll: false };
  const values = Object.fromEntries(
    Object.entries(one.values).filter(([key, value]) => known.value(key) !== value),
  );
  const changes = Object.keys(values).length > 0;
  return {
    known,
    values,
    rows,
    outcome: known.earlier ? 'again' : changes ? 'changed' : 'unchanged',
    isChangedAfterAll: changes && known.earlier === 'unchanged',
  };
}

/** How many rows count as what. */
export function countOutcomes(
  outcomes: Iterable<RowOutcome>,
): Readonly<Record<RowOutcome, number>> {
  const counts = { new: 0, changed: 0, unchanged: 0, refused: 0, elsewhere: 0, again: 0 };
  for (const outcome of outcomes) counts[outcome]++;
  return counts;
}
