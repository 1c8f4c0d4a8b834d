// For whom conditions hold, as sets of keys.
import { KeySet } from '@palabra/core/segments';
import { sql, type SQL } from 'drizzle-orm';
import { PgDialect } from 'drizzle-orm/pg-core';
import { contacts } from '../contacts/people/people.table.js';
import { execute, type Db } from '../platform/database.js';
import { counted, type Counted } from '../platform/writes.store.js';
import type { Stretch } from './rule.store.js';

const dialect = new PgDialect({ casing: 'snake_case' });
const words = new Map(counted.map((table) => [table, new RegExp(`\\b${table}\\b`)]));
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
    tables: counted.filter((table) => table === 'contacts' || words.get(table)?.test(text)),
    isByTheClock: BY_THE_CLOCK.test(text),
  };
}

export const wordsFor = (lastKey: number): Int32Array => new Int32Array((lastKey >>> 5) + 1);

const bit = sql.raw('1 << (c.id & 31)');
const stretchOf = (within: Stretch | undefined): SQL =>
  within ? sql`c.id > ${within.after} and c.id <= ${within.upTo}` : sql`true`;

/**
 * Sets the bits of those for whom conditions hold, deleted ones too, of all or of a stretch of keys.
 * @param into The words of each condition's set; keys behind their end are left out.
 */
export async function fillHeld(
  db: Db,
  conditions: readonly SQL[],
  into: readonly Int32Array[],
  within?: Stretch,
): Promise<void> {
  const [only, ...others] = conditions;
  if (!only) return;
  const column = (at: number): SQL => sql.raw(`b${at}`);
  const columns = conditions.map((_, at) => column(at));
  // One condition finds its people in its own way; several are asked of everybody in one look. “offset 0” keeps the
  // planner from writing a condition out twice.
  const asked =
    others.length === 0
      ? sql`select c.id, ${bit} as b0 from ${contacts} c where ${stretchOf(within)} and ${only}`
      : sql`select c.id, ${sql.join(
          conditions.map(
            (one, at) => sql`case when ${one} then ${bit} else 0 end as ${column(at)}`,
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
  into.forEach((set, at) => {
    const bits = rows[0]?.[`b${at}`] ?? [];
    // Two stretches may share a word.
    places.forEach((place, nth) => {
      if (place < set.length) set[place] = (set[place] ?? 0) | (bits[nth] ?? 0);
    });
  });
}

/** So few keys are named one by one. */
const FEW = 500;

/** Those of a set: a condition on `contacts c`. */
export function inSet(keys: KeySet, few = FEW): SQL {
  if (keys.size <= few) return sql`c.id = any(${sql.param([...keys])}::int[])`;
  const bytes = Buffer.from(keys.words.buffer, keys.words.byteOffset, keys.words.byteLength);
  return sql`(case when c.id < ${keys.words.length * 32} then get_bit(${sql.param(bytes)}::bytea, c.id) = 1 else false end)`;
}
