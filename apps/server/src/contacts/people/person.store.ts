// Single contacts and small batches of them, to be read; `writer.ts` writes them.
import type { ContactId, PoolId, TagId } from '@palabra/core/contacts';
import { and, eq, inArray, isNotNull, isNull, sql } from 'drizzle-orm';
import { execute, type Db } from '../../platform/database.js';
import { contacts, contactTags } from './people.table.js';
import { claimsOf, type Claims, type ContactRow } from './values.js';

export async function contactById(db: Db, id: ContactId): Promise<ContactRow | undefined> {
  const [row] = await db
    .select()
    .from(contacts)
    .where(and(eq(contacts.id, id), isNull(contacts.deletedAt)));
  return row;
}

export const livingContacts = (db: Db, ids: readonly ContactId[]): Promise<ContactRow[]> =>
  ids.length === 0
    ? Promise.resolve([])
    : db
        .select()
        .from(contacts)
        .where(and(inArray(contacts.id, [...ids]), isNull(contacts.deletedAt)));

declare const locked: unique symbol;
/** A contact as it is and stays until the transaction ends. Only such a one is written over. */
export type LockedContact = ContactRow & { readonly [locked]: true };

/** Always in the order of their keys, so that two who lock several don't wait for one another. */
const lock = async (
  db: Db,
  ids: readonly ContactId[],
  which: 'living' | 'deleted',
): Promise<LockedContact[]> =>
  ids.length === 0
    ? []
    : ((await db
        .select()
        .from(contacts)
        .where(
          and(
            inArray(contacts.id, [...ids]),
            which === 'living'
              ? isNull(contacts.deletedAt)
              : and(isNotNull(contacts.deletedAt), isNull(contacts.erasedAt)),
          ),
        )
        .orderBy(contacts.id)
        .for('update')) as LockedContact[]);

export const lockContacts = (db: Db, ids: readonly ContactId[]): Promise<LockedContact[]> =>
  lock(db, ids, 'living');

/** Deleted contacts, to be brought back; whoever was not deleted, or is erased, is not among them. */
export const lockDeleted = (db: Db, ids: readonly ContactId[]): Promise<LockedContact[]> =>
  lock(db, ids, 'deleted');

/** Contacts as they are now, deleted ones too: a letter that is under way still needs its reader's name. */
export const anyContacts = (db: Db, ids: readonly ContactId[]): Promise<ContactRow[]> =>
  ids.length === 0
    ? Promise.resolve([])
    : db
        .select()
        .from(contacts)
        .where(inArray(contacts.id, [...ids]));

/** Whoever of a pool has one of these addresses, as their first or a further one, or this external number. */
export async function contactsClaiming(
  db: Db,
  poolId: PoolId,
  { addressKeys, externalKey }: Claims,
): Promise<ContactRow[]> {
  const byAddress = await contactsByAddress(db, poolId, addressKeys);
  if (externalKey === undefined) return byAddress;
  const byNumber = await db
    .select()
    .from(contacts)
    .where(
      sql`pool_id = ${poolId} and (keys ->> 'external_number') collate "C" = ${externalKey} and external_number is not null and deleted_at is null`,
    );
  return [...byAddress, ...byNumber];
}

/** Whether nobody else of a pool has their addresses or number. */
export async function isFree(db: Db, row: ContactRow, pool: PoolId): Promise<boolean> {
  const others = await contactsClaiming(db, pool, claimsOf(row));
  return others.every(({ id }) => id === row.id);
}

/** Who of a pool has which of some external numbers, by their keys. */
export async function holdersOfNumbers(
  db: Db,
  poolId: PoolId,
  keys: readonly string[],
): Promise<ReadonlyMap<string, ContactId>> {
  if (keys.length === 0) return new Map();
  const { rows } = await execute<{ id: ContactId; key: string }>(
    db,
    sql`select c.id, asked.key from unnest(${sql.param([...keys])}::text[]) asked(key) cross join lateral (
      select c.id from ${contacts} c where c.pool_id = ${poolId} and (c.keys ->> 'external_number') collate "C" = asked.key collate "C"
        and c.external_number is not null and c.deleted_at is null limit 1) c`,
  );
  return new Map(rows.map(({ id, key }) => [key, id]));
}

/**
 * The people of a pool at some addresses, first or further ones. Each is looked up by the unique key, one after another: asked for a list at
 * once, a server's planner takes the index of word pieces, and each address costs milliseconds.
 */
export const contactsByAddress = (
  db: Db,
  poolId: PoolId,
  addressKeys: readonly string[],
): Promise<ContactRow[]> =>
  addressKeys.length === 0
    ? Promise.resolve([])
    : db
        .select()
        .from(contacts)
        .where(
          sql`${contacts.id} in (select found.id from unnest(${sql.param(addressKeys)}::text[]) asked(key) cross join lateral (
            select c.id from ${contacts} c where c.pool_id = ${poolId} and c.address_key = asked.key collate "C" and c.deleted_at is null limit 1) found
            union all select c.id from ${contacts} c where c.pool_id = ${poolId} and c.more_addresses is not null
              and c.more_keys && ${sql.param([...addressKeys])}::text[] and c.deleted_at is null)`,
        );

/** The same, locked. */
export const lockByAddress = async (
  db: Db,
  poolId: PoolId,
  addressKeys: readonly string[],
): Promise<LockedContact[]> =>
  lockContacts(
    db,
    (await contactsByAddress(db, poolId, addressKeys)).map(({ id }) => id),
  );

/** Lets the planner know how many addresses there are and that few people are deleted; a pool that has grown without its knowledge is read whole for every look-up. */
export const learnAddresses = async (db: Db): Promise<void> => {
  await db.execute(sql`analyze ${contacts} (pool_id, address_key, deleted_at)`);
};

export async function contactTagIds(db: Db, id: ContactId): Promise<TagId[]> {
  const rows = await db
    .select({ tagId: contactTags.tagId })
    .from(contactTags)
    .where(eq(contactTags.contactId, id))
    .orderBy(contactTags.tagId);
  return rows.map(({ tagId }) => tagId);
}

/** The tags of several contacts. */
export async function tagsOf(db: Db, ids: readonly ContactId[]): Promise<Map<ContactId, TagId[]>> {
  const rows =
    ids.length === 0
      ? []
      : await db
          .select()
          .from(contactTags)
          .where(inArray(contactTags.contactId, [...ids]));
  const found = new Map<ContactId, TagId[]>();
  for (const { contactId, tagId } of rows)
    found.set(contactId, [...(found.get(contactId) ?? []), tagId]);
  return found;
}
