// Links that were mailed to readers.
import type { ContactId } from '@palabra/core/contacts';
import { and, eq, gt, lt } from 'drizzle-orm';
import type { Db } from '../platform/database.js';
import { readerLinks, type ReaderLinkKind } from './delivery.table.js';

export type ReaderLink = typeof readerLinks.$inferSelect;

export const addLink = async (db: Db, link: ReaderLink): Promise<void> => {
  await db.insert(readerLinks).values(link);
};

export async function linkOf(
  db: Db,
  kind: ReaderLinkKind,
  secretHash: Buffer,
  now: Date,
): Promise<ReaderLink | undefined> {
  const [row] = await db
    .select()
    .from(readerLinks)
    .where(
      and(
        eq(readerLinks.secretHash, secretHash),
        eq(readerLinks.kind, kind),
        gt(readerLinks.expiresAt, now),
      ),
    );
  return row;
}

export const dropLinks = async (
  db: Db,
  contactId: ContactId,
  kind: ReaderLinkKind,
): Promise<void> => {
  await db
    .delete(readerLinks)
    .where(and(eq(readerLinks.contactId, contactId), eq(readerLinks.kind, kind)));
};

export const dropOldLinks = async (db: Db, now: Date): Promise<void> => {
  await db.delete(readerLinks).where(lt(readerLinks.expiresAt, now));
};
