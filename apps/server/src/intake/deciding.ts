// What the rows of a file would do, or do: the same for the look beforehand and for the import itself.
import { Injectable } from '@nestjs/common';
import {
  beginning,
  parseFieldValue,
  searchKey,
  tagKey,
  type ContactId,
  type Field,
  type FieldValue,
  type TagId,
} from '@palabra/core/contacts';
import {
  decideRows,
  furtherOf,
  mended,
  numberOf,
  problem,
  readRow,
  type DecidedRows,
  type ImportedRow,
  type KnownPerson,
  type ReadRow,
  type RowOutcome,
  type RowProblem,
  type Target,
} from '@palabra/core/intake';
import { fail } from '@palabra/core/kernel';
import { seesEverybody, type UserId, type Viewer } from '@palabra/core/office';
import {
  claimsOf,
  contactsByAddress,
  holdersOfNumbers,
  keptFromMail,
  livingContacts,
  lockContacts,
  sees,
  standardValues,
  tagsOf,
  valueOf,
  type ContactRow,
  type LockedContact,
} from '../contacts/index.js';
import type { Db } from '../platform/database.js';
import { Keys } from '../platform/keys.js';
import { allUsers, userById } from '../platform/sign-in/sign-in.store.js';
import type { Line } from './files.js';
import type { Import } from './intake.store.js';
import { WAS_ERASED } from './personal.js';

export type Fields = ReadonlyMap<string, Field>;

/** What is the same for all rows of a file. */
export interface Said {
  readonly fields: Fields;
  /** Who brings it. */
  readonly viewer: Viewer | undefined;
  readonly owners: ReadonlyMap<string, UserId>;
  readonly standard: Readonly<Record<string, FieldValue>>;
}

/** What earlier rows did to people, by their keys. */
export type Earlier = (ids: readonly ContactId[]) => Promise<ReadonlyMap<ContactId, RowOutcome>>;

/** People of earlier rows who are not there yet, by the keys of their addresses and numbers. */
export interface Coming {
  readonly at: (addressKey: string) => KnownPerson | undefined;
  readonly numbered: (key: string) => KnownPerson | undefined;
}

export interface Decided extends DecidedRows {
  readonly read: readonly ReadRow[];
  /** Whoever is known, by their keys. */
  readonly there: ReadonlyMap<ContactId, LockedContact>;
}

@Injectable()
export class Deciding {
  constructor(private readonly keys: Keys) {}

  async said(db: Db, current: Import, fields: Fields): Promise<Said> {
    const user = await userById(db, current.userId);
    const viewer = user && { userId: user.id, role: user.role };
    const users = await allUsers(db);
    const owners = new Map<string, UserId>();
    for (const { id, name, address, closedAt } of users) {
      if (closedAt !== null) continue;
      owners.set(searchKey(name), id);
      if (address) owners.set(searchKey(address), id);
    }
    for (const { name, userId } of current.owners) owners.set(searchKey(name), userId);
    const fixed: [string, FieldValue][] = Object.entries(current.fixed).flatMap(([key, text]) => {
      const field = fields.get(key);
      const read = field && parseFieldValue(field, text);
      return read?.ok && read.value !== null ? [[key, read.value]] : [];
    });
    return {
      fields,
      viewer,
      owners: viewer && seesEverybody(viewer.role) ? owners : new Map(),
      standard: { ...standardValues(fields), ...Object.fromEntries(fixed) },
    };
  }

  /** The rows as they were mended, read; those of who was erased are refused. And whose address is on do not mail. */
  async read(
    db: Db,
    { mapping, matching }: Import,
    lines: readonly Line[],
    { fields }: Said,
  ): Promise<{ readonly read: readonly ReadRow[]; readonly kept: ReadonlySet<string> }> {
    const read = lines.map(({ row, cells, mend }): ReadRow => ({
      row,
      read: readRow(mend ? mended(cells, mend) : cells, mapping, fields, matching),
    }));
    const hashes = new Map(
      valuesOf(read)
        .flatMap(keysOf)
        .map((key) => [this.keys.addressHash(key).toString('hex'), key]),
    );
    const [erased, kept] = [new Set<string>(), new Set<string>()];
    for (const [hash, reason] of await keptFromMail(db, [...hashes.keys()]))
      (reason === 'erased' ? erased : kept).add(hashes.get(hash) ?? '');
    return { read: withoutErased(read, erased), kept };
  }

  /** What they do. `lock`: to the people as they stay until the transaction ends. */
  async decide(
    db: Db,
    current: Import,
    read: readonly ReadRow[],
    said: Said,
    more: {
      readonly lock: boolean;
      readonly lines: readonly Line[];
      readonly named: ReadonlyMap<string, TagId>;
      readonly earlier: Earlier;
      readonly coming?: Coming;
    },
  ): Promise<Decided> {
    const rows = valuesOf(read);
    const keys = [...new Set(rows.flatMap(keysOf))];
    const numberKeys = [...new Set(rows.flatMap(({ values }) => numberOf(values) ?? []))];
    const byAddress = await contactsByAddress(db, current.poolId, keys);
    const holders = await holdersOfNumbers(db, current.poolId, numberKeys);
    const meant = more.lines.flatMap(({ mend }) => (mend?.person ? [mend.person] : []));
    const known = new Set(byAddress.map(({ id }) => id));
    const others = [...new Set([...holders.values(), ...meant])].filter((id) => !known.has(id));
    const there: readonly ContactRow[] = more.lock
      ? await lockContacts(db, [...known, ...others])
      : [...byAddress, ...(others.length === 0 ? [] : await livingContacts(db, others))];
    const people = await this.known(db, current, there, said, more.earlier);
    const addresses = new Map<string, KnownPerson>();
    for (const row of there) {
      const person = people.get(row.id);
      if (person && row.poolId === current.poolId)
        for (const key of claimsOf(row).addressKeys) addresses.set(key, person);
    }
    const numbers = new Map<string, KnownPerson>();
    for (const key of numberKeys) {
      const person = people.get(holders.get(key) ?? (0 as ContactId)) ?? more.coming?.numbered(key);
      if (person) numbers.set(key, person);
    }
    for (const key of keys) {
      const coming = addresses.has(key) ? undefined : more.coming?.at(key);
      if (coming) addresses.set(key, coming);
    }
    const mends = new Map(more.lines.map(({ row, mend }) => [row, mend]));
    const withMeant = read.map((one): ReadRow => {
      const id = mends.get(one.row)?.person;
      const person = id ? people.get(id) : undefined;
      const row = id ? there.find((own) => own.id === id) : undefined;
      return person && !person.isElsewhere && row?.poolId === current.poolId
        ? { ...one, person }
        : one;
    });
    const decided = decideRows(withMeant, addresses, {
      mapping: current.mapping,
      matching: current.matching,
      fields: said.fields,
      permission: {
        permission: current.permission,
        at: current.permissionAt?.toISOString() ?? null,
        source: current.permissionSource,
        wording: current.permissionWording,
      },
      standard: said.standard,
      numbers,
      tags: current.tagIds,
      named: more.named,
      owners: said.owners,
    });
    return {
      ...decided,
      read,
      // Only locked ones are written over.
      there: new Map(there.map((row) => [row.id, row as LockedContact])),
    };
  }

  /** Whoever is there already, as the decision sees them. */
  private async known(
    db: Db,
    current: Import,
    there: readonly ContactRow[],
    { viewer }: Said,
    earlier: Earlier,
  ): Promise<Map<ContactId, KnownPerson>> {
    const ids = there.map(({ id }) => id);
    const before = await earlier(ids);
    const tags = await tagsOf(db, ids);
    return new Map(
      there.map((row): [ContactId, KnownPerson] => [
        row.id,
        {
          id: row.id,
          permission: row.permission,
          isElsewhere: !viewer || !sees(viewer, row),
          earlier: before.get(row.id),
          value: (field) => valueOf(row, field),
          hasTag: (tag) => tags.get(row.id)?.includes(tag) === true,
        },
      ]),
    );
  }
}

export const valuesOf = (rows: readonly ReadRow[]): ImportedRow[] =>
  rows.flatMap(({ read }) => (read.ok ? [read.value] : []));

/** The addresses of a row, by their keys. */
export const keysOf = ({ address, values }: ImportedRow): string[] => [
  ...(address ? [address.key] : []),
  ...furtherOf(values).map(([key]) => key),
];

/** A name in a column of owners that is nobody's; undefined where there is none. */
export function strayOwner(
  { owner }: ImportedRow,
  mapping: readonly Target[],
  { owners }: Said,
): RowProblem | undefined {
  const at = mapping.findIndex(({ to }) => to === 'owner');
  return at < 0 || owner === '' || owners.has(searchKey(owner))
    ? undefined
    : problem('doubt', at, `nobody of the office is called “${beginning(owner, 60)}”`);
}

/** A column of names taken for tags would make thousands. */
export const MOST_TAGS_MADE = 100;
export const SET_BY_ITSELF = 'is set by itself, and was not put on';
export const TOO_MANY_TAGS = `was not put on: the file names more than ${MOST_TAGS_MADE} new tags`;

/** Names of tags, as they are written first, by their keys. */
export function tagsAsked(rows: readonly ImportedRow[]): Map<string, string> {
  const asked = new Map<string, string>();
  for (const name of rows.flatMap(({ tags }) => tags))
    if (!asked.has(tagKey(name))) asked.set(tagKey(name), name);
  return asked;
}

/** Rows that name an address whose owner asked to be erased are refused. */
const withoutErased = (rows: readonly ReadRow[], erased: ReadonlySet<string>): ReadRow[] =>
  erased.size === 0
    ? [...rows]
    : rows.map((one) =>
        one.read.ok && keysOf(one.read.value).some((key) => erased.has(key))
          ? { row: one.row, read: fail(problem('refused', null, WAS_ERASED)) }
          : one,
      );
