import type { UserId } from '@palabra/core/office';
import type { CampaignId } from '@palabra/core/campaigns';
import type {
  ChangeSetId,
  ContactId,
  DoNotMailReason,
  PermissionKind,
  TopicId,
} from '@palabra/core/contacts';
import { integer, pgTable, primaryKey, text, timestamp } from 'drizzle-orm/pg-core';
import { bytes } from '../../platform/columns.js';
import { topics } from '../vocabulary/vocabulary.table.js';

const moment = () => timestamp({ withTimezone: true });

/** Outlives the contact; checked when recipients are fixed and again when a letter is handed over. */
export const doNotMail = pgTable('do_not_mail', {
  addressHash: bytes().primaryKey(),
  address: text(),
  reason: text().$type<DoNotMailReason>().notNull(),
  at: moment().notNull(),
  campaignId: integer().$type<CampaignId>(),
  note: text(),
  /** Who of the office put it there; null where several did, or none. */
  userId: integer().$type<UserId>(),
  /** The address about which it was said, where that is another one of the same person. */
  spreadFrom: bytes(),
  /** The weaker reason that holds, too, and comes forth when this one goes. */
  beneath: text().$type<DoNotMailReason>(),
});

/** When the reader behind an address said that they want letters again: what is older, and about another address of theirs, does not reach it any more. */
export const cameBack = pgTable('came_back', {
  addressHash: bytes().primaryKey(),
  at: moment().notNull(),
});

/** Topics that the reader behind an address does not want. */
export const droppedTopics = pgTable(
  'dropped_topics',
  {
    addressHash: bytes().notNull(),
    topicId: integer()
      .$type<TopicId>()
      .notNull()
      .references(() => topics.id),
    at: moment().notNull(),
  },
  (table) => [primaryKey({ columns: [table.addressHash, table.topicId] })],
);

/** Everything somebody ever agreed to, or no longer does: written with each change of it, and never changed. */
export const permissions = pgTable(
  'permissions',
  {
    contactId: integer().$type<ContactId>().notNull(),
    /** 0: known from before there was a history. */
    setId: integer().$type<ChangeSetId>().notNull(),
    at: moment().notNull(),
    kind: text().$type<PermissionKind>().notNull(),
    agreedAt: moment(),
    source: text(),
    wording: text(),
  },
  (table) => [primaryKey({ columns: [table.contactId, table.setId] })],
);
