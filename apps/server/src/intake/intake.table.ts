import type { UserId } from '@palabra/core/office';
import type { PermissionKind, ChangeSetId, ContactId, PoolId, TagId } from '@palabra/core/contacts';
import type {
  Encoding,
  ImportState,
  ImportKind,
  LookCounts,
  Matching,
  Plan,
  RowOutcome,
  RowProblem,
  Separator,
  KnownColumn,
  Target,
  ImportId,
} from '@palabra/core/intake';
import { sql } from 'drizzle-orm';
import {
  boolean,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  timestamp,
} from 'drizzle-orm/pg-core';

const moment = () => timestamp({ withTimezone: true });

export const imports = pgTable(
  'imports',
  {
    id: integer().$type<ImportId>().primaryKey().generatedAlwaysAsIdentity(),
    state: text().$type<ImportState>().notNull(),
    kind: text().$type<ImportKind>().notNull().default('text'),
    /** The table that is read, as text. */
    fileId: text().notNull(),
    /** The file as it came, where that is no table of text. */
    originalId: text(),
    /** The sheets of a workbook, and which of them the table is. */
    sheets: jsonb().$type<readonly string[]>().notNull().default([]),
    sheetAt: integer().notNull().default(0),
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
    matching: text().$type<Matching>().notNull().default('address'),
    fixed: jsonb().$type<Plan['fixed']>().notNull().default({}),
    tagsMeant: jsonb().$type<Plan['tagsMeant']>().notNull().default([]),
    owners: jsonb().$type<Plan['owners']>().notNull().default([]),
    /** Counts what was said of the file. */
    planVersion: integer().notNull().default(1),
    /** Counts that, and each row that was mended; of which of these states it is known what would happen; and how many rows the look at the latest has seen. */
    lookWanted: integer().notNull().default(1),
    lookVersion: integer(),
    lookCursor: integer().notNull().default(0),
    look: jsonb().$type<LookCounts>(),
    /** Own fields that were made for its columns. */
    fieldsMade: jsonb().$type<string[]>().notNull().default([]),
    /** The last row that is in, counted from 1 after the header. */
    cursor: integer().notNull().default(0),
    newCount: integer().notNull().default(0),
    changedCount: integer().notNull().default(0),
    unchangedCount: integer().notNull().default(0),
    refusedCount: integer().notNull().default(0),
    /** Rows of people whom a colleague looks after, in a member's list: nothing was changed. */
    elsewhereCount: integer().notNull().default(0),
    /** Why it ended before its end, where nobody stopped it. */
    stoppedBy: text().$type<'people of colleagues'>(),
    /** Further rows of people who are counted by their first. */
    againCount: integer().notNull().default(0),
    /** Rows that somebody left out. */
    outCount: integer().notNull().default(0),
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

/** What each row of a file would do, before it comes in, by the state of what was said and mended of it. */
export const importLooks = pgTable(
  'import_looks',
  {
    importId: integer().$type<ImportId>().notNull(),
    version: integer().notNull(),
    row: integer().notNull(),
    line: integer().notNull(),
    outcome: text().$type<RowOutcome>().notNull(),
    contactId: integer().$type<ContactId>(),
    /** The row of the same person before this one. */
    sameAs: integer(),
    isLook: boolean().notNull(),
    isMended: boolean().notNull(),
    /** The beginning of each cell, mended where it was. */
    cells: jsonb().$type<string[]>().notNull(),
    problems: jsonb().$type<RowProblem[]>(),
    /** What somebody has in a field that a cell changes, by column. */
    was: jsonb().$type<Record<number, string>>(),
  },
  (table) => [
    primaryKey({ columns: [table.importId, table.version, table.row] }),
    index('import_looks_by_outcome').on(table.importId, table.version, table.outcome, table.row),
    index('import_looks_to_look_at')
      .on(table.importId, table.version, table.row)
      .where(sql`is_look or is_mended`),
  ],
);

/** What somebody did to single rows by hand. */
export const importMends = pgTable(
  'import_mends',
  {
    importId: integer().$type<ImportId>().notNull(),
    row: integer().notNull(),
    cells: jsonb().$type<Record<number, string>>().notNull().default({}),
    isOut: boolean().notNull().default(false),
    person: integer().$type<ContactId>(),
    isSeen: boolean().notNull().default(false),
  },
  (table) => [primaryKey({ columns: [table.importId, table.row] })],
);

/** What the columns of files of one shape were said to fill, by the digest of their names. */
export const importShapes = pgTable('import_shapes', {
  key: text().primaryKey(),
  columns: jsonb().$type<readonly KnownColumn[]>().notNull(),
  usedAt: moment().notNull(),
});
