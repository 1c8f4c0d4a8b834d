import type { UserId } from '@palabra/core/office';
import type { PoolId } from '@palabra/core/contacts';
import type { Arrangement, FilterKey, Rule, SegmentId, ViewId } from '@palabra/core/segments';
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
import { pools } from '../contacts/vocabulary/vocabulary.table.js';

const moment = () => timestamp({ withTimezone: true });

export const segments = pgTable('segments', {
  id: integer().$type<SegmentId>().primaryKey().generatedAlwaysAsIdentity(),
  name: text().notNull(),
  description: text().notNull().default(''),
  kind: text().$type<'live'>().notNull().default('live'),
  /** The body of contacts it sifts; partners' and bought people never slip into the house's segments. */
  poolId: integer()
    .$type<PoolId>()
    .notNull()
    .references(() => pools.id),
  rule: jsonb().$type<Rule>().notNull(),
  version: integer().notNull().default(1),
  createdAt: moment().notNull(),
  updatedAt: moment().notNull(),
  deletedAt: moment(),
});

/**
 * Rules by which lists are narrowed: each is kept once and never changed, so that an address can name it. The key is
 * of what it says (SHA-256), because rules may hold addresses: nobody comes upon one by counting.
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
  },
  (table) => [index('views_by_owner').on(table.ownerId)],
);

/** With which view somebody begins. */
export const startViews = pgTable('start_views', {
  userId: integer().$type<UserId>().primaryKey(),
  viewId: integer().$type<ViewId>().notNull(),
});

export const segmentVersions = pgTable(
  'segment_versions',
  {
    segmentId: integer().$type<SegmentId>().notNull(),
    version: integer().notNull(),
    rule: jsonb().$type<Rule>().notNull(),
    at: moment().notNull(),
    userId: integer().$type<UserId>(),
  },
  (table) => [primaryKey({ columns: [table.segmentId, table.version] })],
);
