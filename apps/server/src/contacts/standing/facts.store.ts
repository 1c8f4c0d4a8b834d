// Facts about a contact that letters and what readers do add to; whoever keeps those can count them anew.
import type { ContactId } from '@palabra/core/contacts';
import { sql, type SQL } from 'drizzle-orm';
import { execute, type Db } from '../../platform/database.js';
import { contacts } from '../people/people.table.js';

export const bounceCounts = ['soft_bounces', 'unread_bounces'] as const;
/** What is kept with a person of all their letters. */
export const factCounts = [
  'delivered_count',
  'opened_count',
  'clicked_count',
  'last_sent_at',
  'last_opened_at',
  'last_clicked_at',
] as const;
/** What became of the last letters to them, as bits: the columns `recent_…`. */
export const recentBits = ['letters', 'accepted', 'opened', 'clicked', 'bounced'] as const;
export type BounceCount = (typeof bounceCounts)[number];

/** How many bounces of a kind a person has had in a row, as SQL on `contacts c`; whoever keeps the letters says it. */
export type BouncesInARow = (count: BounceCount) => SQL;

/**
 * Counts letters that were accepted, at most one to a contact. What came back before counts no more.
 * `sent` has contact_id, at and tried_at; a letter that is not yet seen as accepted is known by its tried_at.
 */
export const countSentOf = (sent: SQL, inARow: BouncesInARow): SQL => sql`
  update ${contacts} c set rating_due = true, delivered_count = c.delivered_count + 1, last_sent_at = greatest(c.last_sent_at, s.at), 
    ${sql.join(
      bounceCounts.map(
        (count) =>
          sql`${sql.raw(count)} = case when c.${sql.raw(count)} = 0 then 0 else ${inARow(count)} end`,
      ),
      sql`, `,
    )}
  from ${sent} s where c.id = s.contact_id`;

export async function countSent(
  db: Db,
  sent: readonly { readonly contactId: ContactId; readonly at: Date }[],
  inARow: BouncesInARow,
): Promise<void> {
  if (sent.length === 0) return;
  await execute(
    db,
    countSentOf(
      sql`(
    select contact_id, at, null::timestamptz as tried_at
    from unnest(${sql.param(sent.map(({ contactId }) => contactId))}::int[], ${sql.param(sent.map(({ at }) => at.toISOString()))}::timestamptz[]) u(contact_id, at))`,
      inARow,
    ),
  );
}

export interface ResponseFact {
  readonly contactId: ContactId;
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
    update ${contacts} c set rating_due = true,
      delivered_count = c.delivered_count + f.arrived, last_sent_at = greatest(c.last_sent_at, f.arrived_at),
      opened_count = c.opened_count + f.opened, clicked_count = c.clicked_count + f.clicked,
      last_opened_at = greatest(c.last_opened_at, f.opened_at), last_clicked_at = greatest(c.last_clicked_at, f.clicked_at)
    from (select id, count(arrived_at) as arrived, max(arrived_at) as arrived_at, sum(opened) as opened, sum(clicked) as clicked, max(opened_at) as opened_at, max(clicked_at) as clicked_at
      from jsonb_to_recordset(${JSON.stringify(facts.map((fact) => ({ id: fact.contactId, arrived_at: fact.arrivedAt, opened: fact.newlyOpened, clicked: fact.newlyClicked, opened_at: fact.openedAt, clicked_at: fact.clickedAt })))}::jsonb)
        as g(id int, arrived_at timestamptz, opened int, clicked int, opened_at timestamptz, clicked_at timestamptz) group by id) f
    where c.id = f.id`,
  );
}

/** Writes the facts of some contacts as they were counted anew: `facts` is a query for one contact, by its column names. */
export async function writeFacts(
  db: Db,
  ids: readonly ContactId[],
  facts: (contact: SQL) => SQL,
): Promise<void> {
  if (ids.length === 0) return;
  await execute(
    db,
    sql`
    update ${contacts} c set rating_due = true, delivered_count = f.delivered_count, opened_count = f.opened_count, clicked_count = f.clicked_count,
      last_sent_at = f.last_sent_at, last_opened_at = f.last_opened_at, last_clicked_at = f.last_clicked_at
    from ${contacts} me, lateral (${facts(sql`me.id`)}) f where me.id = any(${sql.param([...new Set(ids)])}::int[]) and c.id = me.id`,
  );
}

export async function writeBounces(
  db: Db,
  ids: readonly ContactId[],
  inARow: BouncesInARow,
): Promise<void> {
  if (ids.length === 0) return;
  await execute(
    db,
    sql`update ${contacts} c set rating_due = true, ${sql.join(
      bounceCounts.map((count) => sql`${sql.raw(count)} = ${inARow(count)}`),
      sql`, `,
    )} where c.id = any(${sql.param([...new Set(ids)])}::int[])`,
  );
}

/** They answered, or somebody of the office had to do with them. */
export const hadContact = async (db: Db, id: ContactId, at: Date): Promise<void> => {
  await execute(
    db,
    sql`update ${contacts} set rating_due = true, last_contact_at = greatest(last_contact_at, ${at}::timestamptz) where id = ${id}`,
  );
};

/** The same, counted anew: `at` is null where nobody ever had to do with them. */
export const writeLastContact = async (db: Db, id: ContactId, at: SQL): Promise<void> => {
  await execute(db, sql`update ${contacts} set last_contact_at = ${at} where id = ${id}`);
};

/** Forgets bounces: the next letter is tried. */
export const tryAgain = async (db: Db, id: ContactId, now: Date): Promise<void> => {
  await execute(
    db,
    sql`update ${contacts} set soft_since = ${now}, soft_bounces = 0, unread_bounces = 0, version = version + 1 where id = ${id}`,
  );
};
