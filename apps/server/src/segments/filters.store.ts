import { createHash } from 'node:crypto';
import type { FilterKey, Rule } from '@palabra/core/segments';
import { eq, lt } from 'drizzle-orm';
import type { Db } from '../platform/database.js';
import { filters } from './segments.table.js';

const SIGNS = 24;
const DAY = 86_400_000;

/** Keeps a rule, or finds it again; the same rule has the same key. */
export async function keepFilter(db: Db, rule: Rule, now: Date): Promise<FilterKey> {
  const key = createHash('sha256').update(JSON.stringify(rule)).digest('hex').slice(0, SIGNS);
  await db
    .insert(filters)
    .values({ key, rule, usedAt: now })
    .onConflictDoUpdate({ target: filters.key, set: { usedAt: now } });
  return key;
}

/** A filter that is looked at lives on. */
export async function filterBy(db: Db, key: FilterKey, now: Date): Promise<Rule | undefined> {
  const [row] = await db.select().from(filters).where(eq(filters.key, key));
  if (row && now.getTime() - row.usedAt.getTime() > DAY)
    await db.update(filters).set({ usedAt: now }).where(eq(filters.key, key));
  return row?.rule;
}

/** Filters that nobody looked at since then are forgotten. */
export const forgetFilters = async (db: Db, before: Date): Promise<void> => {
  await db.delete(filters).where(lt(filters.usedAt, before));
};
