// The addresses nothing may be sent to. Written before the answer goes out, never overwritten by a weaker reason.
import type { DoNotMailReason } from '@palabra/core/contacts';
import { eq } from 'drizzle-orm';
import type { Db } from '../platform/database.js';
import { doNotMail } from './contacts.table.js';

export type DoNotMailEntry = typeof doNotMail.$inferSelect;

export async function putOnDoNotMail(db: Db, entry: { addressHash: Buffer; address: string | null; reason: DoNotMailReason; at: Date; campaignId?: number; note?: string }): Promise<boolean> {
  const rows = await db.insert(doNotMail).values(entry).onConflictDoNothing().returning({ hash: doNotMail.addressHash });
  return rows.length > 0;
}

export const takeOffDoNotMail = async (db: Db, addressHash: Buffer): Promise<void> => {
  await db.delete(doNotMail).where(eq(doNotMail.addressHash, addressHash));
};

export async function doNotMailEntry(db: Db, addressHash: Buffer | null): Promise<DoNotMailEntry | undefined> {
  if (!addressHash) return undefined;
  const [row] = await db.select().from(doNotMail).where(eq(doNotMail.addressHash, addressHash));
  return row;
}
