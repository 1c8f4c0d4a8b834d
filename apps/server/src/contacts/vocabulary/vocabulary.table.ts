import type {
  Choice,
  FieldType,
  NamedKey,
  PoolKind,
  SinceUnit,
  TagColour,
  PoolId,
  TagId,
  TopicId,
} from '@palabra/core/contacts';
import { sql } from 'drizzle-orm';
import {
  boolean,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  text,
  timestamp,
  uniqueIndex,
} from 'drizzle-orm/pg-core';
import { keyText } from '../../platform/columns.js';

const moment = () => timestamp({ withTimezone: true });

export const pools = pgTable('pools', {
  id: integer().$type<PoolId>().primaryKey().generatedAlwaysAsIdentity(),
  name: text().notNull(),
  kind: text().$type<PoolKind>().notNull(),
});

export const tags = pgTable(
  'tags',
  {
    id: integer().$type<TagId>().primaryKey().generatedAlwaysAsIdentity(),
    name: text().notNull(),
    nameKey: keyText().notNull(),
    colour: text().$type<TagColour>().notNull(),
    kind: text().$type<'office' | 'automatic'>().notNull().default('office'),
    /** In the office's words. */
    purpose: text().notNull().default(''),
    version: integer().notNull().default(1),
    createdAt: moment().notNull(),
    deletedAt: moment(),
  },
  (table) => [
    uniqueIndex('tags_by_name')
      .on(table.nameKey)
      .where(sql`deleted_at is null`),
  ],
);

/** Tags that look alike, and of which somebody said that they are two; the smaller key first. */
export const tagsToldApart = pgTable(
  'tags_told_apart',
  {
    one: integer().$type<TagId>().notNull(),
    other: integer().$type<TagId>().notNull(),
  },
  (table) => [primaryKey({ columns: [table.one, table.other] })],
);

/** The office's own fields, and what it says of the built-in ones whose choices it names. */
export const ownFields = pgTable(
  'own_fields',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    builtIn: text().$type<NamedKey>().unique(),
    label: text().notNull(),
    labelKey: keyText().notNull(),
    type: text().$type<FieldType>().notNull(),
    /** In their order. Those that are gone stay for whoever has them. */
    choices: jsonb().$type<Choice[]>().notNull().default([]),
    isRequired: boolean().notNull().default(false),
    /** As it is typed; empty for none. */
    standard: text().notNull().default(''),
    help: text().notNull().default(''),
    groupName: text().notNull().default(''),
    position: integer().notNull().default(0),
    /** ISO 4217. */
    currency: text(),
    /** The day a computed one is counted from. */
    sinceDay: text(),
    sinceUnit: text().$type<SinceUnit>(),
    version: integer().notNull().default(1),
    createdAt: moment().notNull(),
    deletedAt: moment(),
  },
  (table) => [
    uniqueIndex('own_fields_by_label')
      .on(table.labelKey)
      .where(sql`deleted_at is null`),
  ],
);

/** Kinds of letters that a reader can choose or drop. */
export const topics = pgTable('topics', {
  id: integer().$type<TopicId>().primaryKey().generatedAlwaysAsIdentity(),
  name: text().notNull(),
  nameKey: keyText().notNull().unique(),
  description: text().notNull().default(''),
  createdAt: moment().notNull(),
});
