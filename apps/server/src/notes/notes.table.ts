import type { ContactId } from '@palabra/core/contacts';
import type { RichText } from '@palabra/core/letters';
import type { NoteId, NoteKind, TaskBatchId, TaskId, TaskKind } from '@palabra/core/notes';
import type { UserId } from '@palabra/core/office';
import { sql } from 'drizzle-orm';
import {
  boolean,
  date,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  timestamp,
} from 'drizzle-orm/pg-core';

const moment = () => timestamp({ withTimezone: true });

/** What somebody wrote down about a person. */
export const notes = pgTable(
  'notes',
  {
    id: integer().$type<NoteId>().primaryKey().generatedAlwaysAsIdentity(),
    contactId: integer().$type<ContactId>().notNull(),
    userId: integer().$type<UserId>().notNull(),
    kind: text().$type<NoteKind>().notNull(),
    text: jsonb().$type<RichText>().notNull(),
    at: moment().notNull(),
    pinned: boolean().notNull().default(false),
    version: integer().notNull().default(1),
    deletedAt: moment(),
  },
  (table) => [
    index('notes_by_contact').on(table.contactId, table.at),
    index('notes_gone')
      .on(table.deletedAt)
      .where(sql`deleted_at is not null`),
  ],
);

/** Colleagues who find a note on their desk, until they have seen it. */
export const notesTold = pgTable(
  'notes_told',
  {
    noteId: integer().$type<NoteId>().notNull(),
    userId: integer().$type<UserId>().notNull(),
    seenAt: moment(),
  },
  (table) => [
    primaryKey({ columns: [table.noteId, table.userId] }),
    index('notes_to_see')
      .on(table.userId)
      .where(sql`seen_at is null`),
  ],
);

/** What somebody is to do for a person. */
export const tasks = pgTable(
  'tasks',
  {
    id: integer().$type<TaskId>().primaryKey().generatedAlwaysAsIdentity(),
    contactId: integer().$type<ContactId>().notNull(),
    /** Who is to do it. */
    userId: integer().$type<UserId>().notNull(),
    madeBy: integer().$type<UserId>().notNull(),
    kind: text().$type<TaskKind>().notNull(),
    text: text().notNull(),
    due: date({ mode: 'string' }),
    remind: boolean().notNull().default(false),
    remindedAt: moment(),
    doneAt: moment(),
    doneBy: integer().$type<UserId>(),
    /** Made together with others, for many people at once. */
    batch: integer().$type<TaskBatchId>(),
    createdAt: moment().notNull(),
    version: integer().notNull().default(1),
    deletedAt: moment(),
  },
  (table) => [
    index('tasks_by_contact').on(table.contactId),
    index('tasks_open')
      .on(table.userId, table.due.asc().nullsLast(), table.id)
      .where(sql`done_at is null and deleted_at is null`),
    index('tasks_open_of_all')
      .on(table.due.asc().nullsLast(), table.id)
      .where(sql`done_at is null and deleted_at is null`),
    index('tasks_done')
      .on(table.doneAt, table.id)
      .where(sql`done_at is not null and deleted_at is null`),
    index('tasks_by_batch')
      .on(table.batch)
      .where(sql`batch is not null`),
    index('tasks_gone')
      .on(table.deletedAt)
      .where(sql`deleted_at is not null`),
  ],
);
