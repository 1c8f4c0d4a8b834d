import type { CampaignId } from '@palabra/core/campaigns';
import type { ResultCounts } from '@palabra/core/results';
import { integer, jsonb, pgTable } from 'drizzle-orm/pg-core';

export interface LinkClicks {
  readonly people: number;
  readonly machines: number;
}

export interface ResultDetail {
  /** By the link's number. */
  readonly links: Readonly<Record<string, LinkClicks>>;
  readonly points: readonly {
    readonly at: string;
    readonly opened: number;
    readonly clicked: number;
    readonly machines: number;
  }[];
}

/** Figures of finished campaigns as counted at one facts version; counted again when that has risen. */
export const countedResults = pgTable('counted_results', {
  campaignId: integer().$type<CampaignId>().primaryKey(),
  factsVersion: integer().notNull(),
  counts: jsonb().$type<ResultCounts>().notNull(),
  detail: jsonb().$type<ResultDetail>(),
});
