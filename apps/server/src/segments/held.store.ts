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

const bit = sql.raw('1 << (c.id & 31)');
const stretchOf = (within: Stretch | undefined): SQL =>
  within ? sql`c.id > ${within.after} and c.id <= ${within.upTo}` : sql`true`;

export interface Filled {
  readonly condition: SQL;
  /** Of the condition’s set; keys behind their end are left out. */
  readonly words: Int32Array;
}

/** Sets the bits of those for whom conditions hold, deleted ones too, of all or of a stretch of keys. */
export async function fillHeld(db: Db, sets: readonly Filled[], within?: Stretch): Promise<void> {
  const [only, ...others] = sets;
  if (!only) return;
  const columns = sets.map((_, at) => sql.raw(`b${at}`));
  // One condition finds its people in its own way; several are asked of everybody in one look. “offset 0” keeps the
  // planner from writing a condition out twice.
  const asked =
    others.length === 0
      ? sql`select c.id, ${bit} as b0 from ${contacts} c where ${stretchOf(within)} and ${only.condition}`
      : sql`select c.id, ${sql.join(
          sets.map(
            ({ condition }, at) =>
              sql`case when ${condition} then ${bit} else 0 end as ${columns[at]}`,
          ),
          sql`, `,
        )} from ${contacts} c where ${stretchOf(within)} offset 0`;
  const { rows } = await execute<Record<string, number[] | null>>(
    db,
    sql`select array_agg(word) as words, ${sql.join(
      columns.map((name) => sql`array_agg(${name}) as ${name}`),
      sql`, `,
    )} from (select c.id >> 5 as word, ${sql.join(
      columns.map((name) => sql`bit_or(${name}) as ${name}`),
      sql`, `,
    )} from (${asked}) c group by c.id >> 5) held`,
  );
  const places = rows[0]?.['words'] ?? [];
  for (const [at, { words }] of sets.entries()) {
    const bits = rows[0]?.[`b${at}`] ?? [];
    // Two stretches may share a word.
    for (const [nth, place] of places.entries())
      if (place < words.length) words[place] = (words[place] ?? 0) | (bits[nth] ?? 0);
  }
}

/** So few keys are named one by one. */
const FEW = 500;

/** Those of a set: a condition on `contacts c`. */
export function inSet(keys: KeySet, few = FEW): SQL {
  if (keys.size <= few) return sql`c.id = any(${sql.param([...keys])}::int[])`;
  const bytes = Buffer.from(keys.words.buffer, keys.words.byteOffset, keys.words.byteLength);
  return sql`(case when c.id < ${keys.words.length * 32} then get_bit(${sql.param(bytes)}::bytea, c.id) = 1 else false end)`;
}
