import type { UserId } from '@palabra/core/office';
import type { PermissionKind, ChangeSetId, ContactId, PoolId, TagId } from '@palabra/core/contacts';
import type {
  Encoding,
  ImportState,
  RowOutcome,
  Separator,
  KnownColumn,
  Target,
  ImportId,
} from '@palabra/core/intake';
import { sql } from 'drizzle-orm';
import { index, integer, jsonb, pgTable, primaryKey, text, timestamp } from 'drizzle-orm/pg-core';

const moment = () => timestamp({ withTimezone: true });

export const imports = pgTable(
  'imports',
  {
    id: integer().$type<ImportId>().primaryKey().generatedAlwaysAsIdentity(),
    state: text().$type<ImportState>().notNull(),
    fileId: text().notNull(),
    fileName: text().notNull(),
    encoding: text().$type<Encoding>().notNull(),
    /** The likeliest encodings, with the words by which one tells them apart. */
    guesses: jsonb()
      .$type<readonly { readonly encoding: Encoding; readonly words: readonly string[] }[]>()
      .notNull()
      .default([]),
    separator: text().$type<Separator>().notNull(),
    /** Place of the row that names the columns, from 0; null where none does. */
    headerAt: integer().default(0),
    beginning: jsonb().$type<string[][]>().notNull().default([]),
    headers: jsonb().$type<string[]>().notNull(),
    sample: jsonb().$type<string[][]>().notNull(),
    rows: integer().notNull(),
    mapping: jsonb().$type<Target[]>().notNull(),
    poolId: integer().$type<PoolId>().notNull(),
    ownerId: integer().$type<UserId>().notNull(),
    permission: text().$type<PermissionKind>().notNull().default('unknown'),
    permissionAt: moment(),
    permissionSource: text().notNull().default(''),
    permissionWording: text().notNull().default(''),
    tagIds: jsonb().$type<TagId[]>().notNull().default([]),
    /** The last row that is in, counted from 1 after the header. */
    cursor: integer().notNull().default(0),
    newCount: integer().notNull().default(0),
    changedCount: integer().notNull().default(0),
    unchangedCount: integer().notNull().default(0),
    refusedCount: integer().notNull().default(0),
    /** Rows of people whom a colleague looks after, in a member's list: nothing was changed. */
    elsewhereCount: integer().notNull().default(0),
    /** Further rows of people who are counted by their first. */
    againCount: integer().notNull().default(0),
    /** Rows that came in without a cell that can't be read. */
    doubtedCount: integer().notNull().default(0),
    /** Tags that there were not before a row named them. */
    tagsMade: jsonb().$type<TagId[]>().notNull().default([]),
    /** When a file of its shape was brought in before. */
    knownSince: moment(),
    changeSetId: integer().$type<ChangeSetId>(),
    userId: integer().$type<UserId>().notNull(),
    createdAt: moment().notNull(),
    startedAt: moment(),
    finishedAt: moment(),
  },
  (table) => [index('imports_by_state').on(table.state)],
);

export const importRows = pgTable(
  'import_rows',
  {
    importId: integer().$type<ImportId>().notNull(),
    row: integer().notNull(),
    /** Line of the file on which a refused row begins. */
    line: integer(),
    outcome: text().$type<RowOutcome>().notNull(),
    contactId: integer().$type<ContactId>(),
    /** Why it was refused, or what of it can't be read. */
    reason: text(),
    /** The beginning of each cell of a row with a reason, for looking at it. */
    cells: jsonb().$type<string[]>(),
  },
  (table) => [
    primaryKey({ columns: [table.importId, table.row] }),
    index('import_rows_by_outcome').on(table.importId, table.outcome, table.contactId),
    index('import_rows_to_look_at')
      .on(table.importId, table.row)
      .where(sql`reason is not null`),
  ],
);

/** What the columns of files of one shape were said to fill, by the digest of their names. */
export const importShapes = pgTable('import_shapes', {
  key: text().primaryKey(),
  columns: jsonb().$type<readonly KnownColumn[]>().notNull(),
  usedAt: moment().notNull(),
});
