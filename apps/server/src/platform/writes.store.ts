// How often tables were written, so that what was found in them is asked again only where something was.
import { sql } from 'drizzle-orm';
import { execute, type Db } from './database.js';

/**
 * The tables that rules ask. Each has a trigger that counts the statements which write it; of contacts, what became of
 * their letters is counted apart.
 */
export const counted = [
  'contacts',
  'contact_courses',
  'contact_tags',
  'deliveries',
  'happenings',
  'change_sets',
  'segment_members',
  'do_not_mail',
  'dropped_topics',
  'rating_courses',
  'offices',
] as const;
/** The columns of contacts in which stands what became of their letters, and what follows from it. */
export const courseColumns = [
  'delivered_count',
  'opened_count',
  'clicked_count',
  'last_sent_at',
  'last_opened_at',
  'last_clicked_at',
  'last_contact_at',
  'soft_bounces',
  'soft_since',
  'unread_bounces',
  'rating',
  'band',
  'rating_high',
  'rating_low',
  'rating_due',
  'recent_letters',
  'recent_accepted',
  'recent_opened',
  'recent_clicked',
  'recent_bounced',
] as const;
export type Counted = (typeof counted)[number];

/** How many statements wrote each table so far; a count is of a run of the database, and never seen twice. */
export type Writes = Readonly<Record<Counted, string>>;

const writes = sql`select extract(epoch from pg_postmaster_start_time())::text as since, ${sql.join(
  counted.map((table) => sql.raw(`(select last_value from changes_of_${table})::text as ${table}`)),
  sql`, `,
)}`;

export async function readWrites(db: Db): Promise<Writes> {
  const { rows } = await execute<Record<string, string>>(db, writes);
  const row = rows[0] ?? {};
  return Object.fromEntries(
    counted.map((table) => [table, `${row['since'] ?? ''}/${row[table] ?? ''}`]),
  ) as Writes;
}

/**
 * Whether no writing is under way that may be counted already while it can't be seen yet: what is found then is of the
 * count read before. A transaction that writes holds a lock on its own number until what it wrote is seen.
 */
export async function isNobodyWriting(db: Db): Promise<boolean> {
  const { rows } = await execute<{ quiet: boolean }>(
    db,
    sql`select not exists (select 1 from pg_locks where locktype = 'transactionid' and mode = 'ExclusiveLock' and granted and pid is distinct from pg_backend_pid()) as quiet`,
  );
  return rows[0]?.quiet ?? false;
}
