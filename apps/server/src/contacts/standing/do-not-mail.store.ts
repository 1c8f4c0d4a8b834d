// The addresses nothing may be sent to. Written before the answer goes out, never overwritten by a weaker reason.
import type { CampaignId } from '@palabra/core/campaigns';
import type { DoNotMailReason } from '@palabra/core/contacts';
import { seesEverybody, type Viewer, type UserId } from '@palabra/core/office';
import { eq, sql } from 'drizzle-orm';
import { execute, type Db } from '../../platform/database.js';
import { doNotMail, droppedTopics } from './standing.table.js';

export type DoNotMailEntry = typeof doNotMail.$inferSelect;

const madeBy = (entry: DoNotMailEntry, viewer: Viewer): boolean =>
  seesEverybody(viewer.role) || entry.userId === viewer.userId;

/** What a person of the office wrote, they or a coordinator take off; what a reader did, only that reader. */
export const mayTakeOff = (entry: DoNotMailEntry, viewer: Viewer): boolean =>
  entry.reason === 'by hand' && madeBy(entry, viewer);

/** The note belongs to the entry, not to whoever has the address, too. */
export const noteFor = (entry: DoNotMailEntry, viewer: Viewer): string | null =>
  madeBy(entry, viewer) ? entry.note : null;

export async function putOnDoNotMail(
  db: Db,
  entry: {
    addressHash: Buffer;
    address: string | null;
    reason: DoNotMailReason;
    at: Date;
    campaignId?: CampaignId;
    note?: string;
    userId?: UserId;
  },
): Promise<boolean> {
  const rows = await db
    .insert(doNotMail)
    .values(entry)
    .onConflictDoNothing()
    .returning({ hash: doNotMail.addressHash });
  return rows.length > 0;
}

/**
 * A person has another address: that they left, complained, were put there by hand, or dropped topics is about them
 * and goes with them, and stays on the old address, too. Only that an address is dead is about the address.
 */
export async function followAddress(
  db: Db,
  from: Buffer,
  to: Buffer,
  address: string | null,
): Promise<void> {
  await execute(
    db,
    sql`
    insert into ${doNotMail} (address_hash, address, reason, at, campaign_id, note, user_id)
    select ${to}, ${address}, reason, at, campaign_id, note, user_id from ${doNotMail} where address_hash = ${from} and reason <> 'hard bounce'
    on conflict (address_hash) do update set reason = excluded.reason, at = excluded.at, campaign_id = excluded.campaign_id, note = excluded.note, user_id = excluded.user_id
      where do_not_mail.reason = 'hard bounce'`,
  );
  await execute(
    db,
    sql`insert into ${droppedTopics} (address_hash, topic_id, at) select ${to}, topic_id, at from ${droppedTopics} where address_hash = ${from} on conflict do nothing`,
  );
}

export const takeOffDoNotMail = async (db: Db, addressHash: Buffer): Promise<void> => {
  await db.delete(doNotMail).where(eq(doNotMail.addressHash, addressHash));
};

export async function doNotMailEntry(
  db: Db,
  addressHash: Buffer | null,
): Promise<DoNotMailEntry | undefined> {
  if (!addressHash) return undefined;
  const [row] = await db.select().from(doNotMail).where(eq(doNotMail.addressHash, addressHash));
  return row;
}
