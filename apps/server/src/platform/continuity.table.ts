import { integer, pgTable, text, timestamp } from 'drizzle-orm/pg-core';

/** Why the office may not be what it takes itself for: its data is from before, or a second one is at work. */
export type Break = 'restored' | 'copied' | 'clock';

/** One row: that this database goes on where it was, on the place where it was. */
export const continuity = pgTable('continuity', {
  id: integer().primaryKey(),
  /** Stands in the database and beside it; a backup has only the one. */
  mark: text().notNull(),
  /** The directory, or the server and database, where it was last at work. */
  place: text().notNull(),
  /** When the office was last seen at work. */
  seenAt: timestamp({ withTimezone: true }).notNull(),
  brokenBy: text().$type<Break>(),
  brokenAt: timestamp({ withTimezone: true }),
  /** Up to when the data knows what happened. */
  asOf: timestamp({ withTimezone: true }),
  /** Campaigns of which somebody has said how they go on. */
  decided: integer().array().notNull().default([]),
});
