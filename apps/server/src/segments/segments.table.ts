import type { UserId } from '@palabra/core/office';
import type { ContactId, PoolId } from '@palabra/core/contacts';
import type {
  Arrangement,
  FilterKey,
  Rule,
  SegmentId,
  SegmentKind,
  ViewId,
} from '@palabra/core/segments';
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

const moment = () => timestamp({ withTimezone: true });

/** Who sees a segment beside its owner: nobody, some colleagues, or all. */
export const sharings = ['private', 'some', 'all'] as const;

/**
 * Named groups of people. A live one has a rule in force, which everything else uses, and perhaps a draft beside it; who
 * is in a fixed one stands in `segment_members`.
 */
export const segments = pgTable('segments', {
  id: integer().$type<SegmentId>().primaryKey().generatedAlwaysAsIdentity(),
  name: text().notNull(),
  description: text().notNull().default(''),
  labels: text().array().notNull().default([]),
  kind: text().$type<SegmentKind>().notNull().default('live'),
  /** The bodies of contacts it sifts; partners' and bought people never slip into the house's segments. */
  poolIds: integer().array().$type<PoolId[]>().notNull(),
  rule: jsonb().$type<Rule>().notNull(),
  /** Null of one that never had a rule in force. */
  inForceSince: moment(),
  inForceBy: integer().$type<UserId>(),
  /** What is to be used next; null where it would be what is in force. */
  draftRule: jsonb().$type<Rule>(),
  draftPoolIds: integer().array().$type<PoolId[]>(),
  /** Null of what was there before there were owners. A member's segment reaches only those whom they see. */
  ownerId: integer().$type<UserId>(),
  sharing: text().$type<(typeof sharings)[number]>().notNull().default('all'),
  sharedWith: integer().array().$type<UserId[]>().notNull().default([]),
  version: integer().notNull().default(1),
  createdAt: moment().notNull(),
  updatedAt: moment().notNull(),
  deletedAt: moment(),
  /** The segments that the rule in force asks for, with repetitions: known without a look at rules, which may be long. */
  asks: jsonb()
    .$type<readonly number[]>()
    .notNull()
    .generatedAlwaysAs(
      sql`jsonb_path_query_array(rule, 'lax $.** ? (@.kind == "segment").segment')`,
    ),
  /** Of both rules, in bytes of JSON. */
  size: integer()
    .notNull()
    .generatedAlwaysAs(sql`octet_length(rule::text) + coalesce(octet_length(draft_rule::text), 0)`),
});

/** Who is listed in a fixed segment. */
export const segmentMembers = pgTable(
  'segment_members',
  {
    segmentId: integer().$type<SegmentId>().notNull(),
    contactId: integer().$type<ContactId>().notNull(),
    addedAt: moment().notNull(),
    /** Taken out then; kept so that it can be taken back. */
    takenAt: moment(),
  },
  (table) => [
    primaryKey({ columns: [table.segmentId, table.contactId] }),
    index('segment_members_by_contact').on(table.contactId),
  ],
);

/** How many people a segment had on a day of the office, `YYYY-MM-DD`. */
export const segmentSizes = pgTable(
  'segment_sizes',
  {
    segmentId: integer().$type<SegmentId>().notNull(),
    day: text().notNull(),
    size: integer().notNull(),
  },
  (table) => [primaryKey({ columns: [table.segmentId, table.day] })],
);

/**
 * Rules by which lists are narrowed: each is kept once and never changed, so that an address can name it. The key is
 * of what it says (HMAC), because rules may hold addresses: nobody comes upon one by counting, or by guessing a rule.
 */
export const filters = pgTable('filters', {
  key: text().$type<FilterKey>().primaryKey(),
  rule: jsonb().$type<Rule>().notNull(),
  usedAt: moment().notNull(),
});

/** Saved arrangements of the table of contacts. */
export const views = pgTable(
  'views',
  {
    id: integer().$type<ViewId>().primaryKey().generatedAlwaysAsIdentity(),
    name: text().notNull(),
    ownerId: integer().$type<UserId>().notNull(),
    /** Who else sees it: all, or some colleagues. */
    sharedWithAll: boolean().notNull().default(false),
    sharedWith: jsonb().$type<readonly UserId[]>().notNull().default([]),
    arrangement: jsonb().$type<Arrangement>().notNull(),
    rule: jsonb().$type<Rule>(),
    version: integer().notNull().default(1),
    createdAt: moment().notNull(),
    updatedAt: moment().notNull(),
    deletedAt: moment(),
    /** Of arrangement and rule, in bytes of JSON. */
    size: integer()
      .notNull()
      .generatedAlwaysAs(
        sql`octet_length(arrangement::text) + coalesce(octet_length(rule::text), 0)`,
      ),
  },
  (table) => [index('views_by_owner').on(table.ownerId)],
);

/** With which view somebody begins. */
export const startViews = pgTable('start_views', {
  userId: integer().$type<UserId>().primaryKey(),
  viewId: integer().$type<ViewId>().notNull(),
});

/** Rules that were in force before. */
export const segmentVersions = pgTable(
  'segment_versions',
  {
    segmentId: integer().$type<SegmentId>().notNull(),
    /** The segment's when this one was replaced. */
    version: integer().notNull(),
    rule: jsonb().$type<Rule>().notNull(),
    poolIds: integer().array().$type<PoolId[]>().notNull().default([]),
    /** In force from when, and by whom. */
    since: moment(),
    madeBy: integer().$type<UserId>(),
    /** When it was replaced, and by whom. */
    at: moment().notNull(),
    userId: integer().$type<UserId>(),
  },
  (table) => [primaryKey({ columns: [table.segmentId, table.version] })],
);
