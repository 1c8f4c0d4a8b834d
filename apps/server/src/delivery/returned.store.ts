// Mail that came back, as it is listed and sorted.
import type { CampaignId } from '@palabra/core/campaigns';
import type { ContactId } from '@palabra/core/contacts';
import type { BounceKind, ReturnedKind } from '@palabra/core/delivery';
import { and, desc, eq, isNull, lt, sql } from 'drizzle-orm';
import { execute, type Db } from '../platform/database.js';
import { mailboxCursors, returnedMail, deliveries } from './delivery.table.js';
import { leadsOn, stateAfter } from './states.store.js';
import { contacts } from '../contacts/people/people.table.js';

export type ReturnedMail = typeof returnedMail.$inferSelect;

/** Undefined when the same message was taken before. */
export async function addReturned(
  db: Db,
  values: Omit<typeof returnedMail.$inferInsert, 'id'>,
): Promise<number | undefined> {
  const [row] = await db
    .insert(returnedMail)
    .values(values)
    .onConflictDoNothing()
    .returning({ id: returnedMail.id });
  return row?.id;
}

export async function returnedById(db: Db, id: number): Promise<ReturnedMail | undefined> {
  const [row] = await db.select().from(returnedMail).where(eq(returnedMail.id, id));
  return row;
}

/** Latest first; only what nobody has seen to yet when `open` is set. */
export const listReturned = (
  db: Db,
  { open, before, limit }: { open: boolean; before: number | undefined; limit: number },
): Promise<ReturnedMail[]> =>
  db
    .select()
    .from(returnedMail)
    .where(
      and(
        open ? isNull(returnedMail.handledAt) : undefined,
        before === undefined ? undefined : lt(returnedMail.id, before),
      ),
    )
    .orderBy(desc(returnedMail.id))
    .limit(limit);

export async function countOpen(db: Db): Promise<number> {
  const { rows } = await execute<{ count: number }>(
    db,
    sql`select count(*) as count from ${returnedMail} where handled_at is null`,
  );
  return rows[0]?.count ?? 0;
}

export const markHandled = async (
  db: Db,
  id: number,
  values: Partial<ReturnedMail>,
): Promise<void> => {
  await db.update(returnedMail).set(values).where(eq(returnedMail.id, id));
};

/** The latest letter that went to an address, at most `days` ago. */
export async function lastLetterTo(
  db: Db,
  addressHash: Buffer,
  since: Date,
): Promise<{ campaignId: CampaignId; contactId: ContactId } | undefined> {
  const { rows } = await execute<{ campaign_id: CampaignId; contact_id: ContactId }>(
    db,
    sql`
    select d.campaign_id, d.contact_id from ${contacts} c join ${deliveries} d on d.contact_id = c.id
    where c.address_hash = ${addressHash} and d.address_hash = ${addressHash} and d.first_tried_at >= ${since} order by d.first_tried_at desc limit 1`,
  );
  const [row] = rows;
  return row && { campaignId: row.campaign_id, contactId: row.contact_id };
}

/** The latest letter that went to a person. */
export async function lastLetterOf(db: Db, contactId: ContactId): Promise<CampaignId | undefined> {
  const { rows } = await execute<{ campaign_id: CampaignId }>(
    db,
    sql`select campaign_id from ${deliveries} where contact_id = ${contactId} and first_tried_at is not null order by first_tried_at desc limit 1`,
  );
  return rows[0]?.campaign_id;
}

/** A late bounce: only a letter that was accepted, or of which nobody knew, can still come back. */
export async function bounceLate(
  db: Db,
  campaignId: CampaignId,
  contactId: ContactId,
  bounce: BounceKind,
  answer: string,
  at: Date,
): Promise<boolean> {
  const { rows } = await execute(
    db,
    sql`
    update ${deliveries} set state = ${stateAfter('bounce notice')}, bounce = ${bounce}, answer = ${answer}, bounced_at = ${at}
    where campaign_id = ${campaignId} and contact_id = ${contactId} and ${leadsOn('bounce notice')} returning 1`,
  );
  return rows.length > 0;
}

/** The letter is there: a person, or a receipt, says so. Returns when it counts as accepted, if that was not known. */
export async function arrived(
  db: Db,
  campaignId: CampaignId,
  contactId: ContactId,
  at: Date,
): Promise<Date | undefined> {
  const { rows } = await execute<{ accepted_at: Date }>(
    db,
    sql`
    update ${deliveries} set state = ${stateAfter('seen')}, accepted_at = coalesce(accepted_at, first_tried_at, ${at})
    where campaign_id = ${campaignId} and contact_id = ${contactId} and ${leadsOn('seen')} returning accepted_at`,
  );
  return rows[0]?.accepted_at;
}

export const markResponded = async (
  db: Db,
  campaignId: CampaignId,
  contactId: ContactId,
  what: 'complained' | 'replied',
  at: Date,
): Promise<void> => {
  const column = sql.raw(what === 'complained' ? 'complained_at' : 'replied_at');
  await execute(
    db,
    sql`update ${deliveries} set ${column} = least(${column}, ${at}::timestamptz) where campaign_id = ${campaignId} and contact_id = ${contactId}`,
  );
};

export async function cursorOf(
  db: Db,
  mailbox: string,
): Promise<{ uidValidity: number; lastUid: number } | undefined> {
  const [row] = await db.select().from(mailboxCursors).where(eq(mailboxCursors.mailbox, mailbox));
  return row;
}

export const moveCursor = async (
  db: Db,
  mailbox: string,
  uidValidity: number,
  lastUid: number,
): Promise<void> => {
  await db
    .insert(mailboxCursors)
    .values({ mailbox, uidValidity, lastUid })
    .onConflictDoUpdate({ target: mailboxCursors.mailbox, set: { uidValidity, lastUid } });
};

/** What can be acted on without a person, when its letter is certain. */
export const kindsThatNeedNobody: readonly ReturnedKind[] = [
  'bounce',
  'complaint',
  'auto-reply',
  'leave',
  'delay',
  'receipt',
];
