import type {
  FieldType,
  PoolKind,
  TagColour,
  PoolId,
  TagId,
  TopicId,
} from '@palabra/core/contacts';
import { integer, jsonb, pgTable, text, timestamp } from 'drizzle-orm/pg-core';
import { keyText } from '../../platform/columns.js';

const moment = () => timestamp({ withTimezone: true });

export const pools = pgTable('pools', {
  id: integer().$type<PoolId>().primaryKey().generatedAlwaysAsIdentity(),
  name: text().notNull(),
  kind: text().$type<PoolKind>().notNull(),
});

export const tags = pgTable('tags', {
  id: integer().$type<TagId>().primaryKey().generatedAlwaysAsIdentity(),
  name: text().notNull(),
  nameKey: keyText().notNull().unique(),
  colour: text().$type<TagColour>().notNull(),
  kind: text().$type<'office' | 'automatic'>().notNull().default('office'),
  createdAt: moment().notNull(),
});

export const ownFields = pgTable('own_fields', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  label: text().notNull(),
  labelKey: keyText().notNull().unique(),
  type: text().$type<FieldType>().notNull(),
  choices: jsonb().$type<{ key: string; label: string }[]>().notNull().default([]),
  createdAt: moment().notNull(),
});

/** Kinds of letters that a reader can choose or drop. */
export const topics = pgTable('topics', {
  id: integer().$type<TopicId>().primaryKey().generatedAlwaysAsIdentity(),
  name: text().notNull(),
  nameKey: keyText().notNull().unique(),
  description: text().notNull().default(''),
  createdAt: moment().notNull(),
});
