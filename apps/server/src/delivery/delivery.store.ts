// The rows of truth about who got what, and the work that is left on them.
import type { ContactId } from '@palabra/core/contacts';
import {
  deliverySteps,
  type BounceKind,
  type DeliveryState,
  type DeliveryStep,
} from '@palabra/core/delivery';
import { sql, type SQL } from 'drizzle-orm';
import { editable, type CampaignId } from '@palabra/core/campaigns';
import { hasStatus, isIn } from '../campaigns/index.js';

import { countSentOf } from './person-facts.store.js';
import { execute, repeated, type Database, type Db } from '../platform/database.js';
import { isDue, isUnsettled, leadsOn, stateAfter } from './states.store.js';
import { doNotMail, droppedTopics } from '../contacts/standing/standing.table.js';
import { deliveries, heldBack } from './delivery.table.js';
import { contacts } from '../contacts/people/people.table.js';
import { campaigns } from '../campaigns/campaigns.table.js';

export interface ClaimedDelivery extends Record<string, unknown> {
  readonly contact_id: ContactId;
  readonly address: string;
  readonly attempts: number;
}

/** Campaigns with something to do now: letters that are due, or none left so that the campaign can be closed. */
export async function campaignsToWorkOn(db: Db, now: Date): Promise<CampaignId[]> {
  const { rows } = await execute<{ id: CampaignId }>(
    db,
    sql`
    select k.id from ${campaigns} k where ${hasStatus('sending', 'k')} and (
      exists (select 1 from ${deliveries} d where d.campaign_id = k.id and ${isUnsettled('d')} and (d.next_at is null or d.next_at <= ${now}))
      or not exists (select 1 from ${deliveries} d where d.campaign_id = k.id and ${isUnsettled('d')}))
    union all
    select k.id from ${campaigns} k where ${hasStatus('stopped', 'k')} and exists (select 1 from ${deliveries} d where d.campaign_id = k.id and ${isUnsettled('d')})
    union all
    select k.id from ${campaigns} k where ${isIn(editable, 'k')} and k.fixed_at is null and exists (select 1 from ${deliveries} d where d.campaign_id = k.id)`,
  );
  return rows.map(({ id }) => id);
}

/**
 * What a dead process was handing over may have arrived: nobody knows, so it is never sent again by itself.
 * The worker stays on the row: should it be alive after all, its own word settles the letter.
 */
export async function settleDead(
  db: Db,
  campaignId: CampaignId,
  living: (worker: SQL) => SQL,
): Promise<number> {
  const { rows } = await execute<{ count: number }>(
    db,
    sql`
    with gone as (
      update ${deliveries} set state = ${stateAfter('worker gone')}, answer = 'the connection was lost while it was handed over'
      where campaign_id = ${campaignId} and ${leadsOn('worker gone')} and not exists (${living(sql`deliveries.worker`)}) returning 1)
    select count(*) as count from gone`,
  );
  return rows[0]?.count ?? 0;
}

/** The next letters that are due, oldest tries last so that nobody waits behind a full mailbox. */
export async function nextDue(
  db: Db,
  campaignId: CampaignId,
  now: Date,
  limit: number,
): Promise<ClaimedDelivery[]> {
  const { rows } = await execute<ClaimedDelivery>(
    db,
    sql`
    select contact_id, address, attempts from ${deliveries}
    where campaign_id = ${campaignId} and ${isDue()} and (next_at is null or next_at <= ${now})
    order by next_at nulls first, contact_id limit ${limit}`,
  );
  return rows;
}

/** Takes back that letters are in hand, when nothing was sent: whether that had been committed is not known. */
export async function putBack(
  db: Db,
  campaignId: CampaignId,
  contactIds: readonly ContactId[],
  worker: string,
): Promise<void> {
  if (contactIds.length === 0) return;
  await execute(
    db,
    sql`update ${deliveries} set state = ${stateAfter('not taken')}, worker = null, attempts = attempts - 1
    where campaign_id = ${campaignId} and contact_id = any(${sql.param(contactIds)}::int[]) and state = 'handing over' and worker = ${worker}`,
  );
}

export interface Accepted {
  readonly contactId: ContactId;
  readonly at: Date;
  readonly answer: string;
}

const given = sql.placeholder;
const [campaign, worker, acceptedIds] = [
  given('campaignId'),
  given('worker'),
  given('acceptedIds'),
];
const advanceSend = repeated(
  'advance a send',
  sql`
    with settled as (
      update ${deliveries} d set state = ${stateAfter('accepted')}, answer = a.answer, bounce = null, next_at = null, accepted_at = coalesce(d.accepted_at, a.at), bounced_at = null, worker = null
      from unnest(${acceptedIds}::int[], ${given('acceptedAt')}::timestamptz[], ${given('answers')}::text[]) a(contact_id, at, answer)
      where d.campaign_id = ${campaign} and d.contact_id = any(${acceptedIds}::int[]) and d.contact_id = a.contact_id and ${leadsOn('accepted', 'd')} and d.worker = ${worker}
      returning d.contact_id, a.at, d.first_tried_at as tried_at),
    counted as (${countSentOf(sql`settled`)}),
    next as (
      select w.ctid as place, case
          when c.id is null or c.deleted_at is not null then 'deleted'
          when dnm.reason is not null then 'on do not mail: ' || dnm.reason
          when t.topic_id is not null then 'dropped this topic' end as refused
      from ${deliveries} w join ${campaigns} k on k.id = w.campaign_id and ${hasStatus('sending', 'k')}
        left join ${contacts} c on c.id = w.contact_id
        left join ${doNotMail} dnm on dnm.address_hash = w.address_hash
        left join ${droppedTopics} t on t.address_hash = w.address_hash and t.topic_id = k.topic_id
      where w.campaign_id = ${campaign} and w.contact_id = any(${given('next')}::int[])
      for update of w),
    taken as (
      update ${deliveries} d set
        state = case when next.refused is null then ${stateAfter('handed over')} else ${stateAfter('do not mail')} end,
        answer = coalesce(next.refused, d.answer),
        worker = case when next.refused is null then ${worker}::uuid end,
        attempts = d.attempts + case when next.refused is null then 1 else 0 end,
        first_tried_at = case when next.refused is null then coalesce(d.first_tried_at, ${given('now')}::timestamptz) else d.first_tried_at end,
        next_at = null
      from next where d.ctid = next.place and ${leadsOn('handed over', 'd')}
      returning d.contact_id, d.state)
    select contact_id from taken where state = ${stateAfter('handed over')}`,
);

/**
 * Writes that the mail server took some letters, and commits that others are being handed over; returns to whom. Left
 * out is who may not get it: the campaign no longer sends, the person was deleted or the address came onto do not mail
 * (then the letter is held back), or somebody else has it. One statement, because a send waits for nothing as much as for this.
 */
export async function advance(
  database: Database,
  campaignId: CampaignId,
  worker: string,
  accepted: readonly Accepted[],
  next: readonly number[],
  now: Date,
): Promise<ReadonlySet<number>> {
  const { rows } = await database.again<{ contact_id: ContactId }>(advanceSend, {
    campaignId,
    worker,
    acceptedIds: padded(accepted.map(({ contactId }) => contactId)),
    acceptedAt: accepted.map(({ at }) => at.toISOString()),
    answers: accepted.map(({ answer }) => answer),
    next: padded(next),
    now,
  });
  return new Set(rows.map(({ contact_id }) => contact_id));
}

/**
 * Ids, at least as many as the planner takes a list of unknown length to have. With fewer it finds a plan for just
 * this list cheaper and makes it anew each time, which takes longer than the statement. Nobody has the number 0.
 */
const padded = (ids: readonly number[]): number[] => [
  ...ids,
  ...Array.from({ length: Math.max(0, 10 - ids.length) }, () => 0),
];

export interface Settlement {
  readonly step: DeliveryStep;
  readonly answer: string | null;
  readonly bounce?: BounceKind | null;
  readonly nextAt?: Date | null;
  readonly bouncedAt?: Date | null;
  /** A try that never reached the server's ear does not count. */
  readonly uncount?: boolean;
}

/** Writes how handing over ended, when the letter was not accepted. Only the process that holds the letter may say so. */
export async function settle(
  db: Db,
  campaignId: CampaignId,
  contactId: ContactId,
  worker: string,
  end: Settlement,
): Promise<boolean> {
  const { rows } = await execute(
    db,
    sql`
    update ${deliveries} set state = ${stateAfter(end.step)}, answer = ${end.answer}, bounce = ${end.bounce ?? null}, next_at = ${end.nextAt ?? null},
      bounced_at = ${end.bouncedAt ?? null}, worker = null,
      attempts = attempts - ${end.uncount ? 1 : 0}
    where campaign_id = ${campaignId} and contact_id = ${contactId} and ${leadsOn(end.step)} and worker = ${worker}
    returning 1`,
  );
  return rows.length > 0;
}

export interface OneDelivery extends Record<string, unknown> {
  readonly state: DeliveryState;
  readonly address: string | null;
  readonly address_hash: Buffer;
  readonly first_tried_at: Date | null;
  readonly left_at: Date | null;
}

export async function delivery(
  db: Db,
  campaignId: CampaignId,
  contactId: ContactId,
): Promise<OneDelivery | undefined> {
  const { rows } = await execute<OneDelivery>(
    db,
    sql`select state, address, address_hash, first_tried_at, left_at from ${deliveries} where campaign_id = ${campaignId} and contact_id = ${contactId}`,
  );
  return rows[0];
}

/** Letters that wait when a campaign is stopped stay where they are. */
export async function stopWaiting(db: Db, campaignId: CampaignId, limit: number): Promise<number> {
  const { rows } = await execute<{ count: number }>(
    db,
    sql`
    with stopped as (
      update ${deliveries} set state = ${stateAfter('stop')}, next_at = null where (campaign_id, contact_id) in (
        select campaign_id, contact_id from ${deliveries} where campaign_id = ${campaignId} and ${leadsOn('stop')} limit ${limit}) returning 1)
    select count(*) as count from stopped`,
  );
  return rows[0]?.count ?? 0;
}

export async function isEverythingSettled(db: Db, campaignId: CampaignId): Promise<boolean> {
  const { rows } = await execute(
    db,
    sql`select 1 from ${deliveries} where campaign_id = ${campaignId} and ${isUnsettled()} limit 1`,
  );
  return rows.length === 0;
}

/** The coordinator's word on letters nobody knows about; returns the people and when their letter counts as accepted. */
export const settleUncertain = (
  db: Db,
  campaignId: CampaignId,
  step: 'count as sent' | 'send again',
  now: Date,
  limit: number,
): Promise<Settled[]> => settleAll(db, campaignId, step, now, limit);

/** Letters that were still to go out count as sent: they may have gone out where the data doesn't know of it. */
export const countAsSent = (
  db: Db,
  campaignId: CampaignId,
  now: Date,
  limit: number,
): Promise<Settled[]> => settleAll(db, campaignId, 'count all as sent', now, limit);

export interface Settled {
  readonly contactId: ContactId;
  readonly acceptedAt: Date | null;
}

async function settleAll(
  db: Db,
  campaignId: CampaignId,
  step: DeliveryStep,
  now: Date,
  limit: number,
): Promise<{ contactId: ContactId; acceptedAt: Date | null }[]> {
  const isAccepted = sql.raw(String(deliverySteps[step].to === 'accepted'));
  const { rows } = await execute<{ contact_id: ContactId; accepted_at: Date | null }>(
    db,
    sql`
    update ${deliveries} set state = ${stateAfter(step)}, accepted_at = case when ${isAccepted} then coalesce(first_tried_at, ${now}) end, answer = null, worker = null
      where campaign_id = ${campaignId} and contact_id in (select contact_id from ${deliveries} where campaign_id = ${campaignId} and ${leadsOn(step)} limit ${limit})
      returning contact_id, accepted_at`,
  );
  return rows.map((row) => ({ contactId: row.contact_id, acceptedAt: row.accepted_at }));
}

export async function countStates(
  db: Db,
  campaignId: CampaignId,
): Promise<Map<DeliveryState, number>> {
  const { rows } = await execute<{ state: DeliveryState; count: number }>(
    db,
    sql`select state, count(*) as count from ${deliveries} where campaign_id = ${campaignId} group by state`,
  );
  return new Map(rows.map(({ state, count }) => [state, count]));
}

export async function countFixed(db: Db, campaignId: CampaignId): Promise<number> {
  const { rows } = await execute<{ count: number }>(
    db,
    sql`select (select count(*) from ${deliveries} where campaign_id = ${campaignId}) + (select count(*) from ${heldBack} where campaign_id = ${campaignId}) as count`,
  );
  return rows[0]?.count ?? 0;
}

export const markLeft = async (
  db: Db,
  campaignId: CampaignId,
  contactId: ContactId,
  at: Date,
): Promise<void> => {
  await execute(
    db,
    sql`update ${deliveries} set left_at = coalesce(left_at, ${at}) where campaign_id = ${campaignId} and contact_id = ${contactId}`,
  );
};
