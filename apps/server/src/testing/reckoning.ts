// All that is written of people, row by row, for the slow reckoning that what rules find is tried against.
import type { EventRow, LetterRow, OfficeRows, PersonRow } from '@palabra/core/reckoning';
import type { RuleContext } from '@palabra/core/segments';
import { sql } from 'drizzle-orm';
import { execute, type Db } from '../platform/database.js';

type Row = Record<string, unknown>;

const time = (value: unknown): number | null => (value instanceof Date ? value.getTime() : null);
const hex = (value: unknown): string | null =>
  Buffer.isBuffer(value) ? value.toString('hex') : null;

/** Columns of contacts that hold a field of the same name. */
const plain = [
  'given_name',
  'family_name',
  'town',
  'region',
  'postcode',
  'country',
  'stage',
  'street',
  'phone',
  'more_phones',
  'more_addresses',
  'external_number',
  'position',
  'source',
  'closeness',
  'address',
  'permission',
  'band',
  'shared_with',
];

export async function personRows(db: Db): Promise<ReadonlyMap<number, PersonRow>> {
  const all = async (table: string): Promise<Row[]> =>
    (await execute<Row>(db, sql`select * from ${sql.identifier(table)}`)).rows;
  const tags = await all('contact_tags');
  const deliveries = await all('deliveries');
  const events = await all('events');
  const blocked = await all('do_not_mail');
  const topics = await all('dropped_topics');
  const courses = await all('rating_courses');
  const members = await all('segment_members');
  return new Map(
    (await all('contacts')).map((row) => {
      const id = Number(row['id']);
      const of = (rows: readonly Row[]): Row[] =>
        rows.filter(({ contact_id }) => contact_id === id);
      const hash = hex(row['address_hash']);
      const byHash = (rows: readonly Row[]): Row[] =>
        rows.filter(({ address_hash }) => hash !== null && hex(address_hash) === hash);
      const [entry] = byHash(blocked);
      const [course] = of(courses);
      const person: PersonRow = {
        values: {
          ...Object.fromEntries(plain.map((key) => [key, row[key] ?? null])),
          ...(row['fields'] as Row),
          owner: String(row['owner_id']),
        },
        tags: new Map(of(tags).map((one) => [Number(one['tag_id']), time(one['at'])])),
        pool: Number(row['pool_id']),
        cameIn: time(row['created_at']) ?? NaN,
        changed: time(row['updated_at']) ?? NaN,
        lastContact: time(row['last_contact_at']),
        letters: of(deliveries).map((one): LetterRow => ({
          campaign: Number(one['campaign_id']),
          state: String(one['state']),
          bounce: one['bounce'] as string | null,
          to: hex(one['address_hash']) ?? '',
          triedAt: time(one['first_tried_at']),
          acceptedAt: time(one['accepted_at']),
        })),
        events: of(events).map((one): EventRow => ({
          campaign: Number(one['campaign_id']),
          kind: String(one['kind']),
          at: time(one['at']) ?? NaN,
          machine: one['machine'] === true,
          link: one['link'] as number | null,
        })),
        doNotMail: entry ? { reason: String(entry['reason']), at: time(entry['at']) ?? NaN } : null,
        droppedTopics: byHash(topics).map((one) => Number(one['topic_id'])),
        position:
          row['lat'] === null || row['lon'] === null
            ? null
            : { lat: Number(row['lat']), lon: Number(row['lon']) },
        rating: row['rating'] as number | null,
        course: course
          ? {
              countedAt: time(course['counted_at']) ?? NaN,
              points: course['points'] as (number | null)[],
            }
          : null,
        listedIn: of(members)
          .filter(({ taken_at }) => taken_at === null)
          .map((one) => Number(one['segment_id'])),
      };
      return [id, person];
    }),
  );
}

export const officeRows = (context: RuleContext, segments: OfficeRows['segments']): OfficeRows => ({
  context,
  now: Date.now(),
  segments,
});
