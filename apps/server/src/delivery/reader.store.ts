// What the reader's own page needs of a contact, and new addresses that wait to be confirmed.
import { and, eq, gt, lt, sql } from 'drizzle-orm';
import { execute, type Db } from '../platform/database.js';
import { pendingAddresses } from './delivery.table.js';

export type PendingAddress = typeof pendingAddresses.$inferSelect;

export const addPendingAddress = async (db: Db, pending: PendingAddress): Promise<void> => {
  await db.insert(pendingAddresses).values(pending);
};

export async function pendingAddress(db: Db, secretHash: Buffer, now: Date): Promise<PendingAddress | undefined> {
  const [row] = await db
    .select()
    .from(pendingAddresses)
    .where(and(eq(pendingAddresses.secretHash, secretHash), gt(pendingAddresses.expiresAt, now)));
  return row;
}

/** How many letters to new addresses a reader has asked for lately; more than a few is somebody's game. */
export async function pendingCount(db: Db, contactId: number): Promise<number> {
  const { rows } = await execute<{ count: number }>(db, sql`select count(*) as count from pending_addresses where contact_id = ${contactId}`);
  return rows[0]?.count ?? 0;
}

export const dropPending = async (db: Db, contactId: number): Promise<void> => {
  await db.delete(pendingAddresses).where(eq(pendingAddresses.contactId, contactId));
};

export const dropOldPending = async (db: Db, now: Date): Promise<void> => {
  await db.delete(pendingAddresses).where(lt(pendingAddresses.expiresAt, now));
};
