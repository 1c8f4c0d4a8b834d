import type { UserId } from '@palabra/core/office';
import type { LetterContent, LetterId } from '@palabra/core/letters';
import { index, integer, jsonb, pgTable, primaryKey, text, timestamp } from 'drizzle-orm/pg-core';

const moment = () => timestamp({ withTimezone: true });

export const letters = pgTable(
  'letters',
  {
    id: integer().$type<LetterId>().primaryKey().generatedAlwaysAsIdentity(),
    name: text().notNull(),
    content: jsonb().$type<LetterContent>().notNull(),
    version: integer().notNull().default(1),
    createdAt: moment().notNull(),
    updatedAt: moment().notNull(),
    deletedAt: moment(),
  },
  (table) => [index('letters_by_change').on(table.updatedAt)],
);

export const letterVersions = pgTable(
  'letter_versions',
  {
    letterId: integer().$type<LetterId>().notNull(),
    version: integer().notNull(),
    content: jsonb().$type<LetterContent>().notNull(),
    at: moment().notNull(),
    userId: integer().$type<UserId>(),
  },
  (table) => [primaryKey({ columns: [table.letterId, table.version] })],
);
