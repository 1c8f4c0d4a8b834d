// Kinds of letters that a reader can choose or drop.
import { searchKey, type TopicId } from '@palabra/core/contacts';
import { asc, eq } from 'drizzle-orm';
import type { Db } from '../../platform/database.js';
import { topics } from './vocabulary.table.js';

export type Topic = typeof topics.$inferSelect;

export const allTopics = (db: Db): Promise<Topic[]> =>
  db.select().from(topics).orderBy(asc(topics.nameKey));

export async function topicById(db: Db, id: TopicId): Promise<Topic | undefined> {
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
  id: TopicId,
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
