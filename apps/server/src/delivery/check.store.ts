// Whether what is kept of people is what happened: deliveries against the log of events, people against their deliveries.
import type { CampaignId } from '@palabra/core/campaigns';
import type { ContactId } from '@palabra/core/contacts';
import { sql, type SQL } from 'drizzle-orm';
import { bounceCounts, factCounts, recentBits } from '../contacts/index.js';
import { contacts } from '../contacts/people/people.table.js';
import { execute, type Db } from '../platform/database.js';
import { deliveries } from './delivery.table.js';
import {
  factColumns,
  factOrNothing,
  factsFromLog,
  recountDeliveries,
  type DeliveryKey,
} from './facts.store.js';
import {
  bouncesInARow,
  contactFacts,
  recentLetters,
  recountContacts,
} from './person-facts.store.js';

const anyDiffers = (pairs: readonly (readonly [kept: SQL, counted: SQL])[]): SQL =>
  sql.join(
    pairs.map(([kept, counted]) => sql`${kept} is distinct from ${counted}`),
    sql` or `,
  );
const named = (of: string, column: string): SQL => sql.raw(`${of}.${column}`);

/** People with keys above `after` and up to `upTo`. */
interface Stretch {
  readonly after: number;
  readonly upTo: number;
}

async function wrongDeliveries(db: Db, { after, upTo }: Stretch): Promise<DeliveryKey[]> {
  const within = (column: SQL): SQL => sql`${column} > ${after} and ${column} <= ${upTo}`;
  const { rows } = await execute<{ campaign_id: CampaignId; contact_id: ContactId }>(
    db,
    sql`
    select d.campaign_id, d.contact_id from ${deliveries} d
      left join (${factsFromLog(within(sql`contact_id`))}) e on e.campaign_id = d.campaign_id and e.contact_id = d.contact_id
    where ${within(sql`d.contact_id`)} and (${anyDiffers(factColumns.map((column) => [named('d', column), factOrNothing(column)]))})
    order by d.contact_id, d.campaign_id`,
  );
  return rows.map((row) => ({ campaignId: row.campaign_id, contactId: row.contact_id }));
}

async function wrongPeople(db: Db, { after, upTo }: Stretch): Promise<ContactId[]> {
  const within = (column: SQL): SQL => sql`${column} > ${after} and ${column} <= ${upTo}`;
  const counted = anyDiffers([
    ...factCounts.map((column) => [named('c', column), named('f', column)] as const),
    ...bounceCounts.map((count) => [named('c', count), bouncesInARow(count)] as const),
  ]);
  const recent = anyDiffers(
    recentBits.map((bit) => [named('c', `recent_${bit}`), sql.raw(`coalesce(r.${bit}, 0)`)]),
  );
  const { rows } = await execute<{ id: ContactId }>(
    db,
    sql`
    select c.id from ${contacts} c cross join lateral (${contactFacts(sql`c.id`)}) f
      left join (${recentLetters(within)}) r on r.contact_id = c.id
    where ${within(sql`c.id`)} and (${counted} or c.recent_letters is not null and not c.rating_due and (${recent})) order by c.id`,
  );
  return rows.map(({ id }) => id);
}

/**
 * Counts anew, of some people, what is not as it happened, and returns whose it was. Their deliveries are locked before they
 * are counted, as whoever adds a response locks them: it is either counted here, or waits and is added to what was counted.
 */
export async function putRight(tx: Db, stretch: Stretch): Promise<ContactId[]> {
  const letters = await wrongDeliveries(tx, stretch);
  const people = [
    ...new Set([...letters.map(({ contactId }) => contactId), ...(await wrongPeople(tx, stretch))]),
  ];
  if (people.length === 0) return [];
  await execute(
    tx,
    sql`select 1 from ${deliveries} where contact_id = any(${sql.param(people)}::int[]) order by campaign_id, contact_id for update`,
  );
  await recountDeliveries(tx, letters);
  await recountContacts(tx, people);
  return people;
}
