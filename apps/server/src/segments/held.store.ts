// For whom conditions hold, as sets of keys.
import { KeySet } from '@palabra/core/segments';
import { sql, type SQL } from 'drizzle-orm';
import { PgDialect } from 'drizzle-orm/pg-core';
import { contacts } from '../contacts/people/people.table.js';
import { execute, type Db } from '../platform/database.js';
import { counted, courseColumns, type Counted } from '../platform/writes.store.js';
import type { Stretch } from './rule.store.js';

const dialect = new PgDialect({ casing: 'snake_case' });
const named = (names: readonly string[]): RegExp => new RegExp(`\\b(${names.join('|')})\\b`);
/** Whether a condition asks a table, by the names in it. */
const asks: { readonly [T in Counted]: RegExp } = {
  ...(Object.fromEntries(counted.map((table) => [table, named([table])])) as Record<
    Counted,
    RegExp
  >),
  contacts: /^/,
  contact_courses: named(courseColumns),
};
const BY_THE_CLOCK = /\b(now\(\)|current_)/;

/** What says in full what a condition on `contacts c` asks. */
export interface Asking {
  readonly text: string;
  readonly tables: readonly Counted[];
  /** Whether its answer changes with time alone. */
  readonly isByTheClock: boolean;
}

export function askingOf(condition: SQL): Asking {
  const { sql: text, params } = dialect.sqlToQuery(condition);
  return {
    text: JSON.stringify([text, params]),
    tables: counted.filter((table) => asks[table].test(text)),
    isByTheClock: BY_THE_CLOCK.test(text),
  };
}

export const wordsFor = (lastKey: number): Int32Array => new Int32Array((lastKey >>> 5) + 1);

const stretchOf = (within: Stretch | undefined): SQL =>
  within ? sql`c.id > ${within.after} and c.id <= ${within.upTo}` : sql`true`;

export interface Filled {
  readonly condition: SQL;
  /** What finds them, or all but them, without a look at contacts. */
  readonly query?: { readonly sql: SQL; readonly isNot: boolean } | undefined;
  /** Of the condition’s set; keys behind their end are left out. */
  readonly words: Int32Array;
}

/** Sets the bits of those for whom conditions hold, of all or of a stretch of keys; and of keys that are nobody’s any more. */
export async function fillHeld(db: Db, sets: readonly Filled[], within?: Stretch): Promise<void> {
  const [only, ...others] = sets;
  if (!only) return;
  const columns = sets.map((_, at) => sql.raw(`held${at}`));
  // One condition finds its people in its own way; several are asked of everybody in one look. “offset 0” keeps the
  // planner from writing a condition out twice.
  const query = others.length === 0 && !within ? only.query : undefined;
  const asked = query
    ? sql`select q.contact_id as id, true as held0 from (${query.sql}) q`
    : others.length === 0
      ? sql`select c.id, true as held0 from ${contacts} c where ${stretchOf(within)} and ${only.condition}`
      : sql`select c.id, ${sql.join(
          sets.map(({ condition }, at) => sql`${condition} as ${columns[at]}`),
          sql`, `,
        )} from ${contacts} c where ${stretchOf(within)} offset 0`;
  // As bytes, keys cost next to nothing beside finding them; gathered into words there, they cost half as much again.
  const { rows } = await execute<Record<string, Buffer | null>>(
    db,
    sql`select ${sql.join(
      columns.map(
        (name) => sql`string_agg(int4send(c.id), ''::bytea) filter (where ${name}) as ${name}`,
      ),
      sql`, `,
    )} from (${asked}) c`,
  );
  for (const [at, { words }] of sets.entries()) {
    const keys = rows[0]?.[`held${at}`];
    for (let byte = 0; keys && byte < keys.length; byte += 4) {
      const key = keys.readInt32BE(byte);
      const place = key >>> 5;
      if (place < words.length) words[place] = (words[place] ?? 0) | (1 << key);
    }
  }
  if (query?.isNot)
    for (let at = 0; at < only.words.length; at++) only.words[at] = ~(only.words[at] ?? 0);
}

/** So few keys are named one by one. */
const FEW = 500;

/** Those of a set: a condition on `contacts c`. */
export function inSet(keys: KeySet, few = FEW): SQL {
  if (keys.size <= few) return sql`c.id = any(${sql.param([...keys])}::int[])`;
  const bytes = Buffer.from(keys.words.buffer, keys.words.byteOffset, keys.words.byteLength);
  return sql`(case when c.id < ${keys.words.length * 32} then get_bit(${sql.param(bytes)}::bytea, c.id) = 1 else false end)`;
}
