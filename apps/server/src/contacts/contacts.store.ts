// Single contacts and small batches of them.
import { and, eq, inArray, isNotNull, isNull, sql } from 'drizzle-orm';
import { execute, type Db } from '../platform/database.js';
import { contacts, contactTags } from './contacts.table.js';
import { followAddress } from './do-not-mail.store.js';
import type { ContactRow } from './values.js';

export type NewContact = typeof contacts.$inferInsert;

export async function contactById(db: Db, id: number): Promise<ContactRow | undefined> {
  const [row] = await db
    .select()
    .from(contacts)
    .where(and(eq(contacts.id, id), isNull(contacts.deletedAt)));
  return row;
}

export const contactsById = (db: Db, ids: readonly number[]): Promise<ContactRow[]> =>
  ids.length === 0
    ? Promise.resolve([])
    : db
        .select()
        .from(contacts)
        .where(and(inArray(contacts.id, [...ids]), isNull(contacts.deletedAt)))
        .for('update');

/** Contacts as they are now, deleted ones too: a letter that is under way still needs its reader's name. */
export const anyContacts = (db: Db, ids: readonly number[]): Promise<ContactRow[]> =>
  ids.length === 0
    ? Promise.resolve([])
    : db
        .select()
        .from(contacts)
        .where(inArray(contacts.id, [...ids]));

/**
 * The people of a pool at some addresses. Each is looked up by the unique key, one after another: asked for a list at
 * once, a server's planner takes the index of word pieces, and each address costs milliseconds.
 */
export const contactsByAddress = (
  db: Db,
  poolId: number,
  addressKeys: readonly string[],
): Promise<ContactRow[]> =>
  addressKeys.length === 0
    ? Promise.resolve([])
    : db
        .select()
        .from(contacts)
        .where(
          sql`${contacts.id} in (select found.id from unnest(${sql.param(addressKeys)}::text[]) asked(key) cross join lateral (
            select c.id from ${contacts} c where c.pool_id = ${poolId} and c.address_key = asked.key collate "C" and c.deleted_at is null limit 1) found)`,
        );

/** Lets the planner know how many addresses there are and that few people are deleted; a pool that has grown without its knowledge is read whole for every look-up. */
export const learnAddresses = async (db: Db): Promise<void> => {
  await db.execute(sql`analyze contacts (pool_id, address_key, deleted_at)`);
};

/**
 * Adds contacts; their keys come back in the order of the rows. The rows go over as one JSON value: a
 * parameter for every cell costs more than writing them.
 */
export async function addContacts(db: Db, rows: readonly NewContact[]): Promise<number[]> {
  if (rows.length === 0) return [];
  const values = rows.map((row) => ({
    ...row,
    addressHash: row.addressHash && `\\x${row.addressHash.toString('hex')}`,
  }));
  const { rows: added } = await execute<{ id: number }>(
    db,
    sql`
    insert into contacts (pool_id, owner_id, given_name, family_name, search_key, address, address_key, address_hash, town, region, postcode, country, stage,
      fields, keys, permission, permission_at, permission_source, created_at, updated_at)
    select "poolId", "ownerId", coalesce("givenName", ''), coalesce("familyName", ''), coalesce("searchKey", ''), address, "addressKey", "addressHash", town, region, postcode, country, stage,
      coalesce(fields, '{}'), coalesce(keys, '{}'), coalesce(permission, 'unknown'), "permissionAt", "permissionSource", "createdAt", "updatedAt"
    from jsonb_to_recordset(${JSON.stringify(values)}::jsonb) as r("poolId" int, "ownerId" int, "givenName" text, "familyName" text, "searchKey" text, address text, "addressKey" text,
      "addressHash" bytea, town text, region text, postcode text, country text, stage text, fields jsonb, keys jsonb, permission text, "permissionAt" timestamptz, "permissionSource" text,
      "createdAt" timestamptz, "updatedAt" timestamptz)
    returning id`,
  );
  return added.map(({ id }) => id);
}

/**
 * Writes columns over a contact of the version seen; undefined when it was changed in the meantime. The one place
 * where an address becomes another, so what follows the person is taken along here, whoever changes it.
 */
export async function changeContact(
  db: Db,
  id: number,
  version: number,
  columns: Partial<ContactRow>,
  now: Date,
): Promise<ContactRow | undefined> {
  const isMoving = 'addressHash' in columns;
  const [before] = isMoving
    ? await db
        .select({ hash: contacts.addressHash, former: contacts.formerHash })
        .from(contacts)
        .where(eq(contacts.id, id))
    : [];
  // One who has no address for a while is the same person afterwards.
  const from = before?.hash ?? before?.former ?? null;
  const [row] = await db
    .update(contacts)
    .set({
      ...columns,
      ...(isMoving ? { formerHash: from } : {}),
      version: sql`version + 1`,
      updatedAt: now,
    })
    .where(and(eq(contacts.id, id), eq(contacts.version, version), isNull(contacts.deletedAt)))
    .returning();
  if (row?.addressHash && from && !from.equals(row.addressHash))
    await followAddress(db, from, row.addressHash, row.address);
  return row;
}

export async function contactTagIds(db: Db, id: number): Promise<number[]> {
  const rows = await db
    .select({ tagId: contactTags.tagId })
    .from(contactTags)
    .where(eq(contactTags.contactId, id))
    .orderBy(contactTags.tagId);
  return rows.map(({ tagId }) => tagId);
}

/** Puts tags on contacts; returns the pairs that were new. */
export async function putTags(
  db: Db,
  contactIds: readonly number[],
  tagIds: readonly number[],
): Promise<{ contactId: number; tagId: number }[]> {
  if (contactIds.length === 0 || tagIds.length === 0) return [];
  return db
    .insert(contactTags)
    .values(contactIds.flatMap((contactId) => tagIds.map((tagId) => ({ contactId, tagId }))))
    .onConflictDoNothing()
    .returning();
}

export const takeTag = async (db: Db, contactId: number, tagId: number): Promise<boolean> => {
  const rows = await db
    .delete(contactTags)
    .where(and(eq(contactTags.contactId, contactId), eq(contactTags.tagId, tagId)))
    .returning();
  return rows.length > 0;
};

export const markDeleted = async (db: Db, ids: readonly number[], now: Date): Promise<void> => {
  if (ids.length === 0) return;
  await db
    .update(contacts)
    .set({ deletedAt: now, version: sql`version + 1` })
    .where(inArray(contacts.id, [...ids]));
  await db.delete(contactTags).where(inArray(contactTags.contactId, [...ids]));
};

/** Deleted contacts, to be brought back; whoever was not deleted is not among them. */
export const deletedById = (db: Db, ids: readonly number[]): Promise<ContactRow[]> =>
  ids.length === 0
    ? Promise.resolve([])
    : db
        .select()
        .from(contacts)
        .where(and(inArray(contacts.id, [...ids]), isNotNull(contacts.deletedAt)))
        .for('update');

export const bringBack = async (db: Db, id: number): Promise<void> => {
  await db
    .update(contacts)
    .set({ deletedAt: null, version: sql`version + 1` })
    .where(eq(contacts.id, id));
};

/** The tags of several contacts. */
export async function tagsOf(db: Db, ids: readonly number[]): Promise<Map<number, number[]>> {
  const rows =
    ids.length === 0
      ? []
      : await db
          .select()
          .from(contactTags)
          .where(inArray(contactTags.contactId, [...ids]));
  const found = new Map<number, number[]>();
  for (const { contactId, tagId } of rows)
    found.set(contactId, [...(found.get(contactId) ?? []), tagId]);
  return found;
}
