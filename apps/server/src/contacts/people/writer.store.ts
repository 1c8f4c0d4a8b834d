// The statements of the one writer of people.
import type { ContactId, TagId } from '@palabra/core/contacts';
import { inArray, sql, type SQL } from 'drizzle-orm';
import { execute, type Db } from '../../platform/database.js';
import { positionsOf, whereabouts } from '../places/places.store.js';
import { changeSets, happenings } from '../changes/changes.table.js';
import { contacts, contactTags } from './people.table.js';
import type { LockedContact } from './person.store.js';
import type { ContactRow } from './values.js';

export type NewContact = typeof contacts.$inferInsert;

/** What is written of a contact, by its type. Rows go over as one JSON value: a parameter for every cell costs more than writing them. */
const written = {
  poolId: 'int',
  ownerId: 'int',
  sharedWith: 'text',
  givenName: 'text',
  familyName: 'text',
  searchKey: 'text',
  address: 'text',
  addressKey: 'text',
  addressHash: 'bytea',
  formerHash: 'bytea',
  moreAddresses: 'text',
  moreKeys: 'text[]',
  moreHashes: 'bytea[]',
  town: 'text',
  region: 'text',
  postcode: 'text',
  country: 'text',
  stage: 'text',
  street: 'text',
  phone: 'text',
  morePhones: 'text',
  position: 'text',
  externalNumber: 'text',
  source: 'text',
  closeness: 'text',
  fields: 'jsonb',
  keys: 'jsonb',
  permission: 'text',
  permissionAt: 'timestamptz',
  permissionSource: 'text',
  permissionWording: 'text',
} as const satisfies { readonly [K in keyof ContactRow]?: string };
type WrittenColumn = keyof typeof written;
const columnsWritten = Object.keys(written) as WrittenColumn[];

/** What somebody new has where nothing is said. */
const EMPTY = {
  givenName: '',
  familyName: '',
  searchKey: '',
  moreKeys: [],
  moreHashes: [],
  fields: {},
  keys: {},
  permission: 'unknown',
} as const;

const nameOf = (column: string): string =>
  column.replace(/[A-Z]/g, (letter) => `_${letter.toLowerCase()}`);
const listed = (map: (column: WrittenColumn) => string): SQL =>
  sql.raw(columnsWritten.map(map).join(', '));
const typed = listed((column) => `"${column}" ${written[column]}`);

const hex = (value: unknown): unknown =>
  Buffer.isBuffer(value)
    ? `\\x${value.toString('hex')}`
    : Array.isArray(value)
      ? value.map(hex)
      : value;
const asJson = (row: Readonly<Record<string, unknown>>): Record<string, unknown> =>
  Object.fromEntries(columnsWritten.map((column) => [column, hex(row[column])]));

/** Adds contacts; their keys come back in the order of the rows. */
export async function addContacts(db: Db, rows: readonly NewContact[]): Promise<ContactId[]> {
  const [first] = rows;
  if (!first) return [];
  const values = rows.map((row) => asJson({ ...EMPTY, ...row }));
  const { rows: added } = await execute<{ id: ContactId }>(
    db,
    sql`
    with r as materialized (select r.*, ${whereabouts(sql`r.keys`)} as whereabouts from jsonb_to_recordset(${JSON.stringify(values)}::jsonb) as r(${typed})),
      p as materialized (${positionsOf(sql`select whereabouts from r`)})
    insert into ${contacts} (${listed(nameOf)}, created_at, updated_at, lat, lon)
    select ${listed((column) => `r."${column}"`)}, ${first.createdAt}::timestamptz, ${first.updatedAt}::timestamptz, p.lat, p.lon
    from r left join p on p.whereabouts = r.whereabouts
    returning id`,
  );
  return added.map(({ id }) => id);
}

/** Whoever moved has another place, or none that is known. */
const moved = sql`r.whereabouts is distinct from ${whereabouts(sql`c.keys`)}`;

/** What locked contacts become, all in one statement. */
export async function writeOver(
  db: Db,
  changes: readonly { readonly row: LockedContact; readonly columns: Partial<ContactRow> }[],
  now: Date,
): Promise<void> {
  if (changes.length === 0) return;
  const values = changes.map(({ row, columns }) => ({
    id: row.id,
    ...asJson({ ...row, ...columns }),
  }));
  await execute(
    db,
    sql`
    with r as materialized (select r.*, ${whereabouts(sql`r.keys`)} as whereabouts from jsonb_to_recordset(${JSON.stringify(values)}::jsonb) as r(id int, ${typed})),
      p as materialized (${positionsOf(sql`select r.whereabouts from r join ${contacts} c on c.id = r.id where ${moved}`)})
    update ${contacts} c set ${listed((column) => `${nameOf(column)} = r."${column}"`)},
      version = c.version + 1, updated_at = ${now},
      lat = case when ${moved} then p.lat else c.lat end, lon = case when ${moved} then p.lon else c.lon end
    from r left join p on p.whereabouts = r.whereabouts
    where c.id = r.id`,
  );
}

export interface Tagging {
  readonly contactId: ContactId;
  readonly tagId: TagId;
}

/** When a tag was put on last, by what holds: of `contact_id` and `tag_id` of a row `r`. */
const putOnBefore = sql`(select max(s.at) from ${happenings} h join ${changeSets} s on s.id = h.set_id
  where h.contact_id = r.contact_id and h.kind = 'tag put on' and h.which = r.tag_id::text
    and s.undoes is null and s.undone_at is null and not coalesce(s.todo ? 'tagGone', false))`;

/** Puts tags on contacts; returns the pairs that were new. `again`: they had them before, since when they had them then. */
export async function putTags(
  db: Db,
  pairs: readonly Tagging[],
  at: Date | 'again',
): Promise<Tagging[]> {
  if (pairs.length === 0) return [];
  const { rows } = await execute<{ contact_id: ContactId; tag_id: TagId }>(
    db,
    sql`
    insert into ${contactTags} (contact_id, tag_id, at)
    select r.contact_id, r.tag_id, ${at === 'again' ? putOnBefore : sql`${at}::timestamptz`} from unnest(${sql.param(pairs.map(({ contactId }) => contactId))}::int[], ${sql.param(pairs.map(({ tagId }) => tagId))}::int[]) r(contact_id, tag_id)
    on conflict do nothing returning contact_id, tag_id`,
  );
  return rows.map(taggingOf);
}

const taggingOf = (row: { readonly contact_id: ContactId; readonly tag_id: TagId }): Tagging => ({
  contactId: row.contact_id,
  tagId: row.tag_id,
});

/** Takes tags off; returns the pairs that were there. */
export async function takeTags(db: Db, pairs: readonly Tagging[]): Promise<Tagging[]> {
  if (pairs.length === 0) return [];
  const { rows } = await execute<{ contact_id: ContactId; tag_id: TagId }>(
    db,
    sql`
    delete from ${contactTags} t
    using unnest(${sql.param(pairs.map(({ contactId }) => contactId))}::int[], ${sql.param(pairs.map(({ tagId }) => tagId))}::int[]) as r(contact_id, tag_id)
    where t.contact_id = r.contact_id and t.tag_id = r.tag_id returning t.contact_id, t.tag_id`,
  );
  return rows.map(taggingOf);
}

export const markDeleted = async (db: Db, ids: readonly ContactId[], now: Date): Promise<void> => {
  if (ids.length === 0) return;
  await db
    .update(contacts)
    .set({ deletedAt: now, version: sql`version + 1` })
    .where(inArray(contacts.id, [...ids]));
  await db.delete(contactTags).where(inArray(contactTags.contactId, [...ids]));
};

export const bringBack = async (db: Db, ids: readonly ContactId[]): Promise<void> => {
  if (ids.length === 0) return;
  await db
    .update(contacts)
    .set({ deletedAt: null, version: sql`version + 1` })
    .where(inArray(contacts.id, [...ids]));
};
