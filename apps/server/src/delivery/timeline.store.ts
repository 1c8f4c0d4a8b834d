// What the rows of delivery say on a person's timeline: one entry for a letter, with all that was done with it.
import type { LetterHappening } from '@palabra/contract/contacts';
import type { CampaignId } from '@palabra/core/campaigns';
import type { ContactId } from '@palabra/core/contacts';
import type { EventKind } from '@palabra/core/delivery';
import { sql } from 'drizzle-orm';
import { campaigns } from '../campaigns/campaigns.table.js';
import type { TimelineSource } from '../contacts/index.js';
import { execute, type Db } from '../platform/database.js';
import { deliveries, events, heldBack, returnedMail } from './delivery.table.js';

/** What was done with a letter beyond this many times is counted only. */
const SHOWN = 50;

/** As the query has it: kind, when, which link, why it is taken for a machine’s. */
type Done = readonly [EventKind, string, number | null, string | null];

/** A letter that arrived reads as sent, even if it came back later. */
export const lettersOf: TimelineSource = {
  rows: (contactId) => sql`
  select 'letter' as kind, 'd' || d.campaign_id as key, greatest(coalesce(d.accepted_at, d.bounced_at, d.first_tried_at, k.fixed_at), e.last) as at, d.campaign_id, k.name as campaign,
    case when d.state = 'accepted' or (d.state = 'bounced' and d.accepted_at is not null) then 'sent' else d.state end as state,
    case when d.state = 'accepted' then null else d.answer end as detail, null::text as who,
    jsonb_build_object('sentAt', coalesce(d.accepted_at, d.first_tried_at), 'done', coalesce(e.done, '[]'), 'further', coalesce(e.further, 0)) as more
  from ${deliveries} d join ${campaigns} k on k.id = d.campaign_id left join (
    select campaign_id, max(at) as last, count(*) filter (where place > ${SHOWN}) as further,
      jsonb_agg(jsonb_build_array(kind, at, link, case when machine then coalesce(why, 'a machine') end) order by place) filter (where place <= ${SHOWN}) as done
    from (select e.*, row_number() over (partition by e.campaign_id order by e.at desc, e.id desc) as place from ${events} e
      where e.contact_id = ${contactId} and e.kind <> 'bounced') e group by campaign_id) e on e.campaign_id = d.campaign_id
  where d.contact_id = ${contactId}`,
  complete: async (db, contactId, rows) => {
    const letters = rows.filter(({ kind }) => kind === 'letter');
    const doneIn = ({ more }: (typeof rows)[number]): readonly Done[] =>
      (more as { readonly done?: readonly Done[] } | null)?.done ?? [];
    const where = (kind: EventKind): CampaignId[] =>
      letters.flatMap((row) =>
        row.campaign_id !== null && doneIn(row).some(([one]) => one === kind)
          ? [row.campaign_id]
          : [],
      );
    const links = await linksOf(db, where('clicked'));
    const replies = await repliesOf(db, contactId, where('replied'));
    const told = (campaign: number, [kind, at, link, machine]: Done): LetterHappening => ({
      kind,
      at: new Date(at).toISOString(),
      machine,
      detail:
        kind === 'clicked'
          ? (links.get(campaign)?.[link ?? -1]?.label ?? null)
          : kind === 'replied'
            ? (replies.get(campaign) ?? null)
            : null,
    });
    return rows.map((row) =>
      row.kind === 'letter'
        ? {
            ...row,
            more: {
              ...(row.more as object | null),
              done: doneIn(row).map((done) => told(row.campaign_id ?? 0, done)),
            },
          }
        : row,
    );
  },
};

async function linksOf(
  db: Db,
  ids: readonly CampaignId[],
): Promise<ReadonlyMap<number, readonly { readonly label: string }[]>> {
  if (ids.length === 0) return new Map();
  const { rows } = await execute<{ id: number; links: { label: string }[] | null }>(
    db,
    sql`select id, compiled -> 'links' as links from ${campaigns} where id = any(${sql.param([...ids])}::int[])`,
  );
  return new Map(rows.map(({ id, links }) => [id, links ?? []]));
}

/** How somebody’s replies to some letters begin. */
async function repliesOf(
  db: Db,
  contactId: ContactId,
  ids: readonly CampaignId[],
): Promise<ReadonlyMap<number, string>> {
  if (ids.length === 0) return new Map();
  const { rows } = await execute<{ campaign_id: number; excerpt: string }>(
    db,
    sql`select distinct on (campaign_id) campaign_id, excerpt from ${returnedMail}
      where contact_id = ${contactId} and campaign_id = any(${sql.param([...ids])}::int[]) and kind = 'reply' and excerpt <> '' order by campaign_id, at desc`,
  );
  return new Map(rows.map(({ campaign_id, excerpt }) => [campaign_id, excerpt]));
}

export const heldBackOf: TimelineSource = {
  rows: (contactId) => sql`
  select 'letter' as kind, 'h' || h.campaign_id as key, k.fixed_at as at, h.campaign_id, k.name as campaign, 'held back' as state, h.reason as detail, null::text as who, null::jsonb as more
  from ${heldBack} h join ${campaigns} k on k.id = h.campaign_id where h.contact_id = ${contactId} and k.fixed_at is not null`,
};
