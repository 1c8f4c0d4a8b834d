// What is known of one person, as rules see them: one loader for each fact, asked only for those that a rule needs.
import type { Standing } from '@palabra/core/contacts';
import { dayIn } from '@palabra/core/office';
import type { FactName, Facts, Person, RuleContext } from '@palabra/core/segments';
import { and, eq, isNull, sql } from 'drizzle-orm';
import {
  automaticTagIds,
  type ContactRow,
  contactTagIds,
  doNotMailEntry,
  droppedBy,
  knownCourse,
  knownValue,
  standing,
} from '../contacts/index.js';
import { contacts, contactTags } from '../contacts/people/people.table.js';
import { execute, type Db } from '../platform/database.js';
import { lettersTo } from './letters.store.js';
import { segmentMembers } from './segments.table.js';

const loaders: {
  readonly [F in FactName]: (db: Db, row: ContactRow, context: RuleContext) => Promise<Facts[F]>;
} = {
  values: (_, row, context) =>
    Promise.resolve(
      Object.fromEntries(
        context.fields.map((field) => [field.key, knownValue(row, field, context)]),
      ),
    ),
  tags: async (db, { id }) =>
    new Set([...(await contactTagIds(db, id)), ...(await automaticTagIds(db, id))]),
  tagPutOn: async (db, { id }) => {
    const { rows } = await execute<{ tag_id: number; at: Date }>(
      db,
      sql`select tag_id, at from ${contactTags} where contact_id = ${id} and at is not null`,
    );
    return new Map(rows.map(({ tag_id, at }) => [tag_id, at.getTime()]));
  },
  standing: async (db, { id }) => {
    const { rows } = await execute<{ standing: Standing }>(
      db,
      sql`select (${standing}) as standing from ${contacts} c where c.id = ${id}`,
    );
    return rows[0]?.standing ?? 'no address';
  },
  doNotMail: async (db, { addressHash }, { timeZone }) => {
    const entry = await doNotMailEntry(db, addressHash);
    return entry ? { reason: entry.reason, on: dayIn(timeZone, entry.at) } : null;
  },
  droppedTopics: async (db, { addressHash }) =>
    addressHash ? droppedBy(db, addressHash) : new Set(),
  letters: (db, { id }) => lettersTo(db, id),
  moments: (_, { createdAt, updatedAt }) =>
    Promise.resolve({ cameIn: createdAt.getTime(), changed: updatedAt.getTime() }),
  position: (_, { lat, lon }) =>
    Promise.resolve(lat === null || lon === null ? null : { lat, lon }),
  pool: (_, { poolId }) => Promise.resolve(poolId),
  listedIn: async (db, { id }) => {
    const rows = await db
      .select({ id: segmentMembers.segmentId })
      .from(segmentMembers)
      .where(and(eq(segmentMembers.contactId, id), isNull(segmentMembers.takenAt)));
    return new Set(rows.map((row) => row.id));
  },
  ratingCourse: (db, { id }, { today, timeZone }) => knownCourse(db, id, today, timeZone),
};

export const factNames = Object.keys(loaders) as readonly FactName[];

export async function loadPerson(
  db: Db,
  row: ContactRow,
  facts: Iterable<FactName>,
  context: RuleContext,
): Promise<Person> {
  const loaded: [FactName, unknown][] = [];
  for (const fact of facts) loaded.push([fact, await loaders[fact](db, row, context)]);
  return Object.fromEntries(loaded);
}
