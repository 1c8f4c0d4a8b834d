import { isOver, type CampaignStatus, type CampaignId } from '@palabra/core/campaigns';
import type { ResultCounts } from '@palabra/core/results';
import { and, eq, sql, type SQL } from 'drizzle-orm';
import { countedNumbers, isWhole } from '../delivery/index.js';
import { living } from '../contacts/index.js';
import { execute, type Db } from '../platform/database.js';
import { countedResults, type LinkClicks, type ResultDetail } from './results.table.js';
import { doNotMail } from '../contacts/standing/standing.table.js';
import { deliveries, events } from '../delivery/delivery.table.js';
import { contacts } from '../contacts/people/people.table.js';
import { campaigns } from '../campaigns/campaigns.table.js';

export interface SentCampaign extends Record<string, unknown> {
  readonly id: CampaignId;
  readonly name: string;
  readonly subject: string | null;
  readonly status: CampaignStatus;
  readonly started_at: Date;
  readonly facts_version: number;
}

/** Campaigns that went out, latest first. */
export async function sentCampaigns(
  db: Db,
  before: Date | undefined,
  limit: number,
): Promise<SentCampaign[]> {
  const { rows } = await execute<SentCampaign>(
    db,
    sql`
    select id, name, subject, status, started_at, facts_version from ${campaigns}
    where deleted_at is null and started_at is not null ${before ? sql`and started_at < ${before}` : sql``}
    order by started_at desc, id desc limit ${limit}`,
  );
  return rows;
}

export interface Counted {
  readonly id: CampaignId;
  readonly status: CampaignStatus;
  readonly factsVersion: number;
}

async function kept(
  db: Db,
  campaign: Counted,
): Promise<typeof countedResults.$inferSelect | undefined> {
  if (!isOver(campaign.status)) return undefined;
  const [row] = await db
    .select()
    .from(countedResults)
    .where(
      and(
        eq(countedResults.campaignId, campaign.id),
        eq(countedResults.factsVersion, campaign.factsVersion),
      ),
    );
  return row && isWhole(row.counts) ? row : undefined;
}

/** Counts of one campaign: those kept when nothing has happened since, else counted now. */
export async function countsOf(db: Db, campaign: Counted): Promise<ResultCounts> {
  const known = await kept(db, campaign);
  if (known) return known.counts;
  const counts = await resultCounts(db, campaign.id);
  if (isOver(campaign.status)) {
    const values = { factsVersion: campaign.factsVersion, counts, detail: null };
    await db
      .insert(countedResults)
      .values({ campaignId: campaign.id, ...values })
      .onConflictDoUpdate({ target: countedResults.campaignId, set: values });
  }
  return counts;
}

/** Clicks by link and the course over time, kept in the same way; `count` makes them. */
export async function detailOf(
  db: Db,
  campaign: Counted,
  count: () => Promise<ResultDetail>,
): Promise<ResultDetail> {
  const known = await kept(db, campaign);
  if (known?.detail) return known.detail;
  const detail = await count();
  await db
    .update(countedResults)
    .set({ detail })
    .where(
      and(
        eq(countedResults.campaignId, campaign.id),
        eq(countedResults.factsVersion, campaign.factsVersion),
      ),
    );
  return detail;
}

/** `among`, a condition on contacts, says of whom. */
export async function resultCounts(
  db: Db,
  campaignId: CampaignId,
  among?: SQL,
): Promise<ResultCounts> {
  const { rows } = await execute<{ [K in keyof ResultCounts]: number }>(
    db,
    sql`
    select ${countedNumbers}
    from ${deliveries} where campaign_id = ${campaignId}
      ${among ? sql`and contact_id in (select c.id from ${contacts} c where ${among})` : sql``}`,
  );
  const [row] = rows;
  if (!row) throw new Error('no counts');
  return row;
}

/** People who followed each link, and those for whom a machine did. */
export async function clicksByLink(
  db: Db,
  campaignId: CampaignId,
): Promise<Record<string, LinkClicks>> {
  const { rows } = await execute<{ link: number; people: number; machines: number }>(
    db,
    sql`
    select link, count(distinct contact_id) filter (where not machine) as people, count(distinct contact_id) filter (where machine) as machines
    from ${events} where campaign_id = ${campaignId} and kind = 'clicked' group by link`,
  );
  return Object.fromEntries(rows.map(({ link, people, machines }) => [link, { people, machines }]));
}

export interface Point extends Record<string, unknown> {
  readonly at: Date;
  readonly opened: number;
  readonly clicked: number;
  readonly machines: number;
}

/** When people opened and clicked for the first time, and when machines came by, in steps. */
export async function overTime(
  db: Db,
  campaignId: CampaignId,
  step: 'minute' | 'hour',
  timeZone: string,
  until: Date,
): Promise<Point[]> {
  const { rows } = await execute<Point>(
    db,
    sql`
    with marks as (
      select date_trunc(${step}, first_opened_at, ${timeZone}) as at, 1 as opened, 0 as clicked, 0 as machines from ${deliveries} where campaign_id = ${campaignId} and first_opened_at < ${until}
      union all
      select date_trunc(${step}, first_clicked_at, ${timeZone}), 0, 1, 0 from ${deliveries} where campaign_id = ${campaignId} and first_clicked_at < ${until}
      union all
      select date_trunc(${step}, at, ${timeZone}), 0, 0, 1 from ${events} where campaign_id = ${campaignId} and machine and at < ${until})
    select at, sum(opened)::int as opened, sum(clicked)::int as clicked, sum(machines)::int as machines from marks group by at order by at`,
  );
  return rows;
}

export interface Since extends Record<string, unknown> {
  readonly came_in: number;
  readonly left_count: number;
  readonly hard_bounces: number;
}

export const cameInSince = (from: Date) => sql`c.created_at >= ${from}`;
export const onDoNotMailSince = (from: Date, reason: string) =>
  sql`c.address_hash in (select address_hash from ${doNotMail} where at >= ${from} and reason = ${reason})`;
export const respondedSince = (from: Date) =>
  sql`(c.last_opened_at >= ${from} or c.last_clicked_at >= ${from})`;

/** What happened with the people `seen` since a moment: each figure is the length of the list it opens. */
export async function since(db: Db, from: Date, seen: SQL): Promise<Since> {
  const countOf = (people: SQL) =>
    sql`select count(*) from ${contacts} c where ${living} and ${seen} and ${people}`;
  const { rows } = await execute<Since>(
    db,
    sql`
    select (${countOf(cameInSince(from))}) as came_in, (${countOf(onDoNotMailSince(from, 'left'))}) as left_count, (${countOf(onDoNotMailSince(from, 'hard bounce'))}) as hard_bounces`,
  );
  return rows[0] ?? { came_in: 0, left_count: 0, hard_bounces: 0 };
}
