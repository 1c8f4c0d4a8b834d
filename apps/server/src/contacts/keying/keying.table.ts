import { integer, pgTable, text } from 'drizzle-orm/pg-core';

/** One row: by what the keys that people's texts are compared by were made, and how far they are being made anew. */
export const keyings = pgTable('keyings', {
  id: integer().primaryKey(),
  /** Empty of an office from before this was noted. */
  madeBy: text().notNull().default(''),
  /** By what they are being made anew. */
  aim: text().notNull().default(''),
  /** The contact up to whom they are; null when nothing is being done. */
  cursor: integer(),
});
