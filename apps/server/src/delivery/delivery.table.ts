import type { UserId } from '@palabra/core/office';
import type { ContactId } from '@palabra/core/contacts';
import type { HeldBackReason, CampaignId } from '@palabra/core/campaigns';
import type {
  BounceKind,
  DeliveryState,
  EventKind,
  Evidence,
  MailKind,
  OutboxState,
  ReturnedKind,
  MailId,
} from '@palabra/core/delivery';
import { sql, type SQL } from 'drizzle-orm';
import {
  bigint,
  boolean,
  index,
  integer,
  pgTable,
  primaryKey,
  smallint,
  text,
  timestamp,
  uuid,
} from 'drizzle-orm/pg-core';
import { bytes } from '../platform/columns.js';

const moment = () => timestamp({ withTimezone: true });

/** One letter to one contact in one campaign. Only for people to be mailed. */
export const deliveries = pgTable(
  'deliveries',
  {
    campaignId: integer().$type<CampaignId>().notNull(),
    contactId: integer().$type<ContactId>().notNull(),
    state: text().$type<DeliveryState>().notNull(),
    address: text(),
    addressHash: bytes().notNull(),
    attempts: smallint().notNull().default(0),
    firstTriedAt: moment(),
    /** When a deferred letter is tried again. */
    nextAt: moment(),
    /** The process that holds it while it is handed over. */
    worker: uuid(),
    answer: text(),
    bounce: text().$type<BounceKind>(),
    acceptedAt: moment(),
    bouncedAt: moment(),
    leftAt: moment(),
    complainedAt: moment(),
    repliedAt: moment(),
    firstOpenedAt: moment(),
    lastOpenedAt: moment(),
    opens: integer().notNull().default(0),
    machineOpens: integer().notNull().default(0),
    firstClickedAt: moment(),
    lastClickedAt: moment(),
    clicks: integer().notNull().default(0),
    machineClicks: integer().notNull().default(0),
    /** The numbers of the links that were clicked, by people and by machines. */
    links: smallint().array().notNull().default([]),
    machineLinks: smallint().array().notNull().default([]),
  },
  (table) => [
    primaryKey({ columns: [table.campaignId, table.contactId] }),
    index('deliveries_by_contact').on(table.contactId),
    // In the order in which letters go out.
    index('deliveries_open_work')
      .on(table.campaignId, table.nextAt.asc().nullsFirst(), table.contactId)
      .where(sql`state in ('waiting', 'deferred', 'handing over')`),
    index('deliveries_not_opened')
      .on(table.campaignId, table.contactId)
      .where(sql`state = 'accepted' and first_opened_at is null`),
    // Who opened, who clicked, and when, without a look at the rows.
    index('deliveries_opened')
      .on(table.campaignId, table.contactId, table.firstOpenedAt, table.state)
      .where(sql`first_opened_at is not null`),
    index('deliveries_clicked')
      .on(table.campaignId, table.contactId, table.firstClickedAt)
      .where(sql`first_clicked_at is not null`),
    // Few were accepted and are no longer, or were opened without ever being accepted.
    index('deliveries_otherwise')
      .on(table.contactId)
      .where(sql`state <> 'accepted' and (accepted_at is not null or first_opened_at is not null)`),
    index('deliveries_lost')
      .on(table.contactId)
      .where(sql`state in ('gave up', 'uncertain')`),
    // Few come back, answer or leave.
    index('deliveries_bounced')
      .on(table.campaignId, table.contactId)
      .where(sql`state = 'bounced'`),
    index('deliveries_replied')
      .on(table.campaignId, table.contactId)
      .where(sql`replied_at is not null`),
    index('deliveries_left')
      .on(table.campaignId, table.contactId)
      .where(sql`left_at is not null`),
  ],
);

/** The order in which somebody was sent `deliveries d`. */
export const latestFirst: SQL = sql`coalesce(d.first_tried_at, d.accepted_at) desc nulls last, d.campaign_id desc`;

/** What readers and mail servers did; only ever added to. */
export const events = pgTable(
  'events',
  {
    id: bigint({ mode: 'number' }).primaryKey().generatedAlwaysAsIdentity(),
    kind: text().$type<EventKind>().notNull(),
    at: moment().notNull(),
    contactId: integer().$type<ContactId>().notNull(),
    campaignId: integer().$type<CampaignId>().notNull(),
    link: smallint(),
    machine: boolean().notNull().default(false),
    why: text(),
  },
  (table) => [
    index('events_by_campaign').on(table.campaignId, table.at),
    index('events_by_contact').on(table.contactId, table.at),
  ],
);

/** Everybody who was matched and gets nothing, with the one reason. */
export const heldBack = pgTable(
  'held_back',
  {
    campaignId: integer().$type<CampaignId>().notNull(),
    contactId: integer().$type<ContactId>().notNull(),
    reason: text().$type<HeldBackReason>().notNull(),
    addressHash: bytes(),
  },
  (table) => [
    primaryKey({ columns: [table.campaignId, table.contactId] }),
    index('held_back_by_contact').on(table.contactId),
  ],
);

/** Mail that came back to Palabra: notices, complaints, replies. Kept so that it can be read and sorted by hand. */
export const returnedMail = pgTable(
  'returned_mail',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    at: moment().notNull(),
    /** Taken twice (by SMTP and from a mailbox, or after a crash) it is kept once: SHA-256 of the message. */
    digest: bytes().notNull().unique(),
    kind: text().$type<ReturnedKind>().notNull(),
    bounce: text().$type<BounceKind>(),
    /** What showed which letter it answers; null when nothing did. */
    evidence: text().$type<Evidence>(),
    campaignId: integer().$type<CampaignId>(),
    contactId: integer().$type<ContactId>(),
    sender: text().notNull().default(''),
    subject: text().notNull().default(''),
    /** The beginning of its text, for reading. */
    excerpt: text().notNull().default(''),
    /** The server's words, of a notice. */
    diagnosis: text(),
    source: text().$type<'smtp' | 'mailbox'>().notNull(),
    /** When somebody looked at it or sorted it; what was read by itself without doubt needs nobody. */
    handledAt: moment(),
    handledBy: integer().$type<UserId>(),
  },
  (table) => [
    index('returned_mail_by_time').on(table.at),
    index('returned_mail_by_campaign').on(table.campaignId, table.kind),
    index('returned_mail_by_contact').on(table.contactId),
    index('returned_mail_to_see_to')
      .on(table.at)
      .where(sql`handled_at is null`),
  ],
);

/** How far a mailbox has been read. */
export const mailboxCursors = pgTable('mailbox_cursors', {
  mailbox: text().primaryKey(),
  uidValidity: bigint({ mode: 'number' }).notNull(),
  lastUid: bigint({ mode: 'number' }).notNull(),
});

/** What a link that was mailed to a reader opens. */
export type ReaderLinkKind = 'own page' | 'new address' | 'way back' | 'come back';

/** Links mailed to readers. Each carries a secret, of which only the hash is kept. */
export const readerLinks = pgTable(
  'reader_links',
  {
    secretHash: bytes().primaryKey(),
    kind: text().$type<ReaderLinkKind>().notNull(),
    contactId: integer().$type<ContactId>().notNull(),
    campaignId: integer().$type<CampaignId>().notNull(),
    /** Where an own page's link was mailed; the address to take, or to go back to. */
    address: text().notNull(),
    expiresAt: moment().notNull(),
  },
  (table) => [index('reader_links_by_contact').on(table.contactId)],
);

/** Mails of the office itself, from when they are asked for; what they said goes as soon as it is known what became of them. */
export const outbox = pgTable(
  'outbox',
  {
    id: integer().$type<MailId>().primaryKey().generatedAlwaysAsIdentity(),
    kind: text().$type<MailKind>().notNull(),
    /** Null for one that only looks like the others to whoever measures. */
    address: text(),
    subject: text().notNull(),
    text: text().notNull(),
    state: text().$type<OutboxState>().notNull().default('waiting'),
    attempts: smallint().notNull().default(0),
    nextAt: moment().notNull(),
    /** What the mail server said last. */
    answer: text(),
    createdAt: moment().notNull(),
    settledAt: moment(),
  },
  (table) => [
    index('outbox_open')
      .on(table.nextAt)
      .where(sql`state in ('waiting', 'handing over')`),
  ],
);
