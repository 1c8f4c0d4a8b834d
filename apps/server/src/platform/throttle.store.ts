// Limits that all processes share. A try is counted before it is made, so that many at once can't pass.
import { lt, sql } from 'drizzle-orm';
import { execute, type Db } from './database.js';
import { tries } from './throttle.table.js';

export const MINUTE = 60_000;
export const DAY = 24 * 60 * MINUTE;

export interface Limit {
  readonly most: number;
  readonly windowMs: number;
}

/** Counts tries in one statement, one unless it is said; false when there were more than `most` in this window. */
export async function mayTry(
  db: Db,
  subject: string,
  limit: Limit,
  now: Date,
  times = 1,
): Promise<boolean> {
  const old = sql`tries.since <= ${new Date(now.getTime() - limit.windowMs)}`;
  const { rows } = await execute<{ count: number }>(
    db,
    sql`
    insert into ${tries} (subject, since, count) values (${subject}, ${now}, ${times})
    on conflict (subject) do update set since = case when ${old} then excluded.since else tries.since end,
      count = case when ${old} then excluded.count else least(tries.count + excluded.count, 1000000) end
    returning count`,
  );
  return (rows[0]?.count ?? Infinity) <= limit.most;
}

/** A try that turned out to be in order. */
export const forgiveTry = async (db: Db, subject: string): Promise<void> => {
  await execute(
    db,
    sql`update ${tries} set count = count - 1 where subject = ${subject} and count > 0`,
  );
};

export const forgetTries = async (db: Db, subject: string): Promise<void> => {
  await execute(db, sql`delete from ${tries} where subject = ${subject}`);
};

/** Windows last a day at the most. */
export const dropOldTries = async (db: Db, now: Date): Promise<void> => {
  await db.delete(tries).where(lt(tries.since, new Date(now.getTime() - DAY)));
};
