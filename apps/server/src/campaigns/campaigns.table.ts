import type { WhoUsed } from '@palabra/contract/campaigns';
import type { PeopleFilter } from '@palabra/contract/contacts';
import type { ContactId, TopicId } from '@palabra/core/contacts';
import type { UserId } from '@palabra/core/office';
import type { Rule } from '@palabra/core/segments';
import {
  parseTally,
  type CampaignStatus,
  type Tally,
  type Who,
  type CampaignId,
  type ChosenId,
} from '@palabra/core/campaigns';
import type { CompiledLetter, LetterId } from '@palabra/core/letters';
import {
  boolean,
  customType,
  index,
  integer,
  jsonb,
  pgTable,
  text,
  timestamp,
} from 'drizzle-orm/pg-core';

const moment = () => timestamp({ withTimezone: true });

/** One that was written before there was a reason lacks its line; read, it has nobody on it. */
const tally = customType<{ data: Tally; driverData: unknown }>({
  dataType: () => 'jsonb',
  toDriver: (value) => JSON.stringify(value),
  fromDriver: (raw) => {
    const read = parseTally(raw);
    if (!read) throw new Error('a stored tally can’t be read');
    return read;
  },
});

/** People whom a campaign is for without a segment: just these, or the rule by which a list was narrowed. */
export const chosenPeople = pgTable('chosen_people', {
  id: integer().$type<ChosenId>().primaryKey().generatedAlwaysAsIdentity(),
  name: text().notNull(),
  ids: integer().array().$type<ContactId[]>(),
  filter: jsonb().$type<PeopleFilter>(),
  /** Of the filter, because filters that nobody looks at are forgotten. */
  rule: jsonb().$type<Rule>(),
  userId: integer().$type<UserId>().notNull(),
  createdAt: moment().notNull(),
});

export const campaigns = pgTable(
  'campaigns',
  {
    id: integer().$type<CampaignId>().primaryKey().generatedAlwaysAsIdentity(),
    name: text().notNull(),
    status: text().$type<CampaignStatus>().notNull().default('draft'),
    who: jsonb().$type<Who>().notNull(),
    letterId: integer().$type<LetterId>(),
    /** The kind of letter this is; who dropped it is held back. */
    topicId: integer().$type<TopicId>(),
    senderName: text().notNull(),
    senderAddress: text().notNull(),
    replyTo: text().notNull().default(''),
    sendAt: moment(),
    /** It waits only for the pause that the office keeps before a send. */
    atOnce: boolean().notNull().default(false),
    /** The tally that was agreed to when the send was ordered. */
    seen: tally(),
    /** The tally counted from the written rows. */
    tally: tally(),
    /** How far fixing the recipients has come: the last contact key written. */
    fixedUpTo: integer().notNull().default(0),
    // What was used, kept as it was.
    compiled: jsonb().$type<CompiledLetter>(),
    subject: text(),
    /** “Who” in words and rules; the people themselves are the rows of deliveries and of those held back. */
    whoUsed: jsonb().$type<readonly (WhoUsed & { readonly rule: Rule | null })[]>(),
    fixedAt: moment(),
    startedAt: moment(),
    finishedAt: moment(),
    /** Why sending waits although nobody paused it, in words for the coordinator. */
    trouble: text(),
    /** Rises with every response and settlement, so that counted figures know when they are old. */
    factsVersion: integer().notNull().default(0),
    version: integer().notNull().default(1),
    createdAt: moment().notNull(),
    updatedAt: moment().notNull(),
    deletedAt: moment(),
  },
  (table) => [
    index('campaigns_by_status').on(table.status),
    index('campaigns_by_start').on(table.startedAt),
  ],
);
