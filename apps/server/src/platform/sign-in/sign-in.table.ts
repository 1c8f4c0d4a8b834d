import type { Role } from '@palabra/core/office';
import { index, integer, pgTable, text, timestamp } from 'drizzle-orm/pg-core';
import { bytes, keyText } from '../columns.js';

export const users = pgTable('users', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  name: text().notNull(),
  address: text().notNull(),
  addressKey: keyText().notNull().unique(),
  role: text().$type<Role>().notNull(),
  passwordHash: text().notNull(),
  createdAt: timestamp({ withTimezone: true }).notNull(),
});

/** The cookie carries the token; only its hash is kept. */
export const sessions = pgTable(
  'sessions',
  {
    tokenHash: bytes().primaryKey(),
    userId: integer()
      .notNull()
      .references(() => users.id),
    createdAt: timestamp({ withTimezone: true }).notNull(),
    seenAt: timestamp({ withTimezone: true }).notNull(),
    expiresAt: timestamp({ withTimezone: true }).notNull(),
  },
  (table) => [index().on(table.userId)],
);

/** Failed sign-ins, counted per account and per client for throttling. */
export const signInFailures = pgTable(
  'sign_in_failures',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    subject: text().notNull(),
    at: timestamp({ withTimezone: true }).notNull(),
  },
  (table) => [index().on(table.subject, table.at)],
);
