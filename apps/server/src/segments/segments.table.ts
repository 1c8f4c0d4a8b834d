import type { Rule } from '@palabra/core/segments';
import { integer, jsonb, pgTable, primaryKey, text, timestamp } from 'drizzle-orm/pg-core';
import { pools } from '../contacts/contacts.table.js';

const moment = () => timestamp({ withTimezone: true });

export const segments = pgTable('segments', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  name: text().notNull(),
  description: text().notNull().default(''),
  kind: text().$type<'live'>().notNull().default('live'),
  /** The body of contacts it sifts; partners' and bought people never slip into the house's segments. */
  poolId: integer()
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
    segmentId: integer().notNull(),
    version: integer().notNull(),
    rule: jsonb().$type<Rule>().notNull(),
    at: moment().notNull(),
    userId: integer(),
  },
  (table) => [primaryKey({ columns: [table.segmentId, table.version] })],
);
