// Kinds of letters, and who does not want which. Kept by the hash of the address, so that it outlives the contact.
import { searchKey } from '@palabra/core/contacts';
import { asc, eq, sql } from 'drizzle-orm';
import { execute, type Db } from '../platform/database.js';
import { topics } from './contacts.table.js';

export type Topic = typeof topics.$inferSelect;

export const allTopics = (db: Db): Promise<Topic[]> =>
  db.select().from(topics).orderBy(asc(topics.nameKey));

export async function topicById(db: Db, id: number): Promise<Topic | undefined> {
  const [topic] = await db.select().from(topics).where(eq(topics.id, id));
  return topic;
}

/** Undefined when another topic reads the same. */
export async function addTopic(
  db: Db,
  name: string,
  description: string,
  now: Date,
): Promise<Topic | undefined> {
  const [topic] = await db
    .insert(topics)
    .values({ name, nameKey: searchKey(name), description, createdAt: now })
    .onConflictDoNothing()
    .returning();
  return topic;
}

export async function changeTopic(
  db: Db,
  id: number,
  name: string,
  description: string,
): Promise<Topic | undefined> {
  const [topic] = await db
    .update(topics)
    .set({ name, nameKey: searchKey(name), description })
    .where(eq(topics.id, id))
    .returning();
  return topic;
}

export async function droppedBy(db: Db, addressHash: Buffer): Promise<Set<number>> {
  const { rows } = await execute<{ topic_id: number }>(
    db,
    sql`select topic_id from dropped_topics where address_hash = ${addressHash}`,
  );
  return new Set(rows.map(({ topic_id }) => topic_id));
}

/** Makes the dropped topics of an address exactly these. */
export async function dropTopics(
  db: Db,
  addressHash: Buffer,
  dropped: readonly number[],
  at: Date,
): Promise<void> {
  await execute(
    db,
    sql`delete from dropped_topics where address_hash = ${addressHash} and not topic_id = any(${sql.param(dropped)}::int[])`,
  );
  await execute(
    db,
    sql`insert into dropped_topics (address_hash, topic_id, at) select ${addressHash}, id, ${at} from topics where id = any(${sql.param(dropped)}::int[]) on conflict do nothing`,
  );
}
