// Who is listed in fixed segments, and how large segments were.
import type { ContactId } from '@palabra/core/contacts';
import type { SegmentId } from '@palabra/core/segments';
import { and, asc, eq, inArray, isNull, sql, type SQL } from 'drizzle-orm';
import { contacts } from '../contacts/people/people.table.js';
import { execute, type Db } from '../platform/database.js';
import { segmentMembers, segments, segmentSizes } from './segments.table.js';

/** A condition on `contacts c`; without a pool, of any. */
export const inPools = (ids: readonly number[]): SQL =>
  ids.length === 0
    ? sql`true`
    : ids.length === 1
      ? sql`c.pool_id = ${ids[0]}`
      : sql`c.pool_id = any(${sql.param([...ids])}::int[])`;

/** Puts people in, those who are not yet; says how many. `people`: a condition on `contacts c`. */
export async function putMembers(db: Db, id: SegmentId, people: SQL, now: Date): Promise<number> {
  const { rows } = await execute<{ count: number }>(
    db,
    sql`with put as (insert into ${segmentMembers} as m (segment_id, contact_id, added_at)
        select ${id}::int, c.id, ${now} from ${contacts} c where ${people}
        on conflict (segment_id, contact_id) do update set added_at = excluded.added_at, taken_at = null where m.taken_at is not null returning 1)
      select count(*) as count from put`,
  );
  return rows[0]?.count ?? 0;
}

/** Takes people out; they are remembered, so that just they come back when that is taken back. */
export async function takeMembers(db: Db, id: SegmentId, people: SQL, now: Date): Promise<number> {
  const { rows } = await execute<{ count: number }>(
    db,
    sql`with gone as (update ${segmentMembers} m set taken_at = ${now}
        where m.segment_id = ${id} and m.taken_at is null and m.contact_id in (select c.id from ${contacts} c where ${people}) returning 1)
      select count(*) as count from gone`,
  );
  return rows[0]?.count ?? 0;
}

/** Whoever was taken out at a moment is in again, and whoever was put in then is not. */
export async function undoMembers(db: Db, id: SegmentId, at: Date): Promise<number> {
  const { rows } = await execute<{ count: number }>(
    db,
    sql`with back as (update ${segmentMembers} m set taken_at = null where m.segment_id = ${id} and m.taken_at = ${at} returning 1),
        gone as (delete from ${segmentMembers} m where m.segment_id = ${id} and m.added_at = ${at} and m.taken_at is null returning 1)
      select (select count(*) from back) + (select count(*) from gone) as count`,
  );
  return rows[0]?.count ?? 0;
}

export const dropMembers = async (db: Db, id: SegmentId): Promise<void> => {
  await db.delete(segmentMembers).where(eq(segmentMembers.segmentId, id));
};

/** Takes people out of every list. */
export const forgetMembers = async (db: Db, ids: readonly ContactId[]): Promise<void> => {
  if (ids.length === 0) return;
  await db.delete(segmentMembers).where(inArray(segmentMembers.contactId, [...ids]));
};

/** The fixed segments in which some people are listed. */
export const listsOf = (
  db: Db,
  ids: readonly ContactId[],
): Promise<{ name: string; at: Date }[]> =>
  ids.length === 0
    ? Promise.resolve([])
    : db
        .select({ name: segments.name, at: segmentMembers.addedAt })
        .from(segmentMembers)
        .innerJoin(segments, eq(segments.id, segmentMembers.segmentId))
        .where(and(inArray(segmentMembers.contactId, [...ids]), isNull(segmentMembers.takenAt)));

export const listed = (id: SegmentId): SQL =>
  sql`c.id in (select contact_id from ${segmentMembers} where segment_id = ${id} and taken_at is null)`;

/** Who has one of some addresses, by their keys, be it a further one. A condition on `contacts c`. */
export const withAddresses = (keys: readonly string[]): SQL => {
  const asked = sql`${sql.param([...keys])}::text[]`;
  return sql`(c.address_key in (select unnest(${asked})) or (c.more_addresses is not null and c.more_keys && ${asked}))`;
};

/** Which of some addresses some people have. */
export async function addressesOf(db: Db, people: SQL, keys: readonly string[]): Promise<string[]> {
  const { rows } = await execute<{ key: string }>(
    db,
    sql`select distinct a.key from ${contacts} c cross join lateral unnest(array_append(c.more_keys, c.address_key)) a(key)
      where ${people} and a.key in (select unnest(${sql.param([...keys])}::text[]))`,
  );
  return rows.map(({ key }) => key);
}

/** A segment that was not counted on that day yet, the lowest key first. */
export async function uncountedOn(db: Db, day: string): Promise<SegmentId | undefined> {
  const { rows } = await execute<{ id: SegmentId }>(
    db,
    sql`select s.id from ${segments} s where s.deleted_at is null
      and not exists (select 1 from ${segmentSizes} z where z.segment_id = s.id and z.day = ${day}) order by s.id limit 1`,
  );
  return rows[0]?.id;
}

export const keepSize = async (
  db: Db,
  segmentId: SegmentId,
  day: string,
  size: number,
): Promise<void> => {
  await db.insert(segmentSizes).values({ segmentId, day, size }).onConflictDoNothing();
};

/** The oldest first. */
export const sizesOf = (
  db: Db,
  id: SegmentId,
  since: string,
): Promise<{ day: string; size: number }[]> =>
  db
    .select({ day: segmentSizes.day, size: segmentSizes.size })
    .from(segmentSizes)
    .where(and(eq(segmentSizes.segmentId, id), sql`${segmentSizes.day} >= ${since}`))
    .orderBy(asc(segmentSizes.day));
