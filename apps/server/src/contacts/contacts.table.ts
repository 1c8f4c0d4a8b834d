import type { PeopleSelection } from '@palabra/contract/contacts';
import type {
  DoNotMailReason,
  FieldType,
  PermissionKind,
  PoolKind,
  TagColour,
} from '@palabra/core/contacts';
import { sql } from 'drizzle-orm';
import {
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
import { users } from '../platform/sign-in/sign-in.table.js';
import { bytes, keyText } from '../platform/columns.js';

const moment = () => timestamp({ withTimezone: true });

export const pools = pgTable('pools', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  name: text().notNull(),
  kind: text().$type<PoolKind>().notNull(),
});

export const contacts = pgTable(
  'contacts',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    poolId: integer()
      .notNull()
      .references(() => pools.id),
    ownerId: integer()
      .notNull()
      .references(() => users.id),
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
    lat: doublePrecision(),
    lon: doublePrecision(),
    /** Own fields by key (`own_7`). */
    fields: jsonb().$type<Record<string, string | number | boolean>>().notNull().default({}),
    /** Search keys of all text fields, built in and own. */
    keys: jsonb().$type<Record<string, string>>().notNull().default({}),
    permission: text().$type<PermissionKind>().notNull().default('unknown'),
    permissionAt: moment(),
    permissionSource: text(),
    // Facts derived from deliveries and events.
    sentCount: integer().notNull().default(0),
    openedCount: integer().notNull().default(0),
    clickedCount: integer().notNull().default(0),
    lastSentAt: moment(),
    lastOpenedAt: moment(),
    lastClickedAt: moment(),
    /** Letters that came back softly, or were given up, since the last one that got through. */
    softBounces: smallint().notNull().default(0),
    /** Letters refused for good, for reasons nobody could read, since then. */
    unreadBounces: smallint().notNull().default(0),
    /** Bounces before this are forgotten: somebody said to try again. */
    softSince: moment(),
    createdAt: moment().notNull(),
    updatedAt: moment().notNull(),
    version: integer().notNull().default(1),
    deletedAt: moment(),
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
    index('contacts_keys').using('gin', table.keys.op('jsonb_path_ops')),
    index('contacts_by_hash').on(table.addressHash),
    index('contacts_by_owner').on(table.ownerId),
    index('contacts_by_arrival').on(table.createdAt),
  ],
);

export const tags = pgTable('tags', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  name: text().notNull(),
  nameKey: keyText().notNull().unique(),
  colour: text().$type<TagColour>().notNull(),
  kind: text().$type<'office' | 'automatic'>().notNull().default('office'),
  createdAt: moment().notNull(),
});

export const contactTags = pgTable(
  'contact_tags',
  {
    contactId: integer().notNull(),
    tagId: integer().notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.contactId, table.tagId] }),
    index('contact_tags_by_tag').on(table.tagId, table.contactId),
  ],
);

export const ownFields = pgTable('own_fields', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  label: text().notNull(),
  labelKey: keyText().notNull().unique(),
  type: text().$type<FieldType>().notNull(),
  choices: jsonb().$type<{ key: string; label: string }[]>().notNull().default([]),
  createdAt: moment().notNull(),
});

export type ChangeKind = 'by hand' | 'tagging' | 'import' | 'reader' | 'undo' | 'system';

/** People by a filter or by their keys, and the tag to put on them or take off. */
export interface ChangeTodo {
  readonly tag: number;
  readonly put: boolean;
  readonly people: PeopleSelection;
}

/** Who changed what to how many, and why. */
export const changeSets = pgTable(
  'change_sets',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    kind: text().$type<ChangeKind>().notNull(),
    userId: integer(),
    at: moment().notNull(),
    /** What was done, in words: “tagged *member*”. */
    what: text().notNull(),
    count: integer().notNull().default(0),
    undoneAt: moment(),
    undoable: boolean().notNull().default(true),
    /** The set that an undo takes back. */
    undoes: integer(),
    /** What a change of many people is to do; they are gone through by their keys, up to `cursor` so far. */
    todo: jsonb().$type<ChangeTodo>(),
    cursor: integer().notNull().default(0),
    /** People who had changed again since and were left as they are. */
    leftAlone: integer().notNull().default(0),
    /** Null while it is still being done. */
    finishedAt: moment(),
  },
  (table) => [
    index('change_sets_by_time').on(table.at),
    index('change_sets_by_user').on(table.userId, table.at),
    index('change_sets_by_undone').on(table.undoes),
    index('change_sets_unfinished')
      .on(table.id)
      .where(sql`finished_at is null`),
  ],
);

/**
 * What one contact was before and after, only of what changed. Columns by their field key, tags as
 * `tag_4` (true: has it). `before` is null where the contact was created.
 */
export const changeItems = pgTable(
  'change_items',
  {
    setId: integer().notNull(),
    contactId: integer().notNull(),
    before: jsonb().$type<Record<string, unknown>>(),
    after: jsonb().$type<Record<string, unknown>>().notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.setId, table.contactId] }),
    index('change_items_by_contact').on(table.contactId),
  ],
);

/** Outlives the contact; checked when recipients are fixed and again when a letter is handed over. */
export const doNotMail = pgTable('do_not_mail', {
  addressHash: bytes().primaryKey(),
  address: text(),
  reason: text().$type<DoNotMailReason>().notNull(),
  at: moment().notNull(),
  campaignId: integer(),
  note: text(),
  /** Who of the office put it there. */
  userId: integer(),
});

/** Kinds of letters that a reader can choose or drop. */
export const topics = pgTable('topics', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  name: text().notNull(),
  nameKey: keyText().notNull().unique(),
  description: text().notNull().default(''),
  createdAt: moment().notNull(),
});

/** Topics that the reader behind an address does not want. */
export const droppedTopics = pgTable(
  'dropped_topics',
  {
    addressHash: bytes().notNull(),
    topicId: integer()
      .notNull()
      .references(() => topics.id),
    at: moment().notNull(),
  },
  (table) => [primaryKey({ columns: [table.addressHash, table.topicId] })],
);
