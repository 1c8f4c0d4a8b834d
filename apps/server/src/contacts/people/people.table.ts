import type { UserId } from '@palabra/core/office';
import type { Band, PermissionKind, ContactId, PoolId, TagId } from '@palabra/core/contacts';
import { sql } from 'drizzle-orm';
import {
  bigint,
  boolean,
  doublePrecision,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  smallint,
  text,
  timestamp,
  uniqueIndex,
} from 'drizzle-orm/pg-core';
import { bytes, keyText } from '../../platform/columns.js';
import { users } from '../../platform/sign-in/sign-in.table.js';
import { pools } from '../vocabulary/vocabulary.table.js';

const moment = () => timestamp({ withTimezone: true });

/** All telephone numbers of a contact, their digits alone, with a line for each. */
export const PHONE_DIGITS = `regexp_replace(coalesce(phone, '') || E'\\n' || coalesce(more_phones, ''), '[^0-9\\n]', '', 'g')`;

export const contacts = pgTable(
  'contacts',
  {
    id: integer().$type<ContactId>().primaryKey().generatedAlwaysAsIdentity(),
    poolId: integer()
      .$type<PoolId>()
      .notNull()
      .references(() => pools.id),
    ownerId: integer()
      .$type<UserId>()
      .notNull()
      .references(() => users.id),
    /** The keys of colleagues who see them as well, with commas between. */
    sharedWith: text(),
    givenName: text().notNull().default(''),
    familyName: text().notNull().default(''),
    /** Family and given name as a key: sorted and searched by. */
    searchKey: keyText().notNull().default(''),
    address: text(),
    addressKey: keyText(),
    addressHash: bytes(),
    /** Of the address before this one: what a reader decided there goes on for them. */
    formerHash: bytes(),
    town: text(),
    region: text(),
    postcode: text(),
    country: text(),
    stage: text(),
    street: text(),
    phone: text(),
    /** Further ones, a line for each. */
    morePhones: text(),
    moreAddresses: text(),
    /** The keys and hashes of further addresses: one address belongs to one person of a pool. */
    moreKeys: text().array().notNull().default([]),
    moreHashes: bytes().array().notNull().default([]),
    /** Of another system, by which people are matched. */
    externalNumber: text(),
    position: text(),
    source: text(),
    closeness: text(),
    lat: doublePrecision(),
    lon: doublePrecision(),
    /** Own fields by key (`own_7`). */
    fields: jsonb().$type<Record<string, string | number | boolean>>().notNull().default({}),
    /** Search keys of all text fields, built in and own. */
    keys: jsonb().$type<Record<string, string>>().notNull().default({}),
    permission: text().$type<PermissionKind>().notNull().default('unknown'),
    permissionAt: moment(),
    permissionSource: text(),
    /** What they agreed to, word for word. */
    permissionWording: text(),
    // Facts derived from deliveries and events.
    /** Letters that arrived and did not come back since. */
    deliveredCount: integer().notNull().default(0),
    openedCount: integer().notNull().default(0),
    clickedCount: integer().notNull().default(0),
    /**
     * Of the last letters to them that were accepted, came back or were given up, a bit for each, the latest lowest: which there
     * are, and which were accepted, opened, clicked and came back. Counted with the rating: null, or while `ratingDue`, they don't hold.
     */
    recentLetters: bigint({ mode: 'number' }),
    recentAccepted: bigint({ mode: 'number' }),
    recentOpened: bigint({ mode: 'number' }),
    recentClicked: bigint({ mode: 'number' }),
    recentBounced: bigint({ mode: 'number' }),
    lastSentAt: moment(),
    lastOpenedAt: moment(),
    lastClickedAt: moment(),
    /** When they last answered, or somebody of the office last had to do with them. */
    lastContactAt: moment(),
    /** Letters that came back softly, or were given up, since the last one that got through. */
    softBounces: smallint().notNull().default(0),
    /** Letters refused for good, for reasons nobody could read, since then. */
    unreadBounces: smallint().notNull().default(0),
    /** Bounces before this are forgotten: somebody said to try again. */
    softSince: moment(),
    /** 0 to 100, as it was counted last; null where too few letters arrived, or where they left or complained. */
    rating: smallint(),
    /** Null where they left or complained. */
    band: text().$type<Band>().default('new'),
    /** The highest and lowest of the last ninety days. */
    ratingHigh: smallint(),
    ratingLow: smallint(),
    /** Something happened that the rating and the recent letters do not count yet. No index: it would make each change of it a change of all of them. */
    ratingDue: boolean().notNull().default(false),
    createdAt: moment().notNull(),
    updatedAt: moment().notNull(),
    version: integer().notNull().default(1),
    deletedAt: moment(),
    /** Nothing personal is left, and never comes back: only the key, the pool and what counts. */
    erasedAt: moment(),
  },
  (table) => [
    index('contacts_by_name')
      .on(table.poolId, table.searchKey, table.id)
      .where(sql`deleted_at is null`),
    index('contacts_anywhere_by_name')
      .on(table.searchKey, table.id)
      .where(sql`deleted_at is null`),
    index('contacts_refused')
      .on(table.unreadBounces)
      .where(sql`unread_bounces > 0`),
    index('contacts_gone')
      .on(table.id)
      .where(sql`deleted_at is not null`),
    uniqueIndex('contacts_by_address')
      .on(table.poolId, table.addressKey)
      .where(sql`deleted_at is null`),
    index('contacts_name_words').using('gin', table.searchKey.op('gin_trgm_ops')),
    index('contacts_address_words').using('gin', table.addressKey.op('gin_trgm_ops')),
    index('contacts_further_words')
      .using('gin', sql`(keys ->> 'more_addresses') gin_trgm_ops`)
      .where(sql`more_addresses is not null`),
    index('contacts_street_words')
      .using('gin', sql`(keys ->> 'street') gin_trgm_ops`)
      .where(sql`street is not null`),
    // Few people have further addresses: an index of them is looked at for nothing.
    index('contacts_further_keys')
      .using('gin', table.moreKeys)
      .where(sql`more_addresses is not null`),
    index('contacts_further_hashes')
      .using('gin', table.moreHashes)
      .where(sql`more_addresses is not null`),
    index('contacts_numbers')
      .using('gin', sql`${sql.raw(PHONE_DIGITS)} gin_trgm_ops`)
      .where(sql`phone is not null or more_phones is not null`),
    // Within a pool, a number of another system is one person's.
    uniqueIndex('contacts_by_external_number')
      .on(table.poolId, sql`(keys ->> 'external_number') collate "C"`)
      .where(sql`deleted_at is null and external_number is not null`),
    index('contacts_external_words')
      .on(sql`(keys ->> 'external_number') collate "C"`)
      .where(sql`external_number is not null`),
    index('contacts_keys').using('gin', table.keys.op('jsonb_path_ops')),
    index('contacts_by_hash').on(table.addressHash),
    index('contacts_by_owner').on(table.ownerId),
    // Few people are shared.
    index('contacts_shared')
      .using('gin', sql`string_to_array(shared_with, ',')`)
      .where(sql`shared_with is not null`),
    // With the key in it, those of a set of keys are counted by it alone.
    index('contacts_standing')
      .on(table.poolId, table.ownerId, table.permission, table.addressHash, table.id)
      .where(sql`deleted_at is null`),
    // Lists in these orders are paged far down; with the key in them the indexes alone answer.
    index('contacts_in_order_of_address')
      .on(table.poolId, table.addressKey, table.id)
      .where(sql`deleted_at is null`),
    index('contacts_in_order_of_arrival')
      .on(table.poolId, table.createdAt, table.id)
      .where(sql`deleted_at is null`),
    index('contacts_by_arrival').on(table.createdAt),
  ],
);

export const contactTags = pgTable(
  'contact_tags',
  {
    contactId: integer().$type<ContactId>().notNull(),
    tagId: integer().$type<TagId>().notNull(),
    /** When it was put on; null where that is not known. What is taken back, or another tag's, does not make it newer. */
    at: moment(),
  },
  (table) => [
    primaryKey({ columns: [table.contactId, table.tagId] }),
    index('contact_tags_by_tag').on(table.tagId, table.contactId),
  ],
);
