import { and, asc, eq, isNotNull, sql } from 'drizzle-orm';
import { execute, type Db } from './database.js';
import { standstills } from './standstill.table.js';

export type Standstill = typeof standstills.$inferSelect;

/** Writes one failure down; returns how often it was the same in a row. */
export async function noteFailure(
  db: Db,
  work: string,
  thing: number,
  reason: string,
): Promise<number> {
  const { rows } = await execute<{ failures: number }>(
    db,
    sql`
    insert into standstills (work, thing, reason, failures) values (${work}, ${thing}, ${reason}, 1)
    on conflict (work, thing) do update set failures = case when standstills.reason = excluded.reason then standstills.failures + 1 else 1 end, reason = excluded.reason
    returning failures`,
  );
  return rows[0]?.failures ?? 1;
}

const one = (work: string, thing: number) =>
  and(eq(standstills.work, work), eq(standstills.thing, thing));

export const stopFailing = async (
  db: Db,
  work: string,
  thing: number,
  what: string,
  at: Date,
): Promise<void> => {
  await db.update(standstills).set({ what, stoppedAt: at }).where(one(work, thing));
};

/** False when there was nothing to forget. */
export async function forgetFailures(db: Db, work: string, thing: number): Promise<boolean> {
  const rows = await db
    .delete(standstills)
    .where(one(work, thing))
    .returning({ work: standstills.work });
  return rows.length > 0;
}

export const stoppedWork = (db: Db): Promise<Standstill[]> =>
  db
    .select()
    .from(standstills)
    .where(isNotNull(standstills.stoppedAt))
    .orderBy(asc(standstills.stoppedAt))
    .limit(100);
