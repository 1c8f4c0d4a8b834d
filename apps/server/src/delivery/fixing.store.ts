// Writing the recipients of a campaign, a stretch of contact keys at a time.
import type { ContactId } from '@palabra/core/contacts';
import type { HeldBackReason, CampaignId } from '@palabra/core/campaigns';
import { sql } from 'drizzle-orm';
import { judged, type BoundWho } from '../campaigns/index.js';
import { execute, type Db } from '../platform/database.js';
import { deliveries, heldBack } from './delivery.table.js';
import { campaigns } from '../campaigns/campaigns.table.js';

/** Writes one stretch; returns the last contact key written, or undefined when nobody is left. */
export async function writeStretch(
  db: Db,
  campaignId: CampaignId,
  who: BoundWho,
  after: number,
  limit: number,
): Promise<ContactId | undefined> {
  const { rows } = await execute<{ last: ContactId | null }>(
    db,
    sql`
    with p as materialized (select * from (${judged(who, sql`c.id > ${after}`)}) j order by j.id limit ${limit}),
    held as (insert into ${heldBack} (campaign_id, contact_id, reason, address_hash) select ${campaignId}::int, id, reason, address_hash from p where reason is not null on conflict do nothing),
    kept as (insert into ${deliveries} (campaign_id, contact_id, state, address, address_hash) select ${campaignId}::int, id, 'waiting', address, address_hash from p where reason is null on conflict do nothing)
    select max(id) as last from p`,
  );
  return rows[0]?.last ?? undefined;
}

/** Tells the planner of rows that it has never counted; without it, it reads a whole campaign for one letter. */
export async function analyzeDeliveries(db: Db): Promise<void> {
  await execute(db, sql`analyze ${deliveries} (campaign_id, contact_id, state, next_at)`);
}

export async function countWritten(
  db: Db,
  campaignId: CampaignId,
): Promise<{ reason: HeldBackReason | null; count: number }[]> {
  const { rows } = await execute<{ reason: HeldBackReason | null; count: number }>(
    db,
    sql`
    select reason, count(*) as count from ${heldBack} where campaign_id = ${campaignId} group by reason
    union all select null, count(*) from ${deliveries} where campaign_id = ${campaignId}`,
  );
  return rows;
}

/** Forgets recipients that were written for a send that did not begin, as long as the campaign is still in that status. */
export async function forgetWritten(
  db: Db,
  campaignId: CampaignId,
  status: 'draft' | 'fixing',
  limit: number,
): Promise<number> {
  const still = sql`exists (select 1 from ${campaigns} k where k.id = ${campaignId} and k.status = ${status})`;
  const { rows } = await execute<{ gone: number }>(
    db,
    sql`
    with d as (delete from ${deliveries} where (campaign_id, contact_id) in (select campaign_id, contact_id from ${deliveries} where campaign_id = ${campaignId} and state = 'waiting' and ${still} limit ${limit}) returning 1),
    h as (delete from ${heldBack} where (campaign_id, contact_id) in (select campaign_id, contact_id from ${heldBack} where campaign_id = ${campaignId} and ${still} limit ${limit}) returning 1)
    select (select count(*) from d) + (select count(*) from h) as gone`,
  );
  return rows[0]?.gone ?? 0;
}
