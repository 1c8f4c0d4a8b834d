import { integer, pgTable, text, timestamp } from 'drizzle-orm/pg-core';

/** How often something was tried lately: signing in to an account from a client, asking for a mail. */
export const tries = pgTable('tries', {
  subject: text().primaryKey(),
  /** When the window began in which `count` was counted. */
  since: timestamp({ withTimezone: true }).notNull(),
  count: integer().notNull(),
});
