import type { Role, UserId } from '@palabra/core/office';
import { index, integer, pgTable, text, timestamp } from 'drizzle-orm/pg-core';
import { bytes, keyText } from '../columns.js';

export const users = pgTable('users', {
  id: integer().$type<UserId>().primaryKey().generatedAlwaysAsIdentity(),
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
      .$type<UserId>()
      .notNull()
      .references(() => users.id),
    createdAt: timestamp({ withTimezone: true }).notNull(),
    seenAt: timestamp({ withTimezone: true }).notNull(),
    expiresAt: timestamp({ withTimezone: true }).notNull(),
  },
  (table) => [index().on(table.userId)],
);

/** Browsers that signed in before: somebody else's guesses don't keep them out. Only the hash of the cookie is kept. */
export const knownBrowsers = pgTable(
  'known_browsers',
  {
    tokenHash: bytes().primaryKey(),
    userId: integer()
      .$type<UserId>()
      .notNull()
      .references(() => users.id),
    seenAt: timestamp({ withTimezone: true }).notNull(),
  },
  (table) => [index().on(table.userId)],
);
