import type { FilterKey, Rule } from '@palabra/core/segments';
import { eq, lt } from 'drizzle-orm';
import type { Db } from '../platform/database.js';
import { filters } from './segments.table.js';

const DAY = 86_400_000;

/** Keeps a rule, or finds it again. */
export async function keepFilter(db: Db, key: FilterKey, rule: Rule, now: Date): Promise<void> {
  if (await filterBy(db, key, now)) return;
  await db.insert(filters).values({ key, rule, usedAt: now }).onConflictDoNothing();
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
