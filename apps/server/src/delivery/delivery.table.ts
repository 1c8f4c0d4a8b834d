import type { HeldBackReason } from '@palabra/core/campaigns';
import type { BounceKind, DeliveryState } from '@palabra/core/delivery';
import { sql } from 'drizzle-orm';
import { bigint, boolean, index, integer, pgTable, primaryKey, smallint, text, timestamp, uuid } from 'drizzle-orm/pg-core';
import { bytes } from '../platform/columns.js';

const moment = () => timestamp({ withTimezone: true });

/** One letter to one contact in one campaign. Only for people to be mailed. */
export const deliveries = pgTable(
  'deliveries',
  {
    campaignId: integer().notNull(),
    contactId: integer().notNull(),
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
    firstOpenedAt: moment(),
    lastOpenedAt: moment(),
    opens: integer().notNull().default(0),
    machineOpens: integer().notNull().default(0),
    firstClickedAt: moment(),
    lastClickedAt: moment(),
    clicks: integer().notNull().default(0),
    machineClicks: integer().notNull().default(0),
  },
  (table) => [
    primaryKey({ columns: [table.campaignId, table.contactId] }),
    index('deliveries_by_contact').on(table.contactId),
    index('deliveries_open_work')
      .on(table.campaignId, table.nextAt)
      .where(sql`state in ('waiting', 'deferred', 'handing over')`),
    index('deliveries_not_opened')
      .on(table.campaignId)
      .where(sql`state = 'accepted' and first_opened_at is null`),
  ],
);

export type EventKind = 'opened' | 'clicked' | 'left' | 'bounced' | 'came back';

/** What readers and mail servers did; only ever added to. */
export const events = pgTable(
  'events',
  {
    id: bigint({ mode: 'number' }).primaryKey().generatedAlwaysAsIdentity(),
    kind: text().$type<EventKind>().notNull(),
    at: moment().notNull(),
    contactId: integer().notNull(),
    campaignId: integer().notNull(),
    link: smallint(),
    machine: boolean().notNull().default(false),
    why: text(),
  },
  (table) => [index('events_by_campaign').on(table.campaignId, table.at), index('events_by_contact').on(table.contactId, table.at)],
);

/** Everybody who was matched and gets nothing, with the one reason. */
export const heldBack = pgTable(
  'held_back',
  {
    campaignId: integer().notNull(),
    contactId: integer().notNull(),
    reason: text().$type<HeldBackReason>().notNull(),
    addressHash: bytes(),
  },
  (table) => [primaryKey({ columns: [table.campaignId, table.contactId] }), index('held_back_by_contact').on(table.contactId)],
);
