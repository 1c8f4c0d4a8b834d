import { index, integer, pgTable, primaryKey, text, timestamp } from 'drizzle-orm/pg-core';
import { bytes } from '../columns.js';

/** Content-addressed: the id is the SHA-256 of the contents. */
export const files = pgTable('files', {
  id: text().primaryKey(),
  type: text().notNull(),
  size: integer().notNull(),
  createdAt: timestamp({ withTimezone: true }).notNull(),
});

export const filePieces = pgTable(
  'file_pieces',
  {
    fileId: text().notNull(),
    piece: integer().notNull(),
    bytes: bytes().notNull(),
  },
  (table) => [primaryKey({ columns: [table.fileId, table.piece] }), index().on(table.fileId)],
);
