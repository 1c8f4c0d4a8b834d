// Facts about deliveries counted anew from the event log: the same sums that are otherwise kept by adding.
import type { CampaignId } from '@palabra/core/campaigns';
import type { ContactId } from '@palabra/core/contacts';
import { sql, type SQL } from 'drizzle-orm';
import { execute, type Db } from '../platform/database.js';
import { deliveries, events } from './delivery.table.js';

export interface DeliveryKey {
  readonly campaignId: CampaignId;
  readonly contactId: ContactId;
}

/** What the log says of each delivery. A person's click proves that the letter was opened. */
export const factsFromLog = (where: SQL): SQL => sql`
  select campaign_id, contact_id,
    count(*) filter (where kind = 'opened' and not machine)::int as opens, count(*) filter (where kind = 'opened' and machine)::int as machine_opens,
    count(*) filter (where kind = 'clicked' and not machine)::int as clicks, count(*) filter (where kind = 'clicked' and machine)::int as machine_clicks,
    min(at) filter (where kind in ('opened', 'clicked') and not machine) as first_opened_at, max(at) filter (where kind in ('opened', 'clicked') and not machine) as last_opened_at,
    min(at) filter (where kind = 'clicked' and not machine) as first_clicked_at, max(at) filter (where kind = 'clicked' and not machine) as last_clicked_at,
    coalesce(array_agg(distinct link) filter (where kind = 'clicked' and not machine and link is not null), '{}') as links,
    coalesce(array_agg(distinct link) filter (where kind = 'clicked' and machine and link is not null), '{}') as machine_links,
    min(at) filter (where kind = 'left') as left_at, min(at) filter (where kind = 'complained') as complained_at, min(at) filter (where kind = 'replied') as replied_at
  from ${events} where ${where} group by campaign_id, contact_id`;

export const factColumns = [
  'opens',
  'machine_opens',
  'clicks',
  'machine_clicks',
  'first_opened_at',
  'last_opened_at',
  'first_clicked_at',
  'last_clicked_at',
  'links',
  'machine_links',
  'left_at',
  'complained_at',
  'replied_at',
] as const;
/** A fact of `e`, which is missing where nothing happened. */
export function factOrNothing(column: (typeof factColumns)[number]): SQL {
  if (column.endsWith('_at')) return sql.raw(`e.${column}`);
  return sql.raw(`coalesce(e.${column}, ${column.endsWith('links') ? `'{}'` : '0'})`);
}

/** Counts some deliveries anew; needed when the label of an event changed. */
export async function recountDeliveries(db: Db, keys: readonly DeliveryKey[]): Promise<void> {
  if (keys.length === 0) return;
  const contacts = sql.param([...new Set(keys.map(({ contactId }) => contactId))]);
  const list = sql`jsonb_to_recordset(${JSON.stringify(keys.map(({ campaignId, contactId }) => ({ campaign_id: campaignId, contact_id: contactId })))}::jsonb) as k(campaign_id int, contact_id int)`;
  await execute(
    db,
    sql`
    update ${deliveries} d set ${sql.join(
      factColumns.map((column) => sql`${sql.raw(column)} = ${factOrNothing(column)}`),
      sql`, `,
    )}
    from ${list} left join (${factsFromLog(sql`contact_id = any(${contacts}::int[])`)}) e on e.campaign_id = k.campaign_id and e.contact_id = k.contact_id
    where d.campaign_id = k.campaign_id and d.contact_id = k.contact_id`,
  );
}
