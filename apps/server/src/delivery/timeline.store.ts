// What the rows of delivery say on a person's timeline.
import { sql } from 'drizzle-orm';
import { campaigns } from '../campaigns/campaigns.table.js';
import type { TimelineSource } from '../contacts/index.js';
import { deliveries, events, heldBack } from './delivery.table.js';

/** A letter that arrived reads as sent, even if it came back later. */
export const lettersOf: TimelineSource = (contactId) => sql`
  select case when d.state = 'accepted' or (d.state = 'bounced' and d.accepted_at is not null) then 'sent' else d.state end,
    'd' || d.campaign_id, coalesce(d.accepted_at, d.bounced_at, d.first_tried_at, k.fixed_at), d.campaign_id, k.name,
    case when d.state = 'accepted' then null else d.answer end, null, null, null
  from ${deliveries} d join ${campaigns} k on k.id = d.campaign_id where d.contact_id = ${contactId}`;

export const responsesOf: TimelineSource = (contactId) => sql`
  select e.kind, 'e' || e.id, e.at, e.campaign_id, k.name,
    case when e.kind = 'clicked' then k.compiled -> 'links' -> e.link::int ->> 'label' end,
    case when e.machine then coalesce(e.why, 'a machine') end, null, null
  from ${events} e left join ${campaigns} k on k.id = e.campaign_id where e.contact_id = ${contactId} and e.kind <> 'bounced'`;

export const heldBackOf: TimelineSource = (contactId) => sql`
  select 'held back', 'h' || h.campaign_id, k.fixed_at, h.campaign_id, k.name, h.reason, null, null, null
  from ${heldBack} h join ${campaigns} k on k.id = h.campaign_id where h.contact_id = ${contactId} and k.fixed_at is not null`;
