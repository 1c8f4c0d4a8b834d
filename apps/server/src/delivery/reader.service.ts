// What a reader does on their own page: leave, come back, choose topics, correct their data.
import { createHash, randomBytes } from 'node:crypto';
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import { addressProblems, oneLine, parseAddress } from '@palabra/core/contacts';
import type { TokenBody } from '@palabra/core/delivery';
import type { Clock } from '@palabra/core/kernel';
import { campaignStore } from '../campaigns/index.js';
import { changeStore, contactStore, ContactsService, doNotMailEntry, putOnDoNotMail, recountSoftBounces, takeOffDoNotMail, topicStore, valueOf, write, type ContactRow, type Values } from '../contacts/index.js';
import { theOffice } from '../office/index.js';
import type { Config } from '../platform/config.js';
import { Database, type Db } from '../platform/database.js';
import { Keys } from '../platform/keys.js';
import { CLOCK, CONFIG } from '../platform/time.js';
import { Upkeep } from '../platform/upkeep.js';
import { delivery, markLeft, type OneDelivery } from './delivery.store.js';
import type { EventKind } from './delivery.table.js';
import { addEvents } from './events.store.js';
import { composeNote } from './message.js';
import type { ReaderData, ReaderView } from './reader-pages.js';
import * as store from './reader.store.js';
import { Lane } from './smtp.js';

const DAY = 24 * 3600_000;
/** A letter may be forwarded and lies about for years: what is known of its reader is shown only so long. */
const DATA_DAYS = 60;
const CONFIRM_DAYS = 3;
const MOST_PENDING = 5;

type Said = ReaderView['said'];
const good = (text: string): Said => ({ kind: 'good', text });
const wrong = (text: string): Said => ({ kind: 'wrong', text });
const sha = (text: string): Buffer => createHash('sha256').update(text).digest();

const ownFields = ['given_name', 'family_name', 'postcode', 'town'] as const;

@Injectable()
export class ReaderService implements OnModuleInit {
  constructor(
    private readonly database: Database,
    private readonly contacts: ContactsService,
    private readonly keys: Keys,
    private readonly upkeep: Upkeep,
    @Inject(CONFIG) private readonly config: Config,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  onModuleInit(): void {
    this.upkeep.register(async () => {
      await store.dropOldPending(this.database.db, this.clock.now());
      return false;
    });
  }

  /** The page of the reader whom a token names; undefined when there was no such letter. */
  async view(body: TokenBody, said?: Said): Promise<ReaderView | undefined> {
    const { db } = this.database;
    const row = await delivery(db, body.campaign, body.contact);
    if (!row) return undefined;
    const entry = await doNotMailEntry(db, row.address_hash);
    const dropped = await topicStore.droppedBy(db, row.address_hash);
    const topics = (await topicStore.allTopics(db)).map(({ id, name, description }) => ({ id, name, description, isWanted: !dropped.has(id) }));
    return {
      address: row.address ?? 'This address',
      gets: !entry ? 'letters' : entry.reason === 'left' || entry.reason === 'complained' ? 'nothing: left' : 'nothing: other',
      topics,
      data: await this.data(body, row),
      said,
    };
  }

  private async reader(db: Db, body: TokenBody, row: OneDelivery): Promise<ContactRow | undefined> {
    const campaign = await campaignStore.campaignById(db, body.campaign);
    const isFresh = campaign?.startedAt && this.clock.now().getTime() - campaign.startedAt.getTime() < DATA_DAYS * DAY;
    const contact = isFresh ? await contactStore.contactById(db, body.contact) : undefined;
    // The letter went to an address that is no longer this person's: its link says nothing about them.
    return contact?.addressHash?.equals(row.address_hash) ? contact : undefined;
  }

  private async data(body: TokenBody, row: OneDelivery): Promise<ReaderData | undefined> {
    const contact = await this.reader(this.database.db, body, row);
    return contact && { givenName: contact.givenName, familyName: contact.familyName, address: contact.address ?? '', town: contact.town ?? '', postcode: contact.postcode ?? '' };
  }

  private async note(tx: Db, body: TokenBody, kind: EventKind, at: Date): Promise<void> {
    await campaignStore.factsChanged(tx, [body.campaign]);
    await addEvents(tx, [{ kind, at, campaignId: body.campaign, contactId: body.contact, link: null, machine: false, why: null }]);
  }

  /** One click and final. Writing it twice changes nothing. */
  async leave(body: TokenBody): Promise<boolean> {
    const now = this.clock.now();
    return this.database.transaction(async (tx) => {
      const row = await delivery(tx, body.campaign, body.contact);
      if (!row) return false;
      const isNew = await putOnDoNotMail(tx, { addressHash: row.address_hash, address: row.address, reason: 'left', at: now, campaignId: body.campaign });
      if (isNew || row.left_at === null) await this.note(tx, body, 'left', now);
      await markLeft(tx, body.campaign, body.contact, now);
      return true;
    });
  }

  /** Only who left, or complained, can come back by their own click. */
  async comeBack(body: TokenBody): Promise<Said> {
    return this.database.transaction(async (tx) => {
      const row = await delivery(tx, body.campaign, body.contact);
      const entry = row && (await doNotMailEntry(tx, row.address_hash));
      if (!row || !entry) return good('You get letters from us.');
      if (entry.reason !== 'left' && entry.reason !== 'complained') return wrong('That can’t be done here. Write to us, please.');
      await takeOffDoNotMail(tx, row.address_hash);
      await this.note(tx, body, 'came back', this.clock.now());
      return good('Good to have you back: you get letters from us again.');
    });
  }

  /** Of the topics that the page showed, `wanted` are wanted. What came up since is not dropped unseen. */
  async chooseTopics(body: TokenBody, shown: readonly number[], wanted: readonly number[]): Promise<Said> {
    return this.database.transaction(async (tx) => {
      const row = await delivery(tx, body.campaign, body.contact);
      if (!row) return undefined;
      const before = await topicStore.droppedBy(tx, row.address_hash);
      const dropped = (await topicStore.allTopics(tx)).map(({ id }) => id).filter((id) => (shown.includes(id) ? !wanted.includes(id) : before.has(id)));
      await topicStore.dropTopics(tx, row.address_hash, dropped, this.clock.now());
      await this.note(tx, body, 'chose topics', this.clock.now());
      return good('Your choice is kept.');
    });
  }

  /** Takes over corrected data; a new address only once a letter sent there is answered. */
  async correct(body: TokenBody, given: Readonly<Record<string, string>>): Promise<Said> {
    const { db } = this.database;
    const row = await delivery(db, body.campaign, body.contact);
    const contact = row && (await this.reader(db, body, row));
    if (!row || !contact) return wrong('This letter is too old for that. Use the link in a newer one, or write to us.');
    const address = parseAddress(given['address'] ?? contact.address ?? '');
    if (!address.ok) return wrong(`The email address can’t be right: ${addressProblems[address.error]}.`);
    const values: Values = Object.fromEntries(ownFields.map((key) => [key, oneLine(given[key] ?? String(valueOf(contact, key) ?? '')).slice(0, 200) || null]));
    await this.database.transaction(async (tx) => {
      if (await this.apply(tx, contact.id, values, 'corrected own data')) await this.note(tx, body, 'changed own data', this.clock.now());
    });
    if (address.value.key === contact.addressKey) return good('Kept. Thank you.');
    return this.askNewAddress(body, contact, address.value);
  }

  /** Writes what a reader says of themselves as a change set of its own. */
  private async apply(tx: Db, contactId: number, values: Values, what: string): Promise<boolean> {
    const now = this.clock.now();
    const row = await contactStore.contactById(tx, contactId);
    const written = row && write(row, values, (key) => this.keys.addressHash(key), await this.contacts.fields(tx));
    if (!row || !written || !(await contactStore.changeContact(tx, row.id, row.version, written.columns, now))) return false;
    if (written.columns.addressHash) await recountSoftBounces(tx, [row.id]);
    const setId = await changeStore.openChangeSet(tx, { kind: 'reader', userId: null, at: now, what });
    await changeStore.addChangeItems(tx, [{ setId, contactId, before: written.before, after: written.after }]);
    await changeStore.countInto(tx, setId, 1);
    return true;
  }

  private async askNewAddress(body: TokenBody, contact: ContactRow, { address, key }: { address: string; key: string }): Promise<Said> {
    const { db } = this.database;
    if ((await store.pendingCount(db, contact.id)) >= MOST_PENDING) return wrong('A letter about a new address is on its way already. Answer that one first.');
    const [other] = await contactStore.contactsByAddress(db, contact.poolId, [key]);
    const secret = randomBytes(24).toString('base64url');
    await store.addPendingAddress(db, { secretHash: sha(secret), contactId: contact.id, campaignId: body.campaign, address, expiresAt: new Date(this.clock.now().getTime() + CONFIRM_DAYS * DAY) });
    // Whether the address is known already is nobody's business here; the letter is sent only where it makes sense.
    if (other || (await doNotMailEntry(db, this.keys.addressHash(key)))) return good(`We have sent a letter to ${address}. Answer it, and our letters go there.`);
    const office = await theOffice(db);
    const text = `Somebody, we think you, asked that letters from ${office.name} go to this address.\n\nIf that is right, open this page and say yes:\n${this.config.publicUrl}/confirm/${secret}\n\nIf not, do nothing: nothing changes.\n\n${office.name}\n${office.postalAddress}`;
    const mail = await composeNote({ name: office.senderName, address: office.senderAddress }, address, `Your new address for letters from ${office.name}`, text);
    const lane = new Lane(this.config.smtpUrl, this.config.smtpTimeoutMs);
    const outcome = await lane.send(mail.from, mail.to, mail.raw);
    lane.close();
    if (outcome.kind === 'answered' && outcome.code < 300) return good(`We have sent a letter to ${address}. Answer it, and our letters go there.`);
    return wrong(`The letter to ${address} could not be sent just now. Try again later; everything else is kept.`);
  }

  async pending(secret: string): Promise<string | undefined> {
    return (await store.pendingAddress(this.database.db, sha(secret), this.clock.now()))?.address;
  }

  /** The new address is the reader's: they had the letter that was sent there. */
  async confirm(secret: string): Promise<string | undefined> {
    return this.database.transaction(async (tx) => {
      const pending = await store.pendingAddress(tx, sha(secret), this.clock.now());
      const contact = pending && (await contactStore.contactById(tx, pending.contactId));
      const parsed = pending && parseAddress(pending.address);
      if (!pending || !contact || !parsed?.ok) return undefined;
      if ((await contactStore.contactsByAddress(tx, contact.poolId, [parsed.value.key])).length > 0) return undefined;
      await this.apply(tx, contact.id, { address: parsed.value.address }, 'gave a new address');
      await store.dropPending(tx, contact.id);
      return pending.address;
    });
  }
}
