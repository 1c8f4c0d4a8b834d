// What deliveries say of a person, counted by adding or anew. Contacts keeps the figures; what they mean stands here.
import type { ContactId } from '@palabra/core/contacts';
import { LETTERS_LAST } from '@palabra/core/segments';
import { sql, type SQL } from 'drizzle-orm';
import {
  type BounceCount,
  type LettersQuery,
  countSent as addSent,
  countSentOf as addSentOf,
  writeBounces,
  writeFacts,
} from '../contacts/index.js';
import type { Db } from '../platform/database.js';
import { deliveries, latestFirst } from './delivery.table.js';

const counted: { readonly [B in BounceCount]: SQL } = {
  soft_bounces: sql`(d.state = 'gave up' or d.state = 'bounced' and d.bounce = 'soft')`,
  unread_bounces: sql`d.state = 'bounced' and d.bounce = 'other'`,
};

/** Bounces of a kind in a row at the present address of `contacts c`; those tried before `accepted`, where it is not null, are over. */
export const bouncesInARow = (
  count: BounceCount,
  accepted: SQL = sql`null::timestamptz`,
): SQL => sql`(
  select count(*)::int from ${deliveries} d where d.contact_id = c.id and d.address_hash = c.address_hash and ${counted[count]}
    and d.first_tried_at > greatest(${accepted}, coalesce(c.soft_since, '-infinity'), coalesce(
      (select max(a.first_tried_at) from ${deliveries} a where a.contact_id = c.id and a.address_hash = c.address_hash and a.state = 'accepted'), '-infinity')))`;

/** What a contact's deliveries say: letters that arrived and did not come back, that were opened, that were clicked in. */
export const contactFacts = (contact: SQL): SQL => sql`
  select (count(*) filter (where d.state = 'accepted'))::int as delivered_count, count(d.first_opened_at)::int as opened_count, count(d.first_clicked_at)::int as clicked_count,
    max(d.accepted_at) as last_sent_at, max(d.last_opened_at) as last_opened_at, max(d.last_clicked_at) as last_clicked_at
  from ${deliveries} d where d.contact_id = ${contact}`;

const minute = (moment: SQL): SQL => sql`floor(date_part('epoch', ${moment}) / 60)::int`;

/** What people did with the letters that arrived and did not come back; machines are not among those who opened and clicked. */
export const ratedLetters: LettersQuery = (among) => sql`
  select d.contact_id, string_agg(${minute(sql`d.accepted_at`)} || case
    when d.first_opened_at is null and d.first_clicked_at is null and d.replied_at is null then ''
    else concat(':', ${minute(sql`d.first_opened_at`)}, ',', ${minute(sql`d.first_clicked_at`)}, ',', ${minute(sql`d.replied_at`)}) end, ';') as letters
  from ${deliveries} d where ${among(sql`d.contact_id`)} and d.accepted_at is not null and d.state <> 'bounced' group by d.contact_id`;

/** Nothing that is tried now; of that it is not kept what becomes of it, and there is little at a time. */
const CLOSED = sql.raw(`d.state in ('accepted', 'bounced', 'gave up')`);

/** The last letters to people as bits: see `contacts.recentLetters`. */
export const recentLetters: LettersQuery = (among) => {
  const bits = (is: SQL): SQL =>
    sql`coalesce(bit_or(1::bigint << d.place) filter (where ${is}), 0)`;
  return sql`
  select d.contact_id, ${bits(sql`true`)} as letters, ${bits(sql`d.state = 'accepted'`)} as accepted, ${bits(sql`d.first_opened_at is not null`)} as opened,
    ${bits(sql`d.first_clicked_at is not null`)} as clicked, ${bits(sql`d.state = 'bounced'`)} as bounced
  from (select d.contact_id, d.state, d.first_opened_at, d.first_clicked_at, row_number() over (partition by d.contact_id order by ${latestFirst})::int - 1 as place
    from ${deliveries} d where ${among(sql`d.contact_id`)} and ${CLOSED}) d
  where d.place < ${LETTERS_LAST} group by d.contact_id`;
};

/** Somebody for whom a letter was meant. A condition on `contacts c`. */
export const hasLetters: SQL = sql`exists (select 1 from ${deliveries} d where d.contact_id = c.id)`;

/** Counts letters that were accepted, at most one to a contact; `sent` has contact_id, at and tried_at. */
export const countSentOf = (sent: SQL): SQL =>
  addSentOf(sent, (count) => bouncesInARow(count, sql`s.tried_at`));

export const countSent = (
  db: Db,
  sent: readonly { readonly contactId: ContactId; readonly at: Date }[],
): Promise<void> => addSent(db, sent, (count) => bouncesInARow(count, sql`s.tried_at`));

/** Counts the facts of some contacts anew from their deliveries. */
export async function recountContacts(db: Db, ids: readonly ContactId[]): Promise<void> {
  await writeFacts(db, ids, contactFacts);
  await recountBounces(db, ids);
}

export const recountBounces = (db: Db, ids: readonly ContactId[]): Promise<void> =>
  writeBounces(db, ids, bouncesInARow);
