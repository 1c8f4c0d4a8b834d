import type { WorkKind } from '@palabra/core/office';
import { integer, pgTable, primaryKey, text, timestamp } from 'drizzle-orm/pg-core';

/** Work that failed lately; with `stoppedAt` it was given up and waits for somebody's word. */
export const standstills = pgTable(
  'standstills',
  {
    work: text().$type<WorkKind>().notNull(),
    thing: integer().notNull(),
    reason: text().notNull(),
    failures: integer().notNull(),
    /** What it is, in words. */
    what: text().notNull().default(''),
    /** Not tried again before; null where it was given up. */
    nextAt: timestamp({ withTimezone: true }),
    stoppedAt: timestamp({ withTimezone: true }),
  },
  (table) => [primaryKey({ columns: [table.work, table.thing] })],
);
