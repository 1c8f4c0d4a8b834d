// Erasing people: who is meant, what is left of them, and what became of it.
import type { ContactId } from '@palabra/core/contacts';
import type { UserId } from '@palabra/core/office';
import { desc, eq, isNull, sql } from 'drizzle-orm';
import { execute, type Db } from '../../platform/database.js';
import { users } from '../../platform/sign-in/sign-in.table.js';
import { contacts, contactTags } from '../people/people.table.js';
import type { ContactRow } from '../people/values.js';
import { ratingCourses } from '../ratings/ratings.table.js';
import { doNotMail, droppedTopics } from '../standing/standing.table.js';
import { erasures } from './erasing.table.js';

export type Erasure = typeof erasures.$inferSelect;

const hashList = (hashes: readonly Buffer[]) =>
  sql`array[${sql.join(
    hashes.map((hash) => sql`${hash}::bytea`),
    sql`, `,
  )}]::bytea[]`;

/** Everybody, deleted or not, who has one of some addresses; and the person, whoever they are. In the order of their keys. */
export async function samePerson(
  db: Db,
  id: ContactId,
  hashes: readonly Buffer[],
): Promise<ContactRow[]> {
  const found = sql`select ${id}::int union select c.id from ${contacts} c where c.address_hash = any(${hashList(hashes)})
    union select c.id from ${contacts} c where c.more_addresses is not null and c.more_hashes && ${hashList(hashes)}`;
  return db
    .select()
    .from(contacts)
    .where(sql`${contacts.id} in (${found}) and ${contacts.erasedAt} is null`)
    .orderBy(contacts.id);
}

/** The same row in the same order, locked. */
export const lockAny = async (db: Db, ids: readonly ContactId[]): Promise<ContactRow[]> =>
  db
    .select()
    .from(contacts)
    .where(
      sql`${contacts.id} = any(${sql.param([...ids])}::int[]) and ${contacts.erasedAt} is null`,
    )
    .orderBy(contacts.id)
    .for('update');

/** Of some addresses, by their hashes, those that somebody else has who is there. */
export async function takenHashes(
  db: Db,
  hashes: readonly Buffer[],
  but: readonly ContactId[],
): Promise<ReadonlySet<string>> {
  if (hashes.length === 0) return new Set();
  const { rows } = await execute<{ hash: Buffer }>(
    db,
    sql`select h.hash from unnest(${hashList(hashes)}) h(hash) where exists (
      select 1 from ${contacts} c where c.deleted_at is null and not c.id = any(${sql.param([...but])}::int[])
        and (c.address_hash = h.hash or (c.more_addresses is not null and c.more_hashes @> array[h.hash])))`,
  );
  return new Set(rows.map(({ hash }) => hash.toString('hex')));
}

/** What was theirs goes; the key, the pool, whose they were, the hash of their address, and what only counts stay. */
export async function leaveTombstones(tx: Db, ids: readonly ContactId[], now: Date): Promise<void> {
  const people = sql`any(${sql.param([...ids])}::int[])`;
  await execute(
    tx,
    sql`
    update ${contacts} set given_name = '', family_name = '', search_key = '', address = null, address_key = null, former_hash = null,
      town = null, region = null, postcode = null, country = null, stage = null, street = null, phone = null, position = null,
      more_phones = null, more_addresses = null, more_keys = '{}', more_hashes = '{}', external_number = null, source = null, closeness = null,
      lat = null, lon = null, fields = '{}', keys = '{}', shared_with = null, permission = 'unknown', permission_at = null, permission_source = null,
      permission_wording = null, last_contact_at = null, rating = null, band = null, rating_high = null, rating_low = null, rating_due = false, recent_letters = null,
      deleted_at = coalesce(deleted_at, ${now}::timestamptz), erased_at = ${now}, version = version + 1
    where id = ${people}`,
  );
  await execute(tx, sql`delete from ${contactTags} where contact_id = ${people}`);
  await execute(tx, sql`delete from ${ratingCourses} where contact_id = ${people}`);
}

/** Their addresses come onto do not mail by their hashes alone, whatever was there before. */
export async function keepAway(tx: Db, hashes: readonly Buffer[], now: Date): Promise<void> {
  if (hashes.length === 0) return;
  await execute(
    tx,
    sql`
    insert into ${doNotMail} (address_hash, reason, at) select distinct hash, 'erased', ${now}::timestamptz from unnest(${hashList(hashes)}) h(hash)
    on conflict (address_hash) do update set reason = 'erased', at = excluded.at, address = null, note = null, campaign_id = null, user_id = null`,
  );
  await execute(
    tx,
    sql`delete from ${droppedTopics} where address_hash = any(${hashList(hashes)})`,
  );
}

/** Which of some addresses, by their hashes, were erased at their owner's request. */
export async function erasedHashes(
  db: Db,
  hashes: readonly Buffer[],
): Promise<ReadonlySet<string>> {
  if (hashes.length === 0) return new Set();
  const { rows } = await execute<{ hash: Buffer }>(
    db,
    // One text instead of a value for each: thousands come at a time.
    sql`select d.address_hash as hash from unnest(${sql.param(hashes.map((hash) => hash.toString('hex')))}::text[]) asked(hash) join ${doNotMail} d on d.address_hash = decode(asked.hash, 'hex') where d.reason = 'erased'`,
  );
  return new Set(rows.map(({ hash }) => hash.toString('hex')));
}

/** Only they themselves: their address is as any other again. */
export const letBackIn = async (tx: Db, hash: Buffer): Promise<void> => {
  await execute(
    tx,
    sql`delete from ${doNotMail} where address_hash = ${hash} and reason = 'erased'`,
  );
};

export interface NewErasure {
  readonly at: Date;
  readonly userId: UserId | null;
  readonly isAsked: boolean;
  readonly people: readonly ContactId[];
  readonly hashes: readonly Buffer[];
  readonly backups: readonly string[];
}

export async function addErasure(tx: Db, erasure: NewErasure): Promise<number> {
  const { at, userId, isAsked, people, hashes, backups } = erasure;
  const { rows } = await execute<{ id: number }>(
    tx,
    sql`insert into ${erasures} (at, user_id, is_asked, people, hashes, backups)
      values (${at}, ${userId}, ${isAsked}, ${sql.param([...people])}::int[], ${hashList(hashes)}, ${JSON.stringify(backups)}::jsonb) returning id`,
  );
  const [row] = rows;
  if (!row) throw new Error('the erasure was not written');
  return row.id;
}

export async function erasureById(db: Db, id: number): Promise<Erasure | undefined> {
  const [row] = await db.select().from(erasures).where(eq(erasures.id, id));
  return row;
}

/** The erasure of a person, and who did it. */
export async function erasureOf(
  db: Db,
  id: ContactId,
): Promise<{ readonly erasure: Erasure; readonly by: string | null } | undefined> {
  const [row] = await db
    .select({ erasure: erasures, by: users.name })
    .from(erasures)
    .leftJoin(users, eq(users.id, erasures.userId))
    .where(sql`${erasures.people} @> array[${id}::int]`)
    .orderBy(desc(erasures.id))
    .limit(1);
  return row;
}

export async function openErasures(db: Db): Promise<number[]> {
  const rows = await db
    .select({ id: erasures.id })
    .from(erasures)
    .where(isNull(erasures.finishedAt));
  return rows.map(({ id }) => id);
}

export const stepErasure = async (
  db: Db,
  id: number,
  step: Partial<Pick<Erasure, 'cursors' | 'finishedAt'>>,
): Promise<void> => {
  await db.update(erasures).set(step).where(eq(erasures.id, id));
};

/** Some who have been in the bin longer than they can be brought back. */
export async function dueForPurge(db: Db, before: Date, limit: number): Promise<ContactId[]> {
  const { rows } = await execute<{ id: ContactId }>(
    db,
    sql`select id from ${contacts} where deleted_at < ${before} and erased_at is null order by id limit ${limit}`,
  );
  return rows.map(({ id }) => id);
}
