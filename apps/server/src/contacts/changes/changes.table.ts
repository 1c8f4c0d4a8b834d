import type { UserId } from '@palabra/core/office';
import type { ChangeKind, PeopleSelection, TagUseKind } from '@palabra/contract/contacts';
import type {
  Deed,
  Field,
  HappeningKind,
  ChangeSetId,
  ContactId,
  TagId,
} from '@palabra/core/contacts';
import { sql } from 'drizzle-orm';
import {
  boolean,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  timestamp,
} from 'drizzle-orm/pg-core';

/** What can be deleted and brought back beside people. */
export type ThingKind = 'segment' | 'letter' | 'campaign' | 'field';

const moment = () => timestamp({ withTimezone: true });

/** A field of one type that is now of another. */
export interface Retyped {
  readonly from: Field;
  readonly to: Field;
}

/** What a change of many people is to do. */
export type ChangeTodo =
  /** A tag, put on people by a filter or by their keys, or taken off. */
  | { readonly tag: TagId; readonly put: boolean; readonly people: PeopleSelection }
  /** Something else, done to people. */
  | { readonly deed: Deed; readonly people: PeopleSelection }
  /** What is kept in a field, made to fit its new type. */
  | { readonly retyped: Retyped }
  /** Everybody of one owner, given to another. */
  | { readonly from: UserId; readonly to: UserId }
  /** A tag that goes, off everybody, or into another one. */
  | TagGone;

export interface TagGone {
  readonly tagGone: TagId;
  readonly into: TagId | null;
}

/** Who changed what to how many, and why. */
export const changeSets = pgTable(
  'change_sets',
  {
    id: integer().$type<ChangeSetId>().primaryKey().generatedAlwaysAsIdentity(),
    kind: text().$type<ChangeKind>().notNull(),
    userId: integer().$type<UserId>(),
    at: moment().notNull(),
    /** What was done, in words: “tagged *member*”. */
    what: text().notNull(),
    count: integer().notNull().default(0),
    undoneAt: moment(),
    undoable: boolean().notNull().default(true),
    /** The set that an undo takes back. */
    undoes: integer().$type<ChangeSetId>(),
    /** What a change of many people is to do; they are gone through by their keys, up to `cursor` so far. */
    todo: jsonb().$type<ChangeTodo>(),
    cursor: integer().notNull().default(0),
    /** What a deletion deleted. */
    thingKind: text().$type<ThingKind>(),
    thingId: integer(),
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
 * What one contact was before and after, only of what changed, for as long as it can be taken back. Columns by their
 * field key, tags by their mark (true: has it). `before` is null where the contact was created.
 */
export const changeItems = pgTable(
  'change_items',
  {
    setId: integer().$type<ChangeSetId>().notNull(),
    contactId: integer().$type<ContactId>().notNull(),
    before: jsonb().$type<Record<string, unknown>>(),
    after: jsonb().$type<Record<string, unknown>>().notNull(),
    /** It was taken back of this person. */
    undone: boolean().notNull().default(false),
  },
  (table) => [primaryKey({ columns: [table.setId, table.contactId] })],
);

/** What else a set wrote over: trees that named a tag, by whoever keeps them, for as long as it can be taken back. */
export const rewrittenTrees = pgTable(
  'rewritten_trees',
  {
    setId: integer().$type<ChangeSetId>().notNull(),
    kind: text().$type<TagUseKind>().notNull(),
    thingId: integer().notNull(),
    before: jsonb().$type<unknown>().notNull(),
    after: jsonb().$type<unknown>().notNull(),
  },
  (table) => [primaryKey({ columns: [table.setId, table.kind, table.thingId] })],
);

/** That something happened to a contact: who and when says the change set. Stays for good, and holds no values. */
export const happenings = pgTable(
  'happenings',
  {
    setId: integer().$type<ChangeSetId>().notNull(),
    contactId: integer().$type<ContactId>().notNull(),
    kind: text().$type<HappeningKind>().notNull(),
    /** The tag's key or the field's; empty where the kind says all. */
    which: text().notNull().default(''),
  },
  (table) => [
    primaryKey({ columns: [table.setId, table.kind, table.which, table.contactId] }),
    index('happenings_by_contact').on(table.contactId, table.setId),
  ],
);
