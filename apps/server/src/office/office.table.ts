import { boolean, integer, pgTable, text, timestamp } from 'drizzle-orm/pg-core';

/** One row. */
export const offices = pgTable('offices', {
  id: integer().primaryKey(),
  name: text().notNull(),
  postalAddress: text().notNull(),
  timeZone: text().notNull(),
  senderName: text().notNull(),
  senderAddress: text().notNull(),
  /** Whether people whose permission is unknown may be mailed. */
  mailUnknown: boolean().notNull().default(false),
  version: integer().notNull().default(1),
  createdAt: timestamp({ withTimezone: true }).notNull(),
});
