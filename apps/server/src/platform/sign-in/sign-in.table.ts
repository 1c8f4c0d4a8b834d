import type { Role, SessionId, UserId } from '@palabra/core/office';
import { index, integer, pgTable, text, timestamp } from 'drizzle-orm/pg-core';
import { bytes, keyText } from '../columns.js';

export const users = pgTable('users', {
  id: integer().$type<UserId>().primaryKey().generatedAlwaysAsIdentity(),
  name: text().notNull(),
  /** Null of a colleague who never signs in. */
  address: text(),
  addressKey: keyText().unique(),
  role: text().$type<Role>().notNull(),
  /** Null until one is chosen. */
  passwordHash: text(),
  createdAt: timestamp({ withTimezone: true }).notNull(),
  /** Since when somebody who left can't sign in. */
  closedAt: timestamp({ withTimezone: true }),
  /** When the first words were read; null of who has not been here. */
  welcomedAt: timestamp({ withTimezone: true }),
});

/** Links with which somebody chooses a password, once. Only the hash of a link is kept; using one ends the others. */
export const entryLinks = pgTable(
  'entry_links',
  {
    tokenHash: bytes().primaryKey(),
    userId: integer()
      .$type<UserId>()
      .notNull()
      .references(() => users.id),
    expiresAt: timestamp({ withTimezone: true }).notNull(),
  },
  (table) => [index().on(table.userId)],
);

/** The cookie carries the token; only its hash is kept. */
export const sessions = pgTable(
  'sessions',
  {
    tokenHash: bytes().primaryKey(),
    /** By which somebody names it who does not have the token. */
    id: integer().$type<SessionId>().notNull().unique().generatedAlwaysAsIdentity(),
    userId: integer()
      .$type<UserId>()
      .notNull()
      .references(() => users.id),
    /** What the browser said it is, in few words. */
    device: text().notNull().default(''),
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
