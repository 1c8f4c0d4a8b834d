// Work that failed: how often in a row, when it is tried again, and what was given up.
import { and, asc, eq, gte, isNotNull, or, sql } from 'drizzle-orm';
import { WORTH_SAYING, type WorkKind } from '@palabra/core/office';
import { execute, type Db } from './database.js';
import { standstills } from './standstill.table.js';

export type Standstill = typeof standstills.$inferSelect;

const one = (work: WorkKind, thing: number) =>
  and(eq(standstills.work, work), eq(standstills.thing, thing));

/** Writes one failure down; returns how many there were in a row. */
export async function noteFailure(
  db: Db,
  work: WorkKind,
  thing: number,
  what: string,
  reason: string,
): Promise<number> {
  const { rows } = await execute<{ failures: number }>(
    db,
    sql`
    insert into ${standstills} (work, thing, what, reason, failures) values (${work}, ${thing}, ${what}, ${reason}, 1)
    on conflict (work, thing) do update set failures = standstills.failures + 1, what = excluded.what, reason = excluded.reason
    returning failures`,
  );
  return rows[0]?.failures ?? 1;
}

/** When failed work is tried again, or that it was given up. */
export const decideFailure = async (
  db: Db,
  work: WorkKind,
  thing: number,
  when: { readonly nextAt: Date } | { readonly stoppedAt: Date },
): Promise<void> => {
  await db.update(standstills).set(when).where(one(work, thing));
};

/** False when there was nothing to forget. */
export async function forgetFailures(db: Db, work: WorkKind, thing: number): Promise<boolean> {
  const rows = await db
    .delete(standstills)
    .where(one(work, thing))
    .returning({ work: standstills.work });
  return rows.length > 0;
}

/** Work that was given up, or has failed so often that somebody should know. */
export const stoppedWork = (db: Db): Promise<Standstill[]> =>
  db
    .select()
    .from(standstills)
    .where(or(isNotNull(standstills.stoppedAt), gte(standstills.failures, WORTH_SAYING)))
    .orderBy(asc(standstills.work), asc(standstills.thing))
    .limit(100);
