import { integer, pgTable, text, timestamp } from 'drizzle-orm/pg-core';
import { bytes } from './columns.js';

/** Made at first start, shared by all processes. The newest signs; all of them verify. */
export const officeKeys = pgTable('office_keys', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  purpose: text().$type<'address' | 'token'>().notNull(),
  secret: bytes().notNull(),
  createdAt: timestamp({ withTimezone: true }).notNull(),
});
