import { pgTable, timestamp, uuid } from 'drizzle-orm/pg-core';

/** One row per running process; a lease is dead when its worker's last beat is too old. */
export const workers = pgTable('workers', {
  id: uuid().primaryKey(),
  beatAt: timestamp({ withTimezone: true }).notNull(),
});
