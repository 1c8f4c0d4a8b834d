import type { ContactId, PersonalPlace } from '@palabra/core/contacts';
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
    /** How far each place was gone through, behind it. */
    cursors: jsonb().$type<Partial<Record<PersonalPlace, number>>>().notNull().default({}),
    /** Null while that goes on. */
    finishedAt: moment(),
  },
  (table) => [
    index('erasures_by_person').using('gin', table.people),
    index('erasures_open')
      .on(table.id)
      .where(sql`finished_at is null`),
  ],
);
