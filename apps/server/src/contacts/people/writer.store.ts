// The statements of the one writer of people.
import type { ContactId, TagId } from '@palabra/core/contacts';
import { inArray, sql } from 'drizzle-orm';
import { execute, type Db } from '../../platform/database.js';
import { contacts, contactTags } from './people.table.js';
import type { LockedContact } from './person.store.js';
import type { ContactRow } from './values.js';

export type NewContact = typeof contacts.$inferInsert;

const hex = (bytes: Buffer | null | undefined): string | null | undefined =>
  bytes && `\\x${bytes.toString('hex')}`;

/**
 * Adds contacts; their keys come back in the order of the rows. The rows go over as one JSON value: a
 * parameter for every cell costs more than writing them.
 */
export async function addContacts(db: Db, rows: readonly NewContact[]): Promise<ContactId[]> {
  if (rows.length === 0) return [];
  const values = rows.map((row) => ({ ...row, addressHash: hex(row.addressHash) }));
  const { rows: added } = await execute<{ id: ContactId }>(
    db,
    sql`
    insert into ${contacts} (pool_id, owner_id, given_name, family_name, search_key, address, address_key, address_hash, town, region, postcode, country, stage, street, phone, position, source, closeness,
      fields, keys, permission, permission_at, permission_source, created_at, updated_at)
    select "poolId", "ownerId", coalesce("givenName", ''), coalesce("familyName", ''), coalesce("searchKey", ''), address, "addressKey", "addressHash", town, region, postcode, country, stage, street, phone, position, source, closeness,
      coalesce(fields, '{}'), coalesce(keys, '{}'), coalesce(permission, 'unknown'), "permissionAt", "permissionSource", "createdAt", "updatedAt"
    from jsonb_to_recordset(${JSON.stringify(values)}::jsonb) as r("poolId" int, "ownerId" int, "givenName" text, "familyName" text, "searchKey" text, address text, "addressKey" text,
      "addressHash" bytea, town text, region text, postcode text, country text, stage text, street text, phone text, position text, source text, closeness text, fields jsonb, keys jsonb, permission text, "permissionAt" timestamptz, "permissionSource" text,
      "createdAt" timestamptz, "updatedAt" timestamptz)
    returning id`,
  );
  return added.map(({ id }) => id);
}

/** What locked contacts become, all in one statement. */
export async function writeOver(
  db: Db,
  changes: readonly { readonly row: LockedContact; readonly columns: Partial<ContactRow> }[],
  now: Date,
): Promise<void> {
  if (changes.length === 0) return;
  const values = changes.map(({ row, columns }) => {
    const next = { ...row, ...columns };
    return {
      id: next.id,
      ownerId: next.ownerId,
      givenName: next.givenName,
      familyName: next.familyName,
      searchKey: next.searchKey,
      address: next.address,
      addressKey: next.addressKey,
      addressHash: hex(next.addressHash),
      formerHash: hex(next.formerHash),
      town: next.town,
      region: next.region,
      postcode: next.postcode,
      country: next.country,
      stage: next.stage,
      street: next.street,
      phone: next.phone,
      position: next.position,
      source: next.source,
      closeness: next.closeness,
      fields: next.fields,
      keys: next.keys,
      permission: next.permission,
      permissionAt: next.permissionAt,
      permissionSource: next.permissionSource,
    };
  });
  await execute(
    db,
    sql`
    update ${contacts} c set owner_id = r."ownerId", given_name = r."givenName", family_name = r."familyName", search_key = r."searchKey",
      address = r.address, address_key = r."addressKey", address_hash = r."addressHash", former_hash = r."formerHash",
      town = r.town, region = r.region, postcode = r.postcode, country = r.country, stage = r.stage, street = r.street, phone = r.phone, position = r.position, source = r.source, closeness = r.closeness, fields = r.fields, keys = r.keys,
      permission = r.permission, permission_at = r."permissionAt", permission_source = r."permissionSource",
      version = c.version + 1, updated_at = ${now}
    from jsonb_to_recordset(${JSON.stringify(values)}::jsonb) as r(id int, "ownerId" int, "givenName" text, "familyName" text, "searchKey" text, address text, "addressKey" text,
      "addressHash" bytea, "formerHash" bytea, town text, region text, postcode text, country text, stage text, street text, phone text, position text, source text, closeness text, fields jsonb, keys jsonb, permission text,
      "permissionAt" timestamptz, "permissionSource" text)
    where c.id = r.id`,
  );
}

export interface Tagging {
  readonly contactId: ContactId;
  readonly tagId: TagId;
}

/** Puts tags on contacts; returns the pairs that were new. */
export async function putTags(db: Db, pairs: readonly Tagging[]): Promise<Tagging[]> {
  if (pairs.length === 0) return [];
  const { rows } = await execute<{ contact_id: ContactId; tag_id: TagId }>(
    db,
    sql`
    insert into ${contactTags} (contact_id, tag_id)
    select * from unnest(${sql.param(pairs.map(({ contactId }) => contactId))}::int[], ${sql.param(pairs.map(({ tagId }) => tagId))}::int[])
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
