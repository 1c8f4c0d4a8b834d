import type { CampaignId } from '@palabra/core/campaigns';
import { eq, isNull, sql } from 'drizzle-orm';
import { execute, type Db } from './database.js';
import { continuity, type Break } from './continuity.table.js';

export type ContinuityRow = typeof continuity.$inferSelect;

export async function readContinuity(db: Db): Promise<ContinuityRow | undefined> {
  const [row] = await db.select().from(continuity).where(eq(continuity.id, 1));
  return row;
}

export const beginContinuity = async (
  db: Db,
  mark: string,
  place: string,
  now: Date,
): Promise<void> => {
  await db
    .insert(continuity)
    .values({ id: 1, mark, place, seenAt: now })
    .onConflictDoUpdate({ target: continuity.id, set: { place, seenAt: now } });
};

/** What broke first is said; a second break changes nothing. */
export const breakContinuity = async (db: Db, by: Break, asOf: Date, now: Date): Promise<void> => {
  await db
    .update(continuity)
    .set({ brokenBy: by, brokenAt: now, asOf, decided: [] })
    .where(isNull(continuity.brokenBy));
};

export const seen = async (db: Db, now: Date): Promise<void> => {
  await execute(db, sql`update ${continuity} set seen_at = ${now} where id = 1`);
};

export const decide = async (db: Db, campaign: CampaignId): Promise<void> => {
  await execute(
    db,
    sql`update ${continuity} set decided = array_append(decided, ${campaign}) where id = 1 and not ${campaign} = any(decided)`,
  );
};

export const mendContinuity = async (db: Db): Promise<void> => {
  await db
    .update(continuity)
    .set({ brokenBy: null, brokenAt: null, asOf: null, decided: [] })
    .where(eq(continuity.id, 1));
};

/** What names a database server and the database in it: another one has another. */
export async function serverPlace(db: Db): Promise<string> {
  const { rows } = await execute<{ place: string }>(
    db,
    sql`select (select system_identifier from pg_control_system()) || ' ' || (select oid from pg_database where datname = current_database()) as place`,
  );
  return rows[0]?.place ?? '';
}
