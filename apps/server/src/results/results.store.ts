import type { CampaignStatus } from '@palabra/core/campaigns';
import type { ResultCounts } from '@palabra/core/results';
import { sql } from 'drizzle-orm';
import { execute, type Db } from '../platform/database.js';

export interface ResultRow extends Record<string, unknown> {
  readonly id: number;
  readonly name: string;
  readonly subject: string | null;
  readonly status: CampaignStatus;
  readonly started_at: Date;
  readonly sent: number;
  readonly delivered: number;
  readonly opened: number;
  readonly clicked: number;
  readonly bounced: number;
  readonly left_count: number;
}

/** Campaigns that went out, latest first, with their figures counted from the deliveries of this page only. */
export async function sentCampaigns(db: Db, before: Date | undefined, limit: number): Promise<ResultRow[]> {
  const { rows } = await execute<ResultRow>(db, sql`
    with page as materialized (
      select id, name, subject, status, started_at from campaigns
      where deleted_at is null and started_at is not null ${before ? sql`and started_at < ${before}` : sql``}
      order by started_at desc, id desc limit ${limit})
    select page.*, f.* from page, lateral (
      select count(*) filter (where state in ('handing over', 'accepted', 'deferred', 'bounced', 'gave up', 'uncertain')) as sent,
        count(*) filter (where state = 'accepted') as delivered, count(first_opened_at) as opened, count(first_clicked_at) as clicked,
        count(*) filter (where state = 'bounced') as bounced, count(left_at) as left_count
      from deliveries d where d.campaign_id = page.id) f
    order by page.started_at desc, page.id desc`);
  return rows;
}

export async function resultCounts(db: Db, campaignId: number): Promise<ResultCounts> {
  const { rows } = await execute<{ [K in keyof ResultCounts]: number }>(db, sql`
    select count(*) filter (where state in ('handing over', 'accepted', 'deferred', 'bounced', 'gave up', 'uncertain')) as sent,
      count(*) filter (where state = 'accepted') as accepted, count(*) filter (where state = 'bounced') as bounced,
      count(*) filter (where state = 'bounced' and bounce = 'hard') as "bouncedHard", count(*) filter (where state = 'gave up') as "gaveUp",
      count(*) filter (where state = 'deferred') as deferred, count(*) filter (where state = 'uncertain') as uncertain, count(*) filter (where state = 'stopped') as stopped,
      count(*) filter (where state = 'held back') as "heldBackLate", count(*) filter (where state in ('waiting', 'handing over')) as waiting,
      count(first_opened_at) as opened, count(first_clicked_at) as clicked, count(left_at) as left,
      count(*) filter (where machine_opens > 0) as "machineOpened", count(*) filter (where machine_clicks > 0) as "machineClicked"
    from deliveries where campaign_id = ${campaignId}`);
  const [row] = rows;
  if (!row) throw new Error('no counts');
  return row;
}

export async function clicksByLink(db: Db, campaignId: number): Promise<Map<number, number>> {
  const { rows } = await execute<{ link: number; people: number }>(db, sql`
    select link, count(distinct contact_id) as people from events where campaign_id = ${campaignId} and kind = 'clicked' and not machine group by link`);
  return new Map(rows.map(({ link, people }) => [link, people]));
}

export interface Point extends Record<string, unknown> {
  readonly at: Date;
  readonly opened: number;
  readonly clicked: number;
  readonly machines: number;
}

/** When people opened and clicked for the first time, and when machines did, in steps. */
export async function overTime(db: Db, campaignId: number, step: 'minute' | 'hour', timeZone: string, until: Date): Promise<Point[]> {
  const { rows } = await execute<Point>(db, sql`
    with firsts as (
      select min(at) as at, kind, machine from events where campaign_id = ${campaignId} and kind in ('opened', 'clicked') and at < ${until} group by kind, machine, contact_id)
    select date_trunc(${step}, at, ${timeZone}) as at,
      count(*) filter (where kind = 'opened' and not machine) as opened, count(*) filter (where kind = 'clicked' and not machine) as clicked, count(*) filter (where machine) as machines
    from firsts group by 1 order by 1`);
  return rows;
}

export interface Since extends Record<string, unknown> {
  readonly came_in: number;
  readonly left_count: number;
  readonly hard_bounces: number;
}

/** What happened with people since a moment, as the office's figures. */
export async function since(db: Db, from: Date): Promise<Since> {
  const { rows } = await execute<Since>(db, sql`
    select (select count(*) from contacts where created_at >= ${from} and deleted_at is null) as came_in,
      (select count(*) from do_not_mail where at >= ${from} and reason = 'left') as left_count,
      (select count(*) from do_not_mail where at >= ${from} and reason = 'hard bounce') as hard_bounces`);
  return rows[0] ?? { came_in: 0, left_count: 0, hard_bounces: 0 };
}

export const cameInSince = (from: Date) => sql`c.created_at >= ${from}`;
export const onDoNotMailSince = (from: Date, reason: string) => sql`c.address_hash in (select address_hash from do_not_mail where at >= ${from} and reason = ${reason})`;
export const respondedSince = (from: Date) => sql`(c.last_opened_at >= ${from} or c.last_clicked_at >= ${from})`;
