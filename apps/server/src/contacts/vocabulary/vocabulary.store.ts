// Pools and tags: few rows, read whole.
import { tagKey, type TagColour, type TagId } from '@palabra/core/contacts';
import { asc, eq, sql } from 'drizzle-orm';
import { execute, type Db } from '../../platform/database.js';
import { pools, tags } from './vocabulary.table.js';
import { contactTags } from '../people/people.table.js';

export type Pool = typeof pools.$inferSelect;
export type Tag = typeof tags.$inferSelect;

export const allPools = (db: Db): Promise<Pool[]> => db.select().from(pools).orderBy(asc(pools.id));

export async function housePool(db: Db): Promise<Pool> {
  const [house] = await db.select().from(pools).where(eq(pools.kind, 'house')).limit(1);
  if (!house) throw new Error('the office has no house pool');
  return house;
}

export async function addPool(db: Db, name: string, kind: Pool['kind']): Promise<Pool> {
  const [pool] = await db.insert(pools).values({ name, kind }).returning();
  if (!pool) throw new Error('the pool was not written');
  return pool;
}

export const allTags = (db: Db): Promise<Tag[]> =>
  db.select().from(tags).orderBy(asc(tags.nameKey));

export async function tagById(db: Db, id: TagId): Promise<Tag | undefined> {
  const [tag] = await db.select().from(tags).where(eq(tags.id, id));
  return tag;
}

export async function tagByName(db: Db, name: string): Promise<Tag | undefined> {
  const [tag] = await db
    .select()
    .from(tags)
    .where(eq(tags.nameKey, tagKey(name)));
  return tag;
}

/** Undefined when a tag of (nearly) the same name was added in the meantime. */
export async function addTag(
  db: Db,
  name: string,
  colour: TagColour,
  now: Date,
): Promise<Tag | undefined> {
  const [tag] = await db
    .insert(tags)
    .values({ name, nameKey: tagKey(name), colour, createdAt: now })
    .onConflictDoNothing()
    .returning();
  return tag;
}

export const changeTag = async (
  db: Db,
  id: TagId,
  name: string,
  colour: TagColour,
): Promise<void> => {
  await db
    .update(tags)
    .set({ name, nameKey: tagKey(name), colour })
    .where(eq(tags.id, id));
};

export async function tagCounts(db: Db): Promise<Map<number, number>> {
  const { rows } = await execute<{ tag_id: TagId; count: number }>(
    db,
    sql`select tag_id, count(*) as count from ${contactTags} group by tag_id`,
  );
  return new Map(rows.map(({ tag_id, count }) => [tag_id, count]));
}
