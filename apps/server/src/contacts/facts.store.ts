// Facts about a contact that deliveries and events add to; rebuildable from them.
import { sql, type SQL } from 'drizzle-orm';
import { execute, type Db } from '../platform/database.js';

const counted = {
  soft_bounces: sql`(d.state = 'gave up' or d.state = 'bounced' and d.bounce = 'soft')`,
  unread_bounces: sql`d.state = 'bounced' and d.bounce = 'other'`,
} as const;
export type BounceCount = keyof typeof counted;
export const bounceCounts: readonly BounceCount[] = ['soft_bounces', 'unread_bounces'];

/** Bounces of a kind in a row at the present address of `contacts c`; those tried before `accepted`, where it is not null, are over. */
export const bouncesInARow = (
  count: BounceCount,
  accepted: SQL = sql`null::timestamptz`,
): SQL => sql`(
  select count(*)::int from deliveries d where d.contact_id = c.id and d.address_hash = c.address_hash and ${counted[count]}
    and d.first_tried_at > greatest(${accepted}, coalesce(c.soft_since, '-infinity'), coalesce(
      (select max(a.first_tried_at) from deliveries a where a.contact_id = c.id and a.address_hash = c.address_hash and a.state = 'accepted'), '-infinity')))`;

/**
 * Counts letters that were accepted, at most one to a contact. What came back before counts no more.
 * `sent` has contact_id, at and tried_at; a letter that is not yet seen as accepted is known by its tried_at.
 */
export const countSentOf = (sent: SQL): SQL => sql`
  update contacts c set sent_count = c.sent_count + 1, last_sent_at = greatest(c.last_sent_at, s.at), 
    ${sql.join(
      bounceCounts.map(
        (count) =>
          sql`${sql.raw(count)} = case when c.${sql.raw(count)} = 0 then 0 else ${bouncesInARow(count, sql`s.tried_at`)} end`,
      ),
      sql`, `,
    )}
  from ${sent} s where c.id = s.contact_id`;

export async function countSent(
  db: Db,
  sent: readonly { readonly contactId: number; readonly at: Date }[],
): Promise<void> {
  if (sent.length === 0) return;
  await execute(
    db,
    countSentOf(sql`(
    select contact_id, at, null::timestamptz as tried_at
    from unnest(${sql.param(sent.map(({ contactId }) => contactId))}::int[], ${sql.param(sent.map(({ at }) => at.toISOString()))}::timestamptz[]) u(contact_id, at))`),
  );
}

export interface ResponseFact {
  readonly contactId: number;
  /** When a letter was handed over of which only this response shows that it arrived. */
  readonly arrivedAt: Date | null;
  /** Letters opened or clicked for the first time, and when it last happened. */
  readonly newlyOpened: number;
  readonly newlyClicked: number;
  readonly openedAt: Date | null;
  readonly clickedAt: Date | null;
}

/** Adds a group of responses by people in one statement. */
export async function countResponses(db: Db, facts: readonly ResponseFact[]): Promise<void> {
  if (facts.length === 0) return;
  await execute(
    db,
    sql`
    update contacts c set
      sent_count = c.sent_count + f.arrived, last_sent_at = greatest(c.last_sent_at, f.arrived_at),
      opened_count = c.opened_count + f.opened, clicked_count = c.clicked_count + f.clicked,
      last_opened_at = greatest(c.last_opened_at, f.opened_at), last_clicked_at = greatest(c.last_clicked_at, f.clicked_at)
    from (select id, count(arrived_at) as arrived, max(arrived_at) as arrived_at, sum(opened) as opened, sum(clicked) as clicked, max(opened_at) as opened_at, max(clicked_at) as clicked_at
      from jsonb_to_recordset(${JSON.stringify(facts.map((fact) => ({ id: fact.contactId, arrived_at: fact.arrivedAt, opened: fact.newlyOpened, clicked: fact.newlyClicked, opened_at: fact.openedAt, clicked_at: fact.clickedAt })))}::jsonb)
        as g(id int, arrived_at timestamptz, opened int, clicked int, opened_at timestamptz, clicked_at timestamptz) group by id) f
    where c.id = f.id`,
  );
}

/** What a contact's deliveries say: letters that went out, opened, clicked. */
export const contactFacts = (contact: SQL): SQL => sql`
  select count(d.accepted_at)::int as sent_count, count(d.first_opened_at)::int as opened_count, count(d.first_clicked_at)::int as clicked_count,
    max(d.accepted_at) as last_sent_at, max(d.last_opened_at) as last_opened_at, max(d.last_clicked_at) as last_clicked_at
  from deliveries d where d.contact_id = ${contact}`;

/** Counts the facts of some contacts anew from their deliveries. */
export async function recountContacts(db: Db, ids: readonly number[]): Promise<void> {
  if (ids.length === 0) return;
  await execute(
    db,
    sql`
    update contacts c set sent_count = f.sent_count, opened_count = f.opened_count, clicked_count = f.clicked_count,
      last_sent_at = f.last_sent_at, last_opened_at = f.last_opened_at, last_clicked_at = f.last_clicked_at
    from contacts me, lateral (${contactFacts(sql`me.id`)}) f where me.id = any(${sql.param([...new Set(ids)])}::int[]) and c.id = me.id`,
  );
  await recountBounces(db, ids);
}

export async function recountBounces(db: Db, ids: readonly number[]): Promise<void> {
  if (ids.length === 0) return;
  await execute(
    db,
    sql`update contacts c set ${sql.join(
      bounceCounts.map((count) => sql`${sql.raw(count)} = ${bouncesInARow(count)}`),
      sql`, `,
    )} where c.id = any(${sql.param([...new Set(ids)])}::int[])`,
  );
}

/** Forgets bounces: the next letter is tried. */
export const tryAgain = async (db: Db, id: number, now: Date): Promise<void> => {
  await execute(
    db,
    sql`update contacts set soft_since = ${now}, soft_bounces = 0, unread_bounces = 0, version = version + 1 where id = ${id}`,
  );
};
