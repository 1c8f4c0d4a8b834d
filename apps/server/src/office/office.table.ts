import { boolean, integer, pgTable, smallint, text, timestamp } from 'drizzle-orm/pg-core';

/** One row. */
export const offices = pgTable('offices', {
  id: integer().primaryKey(),
  name: text().notNull(),
  postalAddress: text().notNull(),
  timeZone: text().notNull(),
  /** Where it dials from (ISO 3166); empty is not said. */
  country: text().notNull().default(''),
  senderName: text().notNull(),
  senderAddress: text().notNull(),
  /** Whether people whose permission is unknown may be mailed. */
  mailUnknown: boolean().notNull().default(false),
  /** After so many soft bounces in a row a person is held back; 0 never does. */
  softBounceLimit: smallint().notNull().default(3),
  /** The same for refusals for good that nobody could read. */
  unreadBounceLimit: smallint().notNull().default(3),
  /** Of the letters, as a language tag (BCP 47). */
  language: text().notNull().default('en'),
  /** Whether the mail server takes addresses beyond ASCII (RFC 6531): as it last said. */
  mailTakesUtf8: boolean().notNull().default(false),
  /** Whether letters carry a link that no person can see, to tell machines. */
  hiddenLink: boolean().notNull().default(false),
  /** Of the pages a reader sees, `#RRGGBB`; empty is the application's own. */
  colour: text().notNull().default(''),
  /** Seconds between the word to send and the first letter. */
  holdSeconds: smallint().notNull().default(10),
  version: integer().notNull().default(1),
  createdAt: timestamp({ withTimezone: true }).notNull(),
});
