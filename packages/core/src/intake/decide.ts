// What the rows of a file do to people: somebody new, somebody changed, nobody changed, or refused. Somebody who is on
// several rows is one person: their first row counts, and what the later ones say comes on top.
import {
  lines,
  parseAddress,
  permissionValues,
  searchKey,
  tagKey,
  type ContactId,
  type Field,
  type FieldValue,
  type PermissionKind,
  type PermissionTerms,
  type TagId,
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
  readonly hasTag: (tag: TagId) => boolean;
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
  /** All that their rows name, and those that everybody gets. */
  readonly tags: readonly TagId[];
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

/** What the office says of somebody new, and who has which external number, by its key. */
export interface Terms {
  readonly permission: PermissionTerms;
  readonly standard: DecidedValues;
  readonly required: readonly Field[];
  readonly numbers: ReadonlyMap<string, ContactId>;
  /** What everybody gets, and the tags that rows name, by their keys; one that is not there is put on nobody. */
  readonly tags: readonly TagId[];
  readonly named: ReadonlyMap<string, TagId>;
}

/** `known` by the keys of their addresses, first and further ones. */
export function decideRows(
  rows: readonly ReadRow[],
  known: ReadonlyMap<string, KnownPerson>,
  { permission: terms, standard, required, numbers, tags, named }: Terms,
): DecidedRows {
  const idle: IdleRow[] = [];
  const elsewhere = new Set<ContactId>();
  const claims = new Claims(known, numbers);
  const merged = new Map<
    string,
    {
      known: KnownPerson | undefined;
      values: DecidedValues;
      tags: Set<TagId>;
      rows: number[];
    }
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
    const who = claims.whoHas(address.key) ?? address.key;
    const one = merged.get(who) ?? {
      known: person,
      values: person ? {} : { ...standard, address: address.address },
      tags: new Set(tags),
      rows: [],
    };
    const rises = !person || raisesPermission(person.permission, terms.permission);
    const next = { ...one.values, ...values, ...(rises ? permissionValues(terms) : {}) };
    const lacks = person ? undefined : required.find(({ key }) => (next[key] ?? null) === null);
    const reason = claims.problem(who, values) ?? (lacks && `${lacks.label} is required`);
    if (reason !== undefined) {
      idle.push({ row, outcome: 'refused', reason });
      continue;
    }
    claims.claim(who, address.key, values);
    one.rows.push(row);
    for (const name of read.value.tags) {
      const tag = named.get(tagKey(name));
      if (tag !== undefined) one.tags.add(tag);
    }
    one.values = next;
    merged.set(who, one);
  }
  return { people: [...merged.values()].map(decided), idle };
}

/** One address, and one external number, is one person's: of those who are there, and of those who come in. */
class Claims {
  private readonly claimed = new Map<string, string>();

  constructor(
    private readonly known: ReadonlyMap<string, KnownPerson>,
    private readonly numbers: ReadonlyMap<string, ContactId>,
  ) {}

  /** The name of whoever has an address. */
  whoHas(addressKey: string): string | undefined {
    const person = this.known.get(addressKey);
    return person ? nameOf(person.id) : this.claimed.get(addressKey);
  }

  private hasNumber(key: string): string | undefined {
    const id = this.numbers.get(key);
    return id === undefined ? this.claimed.get(numbered(key)) : nameOf(id);
  }

  problem(who: string, values: DecidedValues): string | undefined {
    for (const [key, address] of furtherOf(values)) {
      const other = this.whoHas(key);
      if (other !== undefined && other !== who) return `“${address}” is somebody else’s address`;
    }
    const number = numberOf(values);
    const other = number === undefined ? undefined : this.hasNumber(number);
    return other !== undefined && other !== who
      ? `external number “${String(values['external_number'])}” is somebody else’s`
      : undefined;
  }

  claim(who: string, addressKey: string, values: DecidedValues): void {
    this.claimed.set(addressKey, who);
    for (const [key] of furtherOf(values)) this.claimed.set(key, who);
    const number = numberOf(values);
    if (number !== undefined) this.claimed.set(numbered(number), who);
  }
}

/** No address has a blank before its domain, and no name of somebody new is one of these. */
const nameOf = (id: ContactId): string => `person ${id}`;
const numbered = (key: string): string => `number ${key}`;

/** Further addresses of a row, by their keys. */
export const furtherOf = (values: DecidedValues): [key: string, address: string][] =>
  lines(String(values['more_addresses'] ?? '')).flatMap((line) => {
    const parsed = parseAddress(line);
    return parsed.ok ? [[parsed.value.key, line]] : [];
  });

/** The key of the external number of a row. */
export function numberOf(values: DecidedValues): string | undefined {
  const number = values['external_number'];
  return typeof number === 'string' ? searchKey(number) : undefined;
}

function decided(one: {
  readonly known: KnownPerson | undefined;
  readonly values: DecidedValues;
  readonly tags: ReadonlySet<TagId>;
  readonly rows: readonly number[];
}): DecidedPerson {
  const { known, rows } = one;
  const tags = [...one.tags];
  if (!known) return { ...one, tags, outcome: 'new', isChangedAfterAll: false };
  const values = Object.fromEntries(
    Object.entries(one.values).filter(([key, value]) => known.value(key) !== value),
  );
  const changes = Object.keys(values).length > 0 || tags.some((tag) => !known.hasTag(tag));
  return {
    known,
    values,
    tags,
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
