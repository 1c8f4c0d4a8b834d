// Facts that are kept by adding must equal what the event log and the deliveries say, counted anew.
import { sql } from 'drizzle-orm';
import { bounceCounts, writeRecentLetters } from '../contacts/index.js';
import { bouncesInARow, contactFacts, recentLetters } from '../delivery/person-facts.store.js';
import { factColumns, factOrNothing, factsFromLog } from '../delivery/facts.store.js';
import { execute, type Db } from '../platform/database.js';

const contactColumns = [
  'sent_count',
  'opened_count',
  'clicked_count',
  'last_sent_at',
  'last_opened_at',
  'last_clicked_at',
] as const;

const bits = ['letters', 'accepted', 'opened', 'clicked', 'bounced'];

/** Everybody's last letters count as known: whatever becomes of one from here on has to say that they are not any more. */
export const countRecent = (db: Db): Promise<void> =>
  writeRecentLetters(db, recentLetters, 0, 2 ** 31 - 1);

/** Deliveries and contacts whose facts are not what a rebuild gives; empty when all is well. */
export async function wrongFacts(db: Db): Promise<Record<string, unknown>[]> {
  const differs = (
    columns: readonly string[],
    expected: (column: string) => ReturnType<typeof sql>,
    of: string,
  ) =>
    sql.join(
      columns.map(
        (column) => sql`${sql.raw(`${of}.${column}`)} is distinct from ${expected(column)}`,
      ),
      sql` or `,
    );
  const { rows: deliveries } = await execute(
    db,
    sql`
    select 'delivery' as what, d.*, e.opens as log_opens, e.clicks as log_clicks, e.machine_opens as log_machine_opens, e.machine_clicks as log_machine_clicks
    from deliveries d left join (${factsFromLog(sql`true`)}) e on e.campaign_id = d.campaign_id and e.contact_id = d.contact_id
    where ${differs(factColumns, (column) => factOrNothing(column as (typeof factColumns)[number]), 'd')} limit 5`,
  );
  const { rows: contacts } = await execute(
    db,
    sql`
    select 'contact' as what, c.id, c.sent_count, f.sent_count as rebuilt_sent, c.opened_count, f.opened_count as rebuilt_opened, c.soft_bounces, c.unread_bounces
    from contacts c, lateral (${contactFacts(sql`c.id`)}) f
    where ${differs(contactColumns, (column) => sql.raw(`f.${column}`), 'c')} or ${sql.join(
      bounceCounts.map((count) => sql`c.${sql.raw(count)} <> ${bouncesInARow(count)}`),
      sql` or `,
    )} limit 5`,
  );
  const { rows: recent } = await execute(
    db,
    sql`
    select 'recent letters' as what, c.id, ${sql.join(
      bits.map((bit) => sql.raw(`c.recent_${bit}, r.${bit}`)),
      sql`, `,
    )} from contacts c left join (${recentLetters(() => sql`true`)}) r on r.contact_id = c.id
    where c.recent_letters is not null and not c.rating_due and (${differs(
      bits.map((bit) => `recent_${bit}`),
      (column) => sql.raw(`coalesce(r.${column.slice('recent_'.length)}, 0)`),
      'c',
    )}) limit 5`,
  );
  return [...deliveries, ...contacts, ...recent];
}
