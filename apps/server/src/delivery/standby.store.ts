// What was going out, or planned, when the data was as it is.
import { underWay, type CampaignStatus, type CampaignId } from '@palabra/core/campaigns';
import { sql } from 'drizzle-orm';
import { isIn } from '../campaigns/index.js';
import { execute, type Db } from '../platform/database.js';
import { isUnsettled } from './states.store.js';
import { deliveries, outbox } from './delivery.table.js';
import { campaigns } from '../campaigns/campaigns.table.js';

export interface HeldCampaign extends Record<string, unknown> {
  readonly id: CampaignId;
  readonly name: string;
  readonly status: CampaignStatus;
  readonly send_at: Date | null;
  readonly done: number;
  readonly open: number;
}

/** Campaigns that would send something by themselves. */
export async function goingOut(db: Db): Promise<HeldCampaign[]> {
  const { rows } = await execute<HeldCampaign>(
    db,
    sql`
    select k.id, k.name, k.status, k.send_at,
      (select count(*) from ${deliveries} d where d.campaign_id = k.id and d.state in ('accepted', 'bounced', 'gave up')) as done,
      (select count(*) from ${deliveries} d where d.campaign_id = k.id and (${isUnsettled('d')} or d.state = 'uncertain')) as open
    from ${campaigns} k where k.deleted_at is null and ${isIn(underWay, 'k')} order by k.id`,
  );
  return rows;
}

export async function countMails(db: Db): Promise<number> {
  const { rows } = await execute<{ count: number }>(
    db,
    sql`select count(*) as count from ${outbox} where state = 'waiting' and address is not null`,
  );
  return rows[0]?.count ?? 0;
}
