// What happened with one person: letters, responses and changes in one order.
import { sql } from 'drizzle-orm';
import { execute, type Db } from '../platform/database.js';

export interface TimelineRow extends Record<string, unknown> {
  readonly kind: string;
  readonly key: string;
  readonly at: Date;
  readonly campaign_id: number | null;
  readonly campaign: string | null;
  readonly detail: string | null;
  readonly machine: string | null;
  readonly who: string | null;
  readonly fields: string[] | null;
}

/** Where a page ended; several things may have happened at the same moment. */
export interface TimelineCursor {
  readonly at: Date;
  readonly key: string;
}

export async function timeline(
  db: Db,
  contactId: number,
  before: TimelineCursor | undefined,
  limit: number,
): Promise<TimelineRow[]> {
  const { rows } = await execute<TimelineRow>(
    db,
    sql`
    with entries as (
      select case when d.state = 'accepted' or (d.state = 'bounced' and d.accepted_at is not null) then 'sent' else d.state end as kind,
        'd' || d.campaign_id as key, coalesce(d.accepted_at, d.bounced_at, d.first_tried_at, k.fixed_at) as at, d.campaign_id,
        case when d.state = 'accepted' then null else d.answer end as detail, null::text as machine, null::text as who, null::text[] as fields
      from deliveries d join campaigns k on k.id = d.campaign_id where d.contact_id = ${contactId}
      union all
      select e.kind, 'e' || e.id, e.at, e.campaign_id,
        case when e.kind = 'clicked' then (select k.compiled -> 'links' -> e.link::int ->> 'label' from campaigns k where k.id = e.campaign_id) end,
        case when e.machine then coalesce(e.why, 'a machine') end, null, null
      from events e where e.contact_id = ${contactId} and e.kind <> 'bounced'
      union all
      select 'held back', 'h' || h.campaign_id, k.fixed_at, h.campaign_id, h.reason, null, null, null
      from held_back h join campaigns k on k.id = h.campaign_id where h.contact_id = ${contactId} and k.fixed_at is not null
      union all
      select 'changed', 'c' || s.id, s.at, null, s.what, null, u.name, array(select jsonb_object_keys(i.after))
      from change_items i join change_sets s on s.id = i.set_id left join users u on u.id = s.user_id where i.contact_id = ${contactId}
      union all
      select 'came in', 'a', c.created_at, null, c.permission_source, null, null, null from contacts c where c.id = ${contactId}
    )
    select entries.*, k.name as campaign from entries left join campaigns k on k.id = entries.campaign_id
    where entries.at is not null ${before ? sql`and (entries.at, entries.key) < (${before.at}, ${before.key})` : sql``}
    order by entries.at desc, entries.key desc limit ${limit}`,
  );
  return rows;
}
