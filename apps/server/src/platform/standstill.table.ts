import { integer, pgTable, primaryKey, text, timestamp } from 'drizzle-orm/pg-core';

/** Work that failed lately; with `stoppedAt` it failed the same way too often and waits for somebody's word. */
export const standstills = pgTable(
  'standstills',
  {
    work: text().notNull(),
    thing: integer().notNull(),
    reason: text().notNull(),
    failures: integer().notNull(),
    /** What it was, in words; set when it stopped. */
    what: text().notNull().default(''),
    stoppedAt: timestamp({ withTimezone: true }),
  },
  (table) => [primaryKey({ columns: [table.work, table.thing] })],
);
