// The event log, and the facts on deliveries that are derived from it in the same transaction.
import type { CampaignId } from '@palabra/core/campaigns';
import type { ContactId } from '@palabra/core/contacts';
import type { DeliveryState } from '@palabra/core/delivery';
import { sql, type SQL } from 'drizzle-orm';
import type { ResponseFact } from '../contacts/index.js';
import { execute, type Db } from '../platform/database.js';
import type { EventKind } from '@palabra/core/delivery';
import type { DeliveryKey } from './facts.store.js';
import { leadsOn, stateAfter } from './states.store.js';
import { deliveries, events } from './delivery.table.js';

export interface ReaderEvent {
  readonly kind: EventKind;
  readonly at: Date;
  readonly campaignId: CampaignId;
  readonly contactId: ContactId;
  readonly link: number | null;
  readonly machine: boolean;
  readonly why: string | null;
}

export async function addEvents(db: Db, added: readonly ReaderEvent[]): Promise<void> {
  if (added.length === 0) return;
  await execute(
    db,
    sql`
    insert into ${events} (kind, at, campaign_id, contact_id, link, machine, why)
    select kind, at, campaign_id, contact_id, link, machine, why from jsonb_to_recordset(${JSON.stringify(
      added.map((event) => ({
        kind: event.kind,
        at: event.at,
        campaign_id: event.campaignId,
        contact_id: event.contactId,
        link: event.link,
        machine: event.machine,
        why: event.why,
      })),
    )}::jsonb) as e(kind text, at timestamptz, campaign_id int, contact_id int, link smallint, machine boolean, why text)`,
  );
}

export interface SeenDelivery extends Record<string, unknown> {
  readonly campaign_id: CampaignId;
  readonly contact_id: ContactId;
  readonly state: DeliveryState;
  readonly accepted_at: Date | null;
}

const asKeys = (keys: readonly DeliveryKey[]): SQL =>
  sql`jsonb_to_recordset(${JSON.stringify(keys.map(({ campaignId, contactId }) => ({ campaign_id: campaignId, contact_id: contactId })))}::jsonb) as k(campaign_id int, contact_id int)`;

export async function seenDeliveries(
  db: Db,
  keys: readonly DeliveryKey[],
): Promise<SeenDelivery[]> {
  const { rows } = await execute<SeenDelivery>(
    db,
    sql`select d.campaign_id, d.contact_id, d.state, d.accepted_at from ${asKeys(keys)} join ${deliveries} d on d.campaign_id = k.campaign_id and d.contact_id = k.contact_id`,
  );
  return rows;
}

export interface WrittenClick extends Record<string, unknown> {
  readonly id: number;
  readonly at: Date;
  readonly campaign_id: CampaignId;
  readonly contact_id: ContactId;
  readonly link: number | null;
  readonly why: string | null;
}

/** Clicks of these people that were written since a moment. */
export async function clicksSince(
  db: Db,
  contactIds: readonly ContactId[],
  since: Date,
): Promise<WrittenClick[]> {
  if (contactIds.length === 0) return [];
  const { rows } = await execute<WrittenClick>(
    db,
    sql`
    select id, at, campaign_id, contact_id, link, why from ${events} where contact_id = any(${sql.param(contactIds)}::int[]) and at >= ${since} and kind = 'clicked'`,
  );
  return rows;
}

/** Says of written events that a machine made them. */
export async function relabel(
  db: Db,
  labels: readonly { readonly id: number; readonly why: string }[],
): Promise<void> {
  if (labels.length === 0) return;
  await execute(
    db,
    sql`update ${events} e set machine = true, why = l.why from jsonb_to_recordset(${JSON.stringify(labels)}::jsonb) as l(id bigint, why text) where e.id = l.id`,
  );
}

interface Sum {
  readonly campaign_id: CampaignId;
  readonly contact_id: ContactId;
  opens: number;
  machine_opens: number;
  clicks: number;
  machine_clicks: number;
  first_opened: Date | null;
  last_opened: Date | null;
  first_clicked: Date | null;
  last_clicked: Date | null;
  links: number[];
  machine_links: number[];
}

/** Opens and clicks of a group of events, summed per delivery. A person's click proves that the letter was opened. */
export function sumUp(group: readonly ReaderEvent[]): Sum[] {
  const sums = new Map<string, Sum>();
  for (const { kind, at, campaignId, contactId, link, machine } of group) {
    if (kind !== 'opened' && kind !== 'clicked') continue;
    const key = `${campaignId} ${contactId}`;
    const sum = sums.get(key) ?? {
      campaign_id: campaignId,
      contact_id: contactId,
      opens: 0,
      machine_opens: 0,
      clicks: 0,
      machine_clicks: 0,
      first_opened: null,
      last_opened: null,
      first_clicked: null,
      last_clicked: null,
      links: [],
      machine_links: [],
    };
    sums.set(key, sum);
    if (kind === 'clicked' && link !== null) {
      const own = machine ? sum.machine_links : sum.links;
      if (!own.includes(link)) own.push(link);
    }
    if (machine) {
      if (kind === 'opened') sum.machine_opens++;
      else sum.machine_clicks++;
      continue;
    }
    if (kind === 'opened') sum.opens++;
    else {
      sum.clicks++;
      sum.first_clicked = earlier(sum.first_clicked, at);
      sum.last_clicked = later(sum.last_clicked, at);
    }
    sum.first_opened = earlier(sum.first_opened, at);
    sum.last_opened = later(sum.last_opened, at);
  }
  return [...sums.values()];
}

const earlier = (a: Date | null, b: Date): Date => (a && a <= b ? a : b);
const later = (a: Date | null, b: Date): Date => (a && a >= b ? a : b);

/** The links of `d` and those that are added, each once. */
const united = (column: 'links' | 'machine_links'): SQL =>
  sql.raw(
    `case when f.${column} <@ d.${column} then d.${column} else (select array_agg(distinct l order by l) from unnest(d.${column} || f.${column}) l) end`,
  );

/**
 * Adds sums to the deliveries; returns what the contacts' own facts need. A person's response settles an uncertain letter.
 * The rows are locked, in the order of their keys, by what the update reads: a lock beside it would skip every row that the
 * update got to first, because a statement does not lock what it has changed itself.
 */
export async function addToDeliveries(db: Db, sums: readonly Sum[]): Promise<ResponseFact[]> {
  if (sums.length === 0) return [];
  const { rows } = await execute<{
    contact_id: ContactId;
    arrived_at: Date | null;
    newly_opened: boolean;
    newly_clicked: boolean;
    opened_at: Date | null;
    clicked_at: Date | null;
  }>(
    db,
    sql`
    with sums as (select * from jsonb_to_recordset(${JSON.stringify(sums)}::jsonb) as s(campaign_id int, contact_id int, opens int, machine_opens int, clicks int, machine_clicks int,
        first_opened timestamptz, last_opened timestamptz, first_clicked timestamptz, last_clicked timestamptz, links smallint[], machine_links smallint[])),
    f as (select s.*, d.state, d.first_tried_at, d.first_opened_at as was_opened_at, d.first_clicked_at as was_clicked_at
      from sums s join ${deliveries} d on d.campaign_id = s.campaign_id and d.contact_id = s.contact_id order by d.campaign_id, d.contact_id for update of d)
    update ${deliveries} d set
        opens = d.opens + f.opens, machine_opens = d.machine_opens + f.machine_opens, clicks = d.clicks + f.clicks, machine_clicks = d.machine_clicks + f.machine_clicks,
        first_opened_at = least(d.first_opened_at, f.first_opened), last_opened_at = greatest(d.last_opened_at, f.last_opened),
        first_clicked_at = least(d.first_clicked_at, f.first_clicked), last_clicked_at = greatest(d.last_clicked_at, f.last_clicked),
        links = ${united('links')}, machine_links = ${united('machine_links')},
        state = case when ${leadsOn('seen', 'd')} and f.first_opened is not null then ${stateAfter('seen')} else d.state end,
        accepted_at = case when ${leadsOn('seen', 'd')} and f.first_opened is not null then coalesce(d.accepted_at, d.first_tried_at, f.first_opened) else d.accepted_at end
      from f where d.campaign_id = f.campaign_id and d.contact_id = f.contact_id
      returning d.contact_id, case when ${leadsOn('seen', 'f')} and f.first_opened is not null then coalesce(f.first_tried_at, f.first_opened) end as arrived_at,
        f.was_opened_at is null and f.first_opened is not null as newly_opened, f.was_clicked_at is null and f.first_clicked is not null as newly_clicked,
        f.last_opened as opened_at, f.last_clicked as clicked_at`,
  );
  // What machines alone did says nothing about a person.
  return rows
    .filter((row) => row.opened_at !== null)
    .map((row) => ({
      contactId: row.contact_id,
      arrivedAt: row.arrived_at,
      newlyOpened: Number(row.newly_opened),
      newlyClicked: Number(row.newly_clicked),
      openedAt: row.opened_at,
      clickedAt: row.clicked_at,
    }));
}
