// Single contacts and small batches of them.
import { and, eq, inArray, isNull, sql } from 'drizzle-orm';
import type { Db } from '../platform/database.js';
import { contacts, contactTags } from './contacts.table.js';
import type { ContactRow } from './values.js';

export type NewContact = typeof contacts.$inferInsert;

export async function contactById(db: Db, id: number): Promise<ContactRow | undefined> {
  const [row] = await db
    .select()
    .from(contacts)
    .where(and(eq(contacts.id, id), isNull(contacts.deletedAt)));
  return row;
}

export const contactsById = (db: Db, ids: readonly number[]): Promise<ContactRow[]> =>
  ids.length === 0
    ? Promise.resolve([])
    : db
        .select()
        .from(contacts)
        .where(and(inArray(contacts.id, [...ids]), isNull(contacts.deletedAt)))
        .for('update');

/** Contacts as they are now, deleted ones too: a letter that is under way still needs its reader's name. */
export const anyContacts = (db: Db, ids: readonly number[]): Promise<ContactRow[]> =>
  ids.length === 0
    ? Promise.resolve([])
    : db
        .select()
        .from(contacts)
        .where(inArray(contacts.id, [...ids]));

export const contactsByAddress = (db: Db, poolId: number, addressKeys: readonly string[]): Promise<ContactRow[]> =>
  addressKeys.length === 0
    ? Promise.resolve([])
    : db
        .select()
        .from(contacts)
        .where(and(eq(contacts.poolId, poolId), inArray(contacts.addressKey, [...addressKeys]), isNull(contacts.deletedAt)));

export async function addContacts(db: Db, rows: NewContact[]): Promise<number[]> {
  if (rows.length === 0) return [];
  const added = await db.insert(contacts).values(rows).returning({ id: contacts.id });
  return added.map(({ id }) => id);
}

/** Writes columns over a contact of the version seen; undefined when it was changed in the meantime. */
export async function changeContact(db: Db, id: number, version: number, columns: Partial<ContactRow>, now: Date): Promise<ContactRow | undefined> {
  const [row] = await db
    .update(contacts)
    .set({ ...columns, version: sql`version + 1`, updatedAt: now })
    .where(and(eq(contacts.id, id), eq(contacts.version, version), isNull(contacts.deletedAt)))
    .returning();
  return row;
}

export async function contactTagIds(db: Db, id: number): Promise<number[]> {
  const rows = await db.select({ tagId: contactTags.tagId }).from(contactTags).where(eq(contactTags.contactId, id)).orderBy(contactTags.tagId);
  return rows.map(({ tagId }) => tagId);
}

/** Puts tags on contacts; returns the pairs that were new. */
export async function putTags(db: Db, contactIds: readonly number[], tagIds: readonly number[]): Promise<{ contactId: number; tagId: number }[]> {
  if (contactIds.length === 0 || tagIds.length === 0) return [];
  return db
    .insert(contactTags)
    .values(contactIds.flatMap((contactId) => tagIds.map((tagId) => ({ contactId, tagId }))))
    .onConflictDoNothing()
    .returning();
}

export const takeTag = async (db: Db, contactId: number, tagId: number): Promise<boolean> => {
  const rows = await db
    .delete(contactTags)
    .where(and(eq(contactTags.contactId, contactId), eq(contactTags.tagId, tagId)))
    .returning();
  return rows.length > 0;
};

export const markDeleted = async (db: Db, ids: readonly number[], now: Date): Promise<void> => {
  if (ids.length === 0) return;
  await db
    .update(contacts)
    .set({ deletedAt: now, version: sql`version + 1` })
    .where(inArray(contacts.id, [...ids]));
  await db.delete(contactTags).where(inArray(contactTags.contactId, [...ids]));
};
