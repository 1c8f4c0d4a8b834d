import type { ResultCounts } from '@palabra/core/results';
import { integer, jsonb, pgTable } from 'drizzle-orm/pg-core';

/** Figures of finished campaigns as counted at one facts version; counted again when that has risen. */
export const countedResults = pgTable('counted_results', {
  campaignId: integer().primaryKey(),
  factsVersion: integer().notNull(),
  counts: jsonb().$type<ResultCounts>().notNull(),
});
