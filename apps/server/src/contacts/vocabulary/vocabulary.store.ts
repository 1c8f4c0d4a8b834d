// Pools and tags: few rows, read whole.
import { automaticTag, automaticTags, tagKey, type TagId } from '@palabra/core/contacts';
import { and, asc, eq, isNull } from 'drizzle-orm';
import type { Db } from '../../platform/database.js';
import { pools, tags } from './vocabulary.table.js';

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

/** Those that the system puts on, called so that no tag of the office’s is called the same. */
function automatic(own: readonly Tag[]): Tag[] {
  const taken = new Set(own.map(({ nameKey }) => nameKey));
  return automaticTags.map(({ id, name, purpose }) => {
    const called = taken.has(tagKey(name)) ? `${name} (automatic)` : name;
    return {
      ...{ id, name: called, nameKey: tagKey(called), purpose },
      ...{ colour: 'slate', kind: 'automatic', version: 1 },
      createdAt: new Date(0),
      deletedAt: null,
    };
  });
}

const ownTags = (db: Db): Promise<Tag[]> =>
  db.select().from(tags).where(isNull(tags.deletedAt)).orderBy(asc(tags.nameKey));

/** The office’s own, then the automatic ones. */
export async function allTags(db: Db): Promise<Tag[]> {
  const own = await ownTags(db);
  return [...own, ...automatic(own)];
}

/** What tags are called, those too that are deleted and can be brought back. */
export async function tagNames(db: Db): Promise<ReadonlyMap<number, string>> {
  const rows = await db.select({ id: tags.id, name: tags.name }).from(tags);
  return new Map([...automaticTags, ...rows].map(({ id, name }) => [id, name]));
}

export async function tagById(db: Db, id: TagId): Promise<Tag | undefined> {
  if (automaticTag(id) !== undefined) return (await allTags(db)).find((one) => one.id === id);
  const [tag] = await db
    .select()
    .from(tags)
    .where(and(eq(tags.id, id), isNull(tags.deletedAt)));
  return tag;
}

export async function tagByName(db: Db, name: string): Promise<Tag | undefined> {
  const [tag] = await db
    .select()
    .from(tags)
    .where(and(eq(tags.nameKey, tagKey(name)), isNull(tags.deletedAt)));
  return tag;
}

/** Undefined when a tag of (nearly) the same name was added in the meantime. */
export async function addTag(
  db: Db,
  { name, colour, purpose = '' }: Pick<Tag, 'name' | 'colour'> & { readonly purpose?: string },
  now: Date,
): Promise<Tag | undefined> {
  const [tag] = await db
    .insert(tags)
    .values({ name, nameKey: tagKey(name), colour, purpose, createdAt: now })
    .onConflictDoNothing()
    .returning();
  return tag;
}
