import type { UserId } from '@palabra/core/office';
import type { PoolId } from '@palabra/core/contacts';
import type { Rule, SegmentId } from '@palabra/core/segments';
import { integer, jsonb, pgTable, primaryKey, text, timestamp } from 'drizzle-orm/pg-core';
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
