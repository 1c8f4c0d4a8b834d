import type { ContactId } from '@palabra/core/contacts';
import type { UserId } from '@palabra/core/office';
import { sql } from 'drizzle-orm';
import { boolean, index, integer, jsonb, pgTable, timestamp } from 'drizzle-orm/pg-core';
import { bytes } from '../../platform/columns.js';

const moment = () => timestamp({ withTimezone: true });

/** People whose data was taken out, at their request or because they had been in the bin long enough. Holds nothing of them. */
export const erasures = pgTable(
  'erasures',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    at: moment().notNull(),
    /** Null where the bin was emptied. */
    userId: integer().$type<UserId>(),
    /** At their own request: then no list brings them back. */
    isAsked: boolean().notNull(),
    people: integer().array().$type<ContactId[]>().notNull(),
    /** Of their addresses. */
    hashes: bytes().array().notNull(),
    /** Backups made before, which hold them still. */
    backups: jsonb().$type<readonly string[]>().notNull().default([]),
    /** The last imported file that was gone through. */
    cursor: integer().notNull().default(0),
    /** Null while files are gone through. */
    finishedAt: moment(),
  },
  (table) => [
    index('erasures_by_person').using('gin', table.people),
    index('erasures_open')
      .on(table.id)
      .where(sql`finished_at is null`),
  ],
);
