// What a reader does. By the link in a letter: leave, and choose topics; a letter may be forwarded, so it shows
// and does no more. By a link mailed to the address on record: see and correct their data, give a new address,
// come back.
import { createHash, randomBytes } from 'node:crypto';
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import {
  addressProblems,
  maskedAddress,
  oneLine,
  parseAddress,
  permissionValues,
  type ContactId,
} from '@palabra/core/contacts';
import type { TokenBody } from '@palabra/core/delivery';
import type { Clock } from '@palabra/core/kernel';
import type { EventKind } from '@palabra/core/delivery';
import { theOffice } from '../office/index.js';
import { factsChanged } from '../campaigns/index.js';
import {
  allTopics,
  anyContacts,
  contactById,
  type ContactRow,
  contactsByAddress,
  doNotMailEntry,
  droppedBy,
  dropTopics,
  lockContacts,
  letBackIn,
  PeopleWriter,
  addressesOf,
  putPersonOnDoNotMail,
  standardValues,
  takeOffDoNotMail,
  valueOf,
  type Values,
  VocabularyService,
} from '../contacts/index.js';
import type { Config } from '../platform/config.js';
import { Database, type Db } from '../platform/database.js';
import { Keys } from '../platform/keys.js';
import { DAY, mayTry, type Limit } from '../platform/throttle.store.js';
import { CLOCK, CONFIG } from '../platform/time.js';
import { Upkeep } from '../platform/upkeep.js';
import { delivery, markLeft } from './delivery.store.js';
import type { ReaderLinkKind } from './delivery.table.js';
import { addEvents } from './events.store.js';
import { Outbox } from './outbox.js';
import { comingBack } from './reader-pages.js';
import type { ReaderData, ReaderTopic, Said, LetterView, OwnView } from './reader-pages.js';
import * as store from './reader.store.js';

/** How long a mailed link works. */
const LIVES: Record<ReaderLinkKind, number> = {
  'own page': DAY,
  'new address': 3 * DAY,
  'way back': 14 * DAY,
  'come back': 3 * DAY,
};
const PLACES: Record<ReaderLinkKind, string> = {
  'own page': 'yours',
  'new address': 'confirm',
  'way back': 'back',
  'come back': 'again',
};
/** Mails that a letter, a person and an address may bring about in a day; whoever asks for more plays with somebody. */
const A_FEW: Limit = { most: 3, windowMs: DAY };
const SOME: Limit = { most: 5, windowMs: DAY };
/** How often topics are chosen by one letter in a day: each choice is written down. */
const CHOICES: Limit = { most: 30, windowMs: DAY };

const good = (text: string): Said => ({ kind: 'good', text });
const wrong = (text: string): Said => ({ kind: 'wrong', text });
const sha = (text: string): Buffer => createHash('sha256').update(text).digest();

const ownFields = ['given_name', 'family_name', 'postcode', 'town'] as const;

/** A reader who came by a mailed link: whose it is, and what the person is now, if still there. */
interface Visit {
  readonly link: store.ReaderLink;
  readonly contact: ContactRow | undefined;
  readonly hash: Buffer;
}

@Injectable()
export class ReaderService implements OnModuleInit {
  constructor(
    private readonly database: Database,
    private readonly writer: PeopleWriter,
    private readonly vocabulary: VocabularyService,
    private readonly outbox: Outbox,
    private readonly keys: Keys,
    private readonly upkeep: Upkeep,
    @Inject(CONFIG) private readonly config: Config,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  onModuleInit(): void {
    this.upkeep.register(async () => {
      await store.dropOldLinks(this.database.db, this.clock.now());
      return false;
    });
  }

  private async getsOf(db: Db, addressHash: Buffer): Promise<LetterView['gets']> {
    const entry = await doNotMailEntry(db, addressHash);
    if (!entry) return 'letters';
    if (entry.reason === 'erased') return 'nothing: erased';
    return entry.reason === 'left' || entry.reason === 'complained'
      ? 'nothing: left'
      : 'nothing: other';
  }

  private async topicsOf(db: Db, addressHash: Buffer): Promise<ReaderTopic[]> {
    const dropped = await droppedBy(db, addressHash);
    return (await allTopics(db)).map(({ id, name, description }) => ({
      id,
      name,
      description,
      isWanted: !dropped.has(id),
    }));
  }

  private async note(
    tx: Db,
    { campaign, contact }: Pick<TokenBody, 'campaign' | 'contact'>,
    kind: EventKind,
    at = this.clock.now(),
  ): Promise<void> {
    await factsChanged(tx, [campaign]);
    await addEvents(tx, [
      { kind, at, campaignId: campaign, contactId: contact, link: null, machine: false, why: null },
    ]);
  }

  // By the link in a letter.

  /** The page behind a letter's link; undefined when there was no such letter. */
  async view(body: TokenBody, said?: Said): Promise<LetterView | undefined> {
    const { db } = this.database;
    const row = await delivery(db, body.campaign, body.contact);
    if (!row) return undefined;
    const address = row.address === null ? 'This address' : maskedAddress(row.address);
    return {
      address,
      gets: await this.getsOf(db, row.address_hash),
      topics: await this.topicsOf(db, row.address_hash),
      said,
    };
  }

  /** One click and final. Writing it twice changes nothing. */
  async leave(body: TokenBody): Promise<boolean> {
    const now = this.clock.now();
    return this.database.transaction(async (tx) => {
      const row = await delivery(tx, body.campaign, body.contact);
      if (!row) return false;
      if ((await this.getsOf(tx, row.address_hash)) === 'nothing: erased') return true;
      const isNew = await putPersonOnDoNotMail(tx, body.contact, {
        addressHash: row.address_hash,
        address: row.address,
        reason: 'left',
        at: now,
        campaignId: body.campaign,
      });
      if (isNew || row.left_at === null) await this.note(tx, body, 'left', now);
      await markLeft(tx, body.campaign, body.contact, now);
      return true;
    });
  }

  /** Of the topics that the page showed, `wanted` are wanted. What came up since is not dropped unseen. */
  async chooseTopics(
    body: TokenBody,
    shown: readonly number[],
    wanted: readonly number[],
  ): Promise<Said | undefined> {
    return this.database.transaction(async (tx) => {
      const row = await delivery(tx, body.campaign, body.contact);
      return row && this.keepTopics(tx, body, row.address_hash, shown, wanted);
    });
  }

  private async keepTopics(
    tx: Db,
    who: Pick<TokenBody, 'campaign' | 'contact'>,
    hash: Buffer,
    shown: readonly number[],
    wanted: readonly number[],
  ): Promise<Said> {
    if (!(await mayTry(tx, `topics ${who.campaign} ${who.contact}`, CHOICES, this.clock.now())))
      return wrong(
        'You chose many times today; what you chose last is kept. Tomorrow you can choose again.',
      );
    // Of whoever was erased nothing is written down again.
    if ((await this.getsOf(tx, hash)) === 'nothing: erased')
      return wrong('There is nothing left here to choose.');
    const all = (await allTopics(tx)).map(({ id }) => id);
    // The person is meant, with all addresses that they have by now.
    for (const address of await addressesOf(tx, who.contact, hash)) {
      const before = await droppedBy(tx, address);
      const dropped = all.filter((id) =>
        shown.includes(id) ? !wanted.includes(id) : before.has(id),
      );
      await dropTopics(tx, address, dropped, this.clock.now());
    }
    await this.note(tx, who, 'chose topics');
    return good('Your choice is kept.');
  }

  /** Mails a link to the reader's own page to the address on record: whoever has the letter may ask, only the reader gets it. */
  async askLink(body: TokenBody): Promise<Said | undefined> {
    const now = this.clock.now();
    return this.database.transaction(async (tx) => {
      const row = await delivery(tx, body.campaign, body.contact);
      if (!row) return undefined;
      const [contact] = await lockContacts(tx, [body.contact]);
      const address = contact ? contact.address : row.address;
      const hash = contact ? contact.addressHash : row.address_hash;
      const isFew =
        (await mayTry(tx, `link by letter ${body.campaign} ${body.contact}`, A_FEW, now)) &&
        (hash === null || (await mayTry(tx, mailTo(hash), SOME, now)));
      if (!isFew)
        return wrong(
          'Letters with a link are on their way already. Look for them, also where advertising is put; tomorrow you can ask for another.',
        );
      const isReached =
        address !== null && hash !== null && (await this.getsOf(tx, hash)) !== 'nothing: other';
      const url = await this.addLink(tx, 'own page', body, address ?? '');
      await this.outbox.add(tx, 'own page', isReached ? address : null, { url });
      return good(
        'We are sending a letter with a link to the address that our letters go to. It comes within minutes and works for a day.',
      );
    });
  }

  private async addLink(
    tx: Db,
    kind: ReaderLinkKind,
    { campaign, contact }: Pick<TokenBody, 'campaign' | 'contact'>,
    address: string,
  ): Promise<string> {
    const secret = randomBytes(24).toString('base64url');
    const expiresAt = new Date(this.clock.now().getTime() + LIVES[kind]);
    await store.addLink(tx, {
      secretHash: sha(secret),
      kind,
      contactId: contact,
      campaignId: campaign,
      address,
      expiresAt,
    });
    const place = PLACES[kind];
    return `${this.config.publicUrl}/${place}/${secret}`;
  }

  // By a link that was mailed.

  /** Whoever has the link had the mail; it ends when the address it went to is no longer this person's. */
  private async visit(db: Db, secret: string, isLocked = false): Promise<Visit | undefined> {
    const link = await store.linkOf(db, 'own page', sha(secret), this.clock.now());
    const parsed = link && parseAddress(link.address);
    if (!link || !parsed?.ok) return undefined;
    const hash = this.keys.addressHash(parsed.value.key);
    const contact = isLocked
      ? (await lockContacts(db, [link.contactId]))[0]
      : await contactById(db, link.contactId);
    return contact && !contact.addressHash?.equals(hash) ? undefined : { link, contact, hash };
  }

  async ownView(secret: string, said?: Said): Promise<OwnView | undefined> {
    const { db } = this.database;
    const found = await this.visit(db, secret);
    if (!found) return undefined;
    const { link, contact, hash } = found;
    const data: ReaderData | undefined = contact && {
      givenName: contact.givenName,
      familyName: contact.familyName,
      address: contact.address ?? '',
      town: contact.town ?? '',
      postcode: contact.postcode ?? '',
    };
    return {
      address: link.address,
      gets: await this.getsOf(db, hash),
      topics: await this.topicsOf(db, hash),
      data,
      said,
    };
  }

  private async asVisitor(
    secret: string,
    work: (tx: Db, found: Visit, who: TokenBody) => Promise<Said>,
  ): Promise<Said | undefined> {
    return this.database.transaction(async (tx) => {
      const found = await this.visit(tx, secret, true);
      if (!found) return undefined;
      return work(tx, found, {
        campaign: found.link.campaignId,
        contact: found.link.contactId,
        link: 0,
      });
    });
  }

  leaveOwn = (secret: string): Promise<Said | undefined> =>
    this.asVisitor(secret, async (tx, { link, hash }, who) => {
      const now = this.clock.now();
      if (
        await putPersonOnDoNotMail(tx, who.contact, {
          addressHash: hash,
          address: link.address,
          reason: 'left',
          at: now,
          campaignId: who.campaign,
        })
      )
        await this.note(tx, who, 'left', now);
      await markLeft(tx, who.campaign, who.contact, now);
      return good('You get no more letters from us, from this moment on.');
    });

  /** Only who left, or complained, can come back by their own click. */
  comeBack = (secret: string): Promise<Said | undefined> =>
    this.asVisitor(secret, async (tx, { hash, contact }, who) => {
      const gets = await this.getsOf(tx, hash);
      if (gets === 'letters') return good('You get letters from us.');
      if (gets !== 'nothing: left') return wrong('That can’t be done here. Write to us, please.');
      await takeOffDoNotMail(tx, hash, this.clock.now());
      if (contact) await this.apply(tx, contact.id, await this.agreedNow(tx), 'came back');
      await this.note(tx, who, 'came back');
      return good('Good to have you back: you get letters from us again.');
    });

  /** What somebody says who comes back. */
  private async agreedNow(db: Db): Promise<Values> {
    return permissionValues({
      permission: 'asked',
      at: this.clock.now().toISOString(),
      source: 'their own page',
      wording: comingBack((await theOffice(db)).name),
    });
  }

  /**
   * Somebody who was erased gives their address: if it is the one that the letter went to, they are mailed a link. Whether
   * it is, nobody learns here.
   */
  async askBack(body: TokenBody, text: string): Promise<Said | undefined> {
    const now = this.clock.now();
    const parsed = parseAddress(text);
    if (!parsed.ok) return wrong(`That can’t be right: ${addressProblems[parsed.error]}.`);
    const { address, key } = parsed.value;
    const hash = this.keys.addressHash(key);
    return this.database.transaction(async (tx) => {
      const row = await delivery(tx, body.campaign, body.contact);
      if (!row || (await this.getsOf(tx, row.address_hash)) !== 'nothing: erased') return undefined;
      const isFew =
        (await mayTry(tx, `link by letter ${body.campaign} ${body.contact}`, A_FEW, now)) &&
        (await mayTry(tx, mailTo(hash), SOME, now));
      if (!isFew) return wrong('You asked often today. Tomorrow you can ask again.');
      const isIt = hash.equals(row.address_hash);
      const url = await this.addLink(tx, 'come back', body, isIt ? address : '');
      await this.outbox.add(tx, 'come back', isIt ? address : null, { url });
      return good(
        'If our letters came to that address, a link is on its way there. It works for three days.',
      );
    });
  }

  private async erasedBehind(
    db: Db,
    secret: string,
  ): Promise<{ readonly link: store.ReaderLink; readonly hash: Buffer } | undefined> {
    const link = await store.linkOf(db, 'come back', sha(secret), this.clock.now());
    const parsed = link && parseAddress(link.address);
    if (!link || !parsed?.ok) return undefined;
    const hash = this.keys.addressHash(parsed.value.key);
    return (await this.getsOf(db, hash)) === 'nothing: erased' ? { link, hash } : undefined;
  }

  async mayComeBack(secret: string): Promise<boolean> {
    return (await this.erasedBehind(this.database.db, secret)) !== undefined;
  }

  /** Whoever was erased and comes back is somebody new, with an address and what they said. */
  async comeBackErased(secret: string): Promise<boolean> {
    return this.database.transaction(async (tx) => {
      const found = await this.erasedBehind(tx, secret);
      const [was] = found ? await anyContacts(tx, [found.link.contactId]) : [];
      if (!found || !was) return false;
      await letBackIn(tx, found.hash);
      const fields = await this.vocabulary.fields(tx);
      const values = { ...standardValues(fields), address: found.link.address };
      await this.writer.write(
        tx,
        { kind: 'reader', userId: null, what: 'came back after being erased' },
        fields,
        async (writing) => {
          const agreed = await this.agreedNow(tx);
          const { poolId, ownerId } = was;
          await writing.add([{ values: { ...values, ...agreed }, poolId, ownerId }]);
        },
      );
      await store.dropLinks(tx, was.id, 'come back');
      return true;
    });
  }

  chooseOwnTopics = (
    secret: string,
    shown: readonly number[],
    wanted: readonly number[],
  ): Promise<Said | undefined> =>
    this.asVisitor(secret, (tx, { hash }, who) => this.keepTopics(tx, who, hash, shown, wanted));

  /** Takes over corrected data; a new address only once a letter sent there is answered. */
  correct = (secret: string, given: Readonly<Record<string, string>>): Promise<Said | undefined> =>
    this.asVisitor(secret, async (tx, { contact }, who) => {
      if (!contact) return wrong('There is nothing left here to correct.');
      const address = parseAddress(given['address'] ?? contact.address ?? '');
      if (!address.ok)
        return wrong(`The email address can’t be right: ${addressProblems[address.error]}.`);
      const values: Values = Object.fromEntries(
        ownFields.map((key) => [
          key,
          oneLine(given[key] ?? String(valueOf(contact, key) ?? '')).slice(0, 200) || null,
        ]),
      );
      if (await this.apply(tx, contact.id, values, 'corrected own data'))
        await this.note(tx, who, 'changed own data');
      return address.value.key === contact.addressKey
        ? good('Kept. Thank you.')
        : this.askNewAddress(tx, who, contact, address.value);
    });

  /** Writes what a reader says of themselves as a change set of its own. */
  private async apply(
    tx: Db,
    contactId: ContactId,
    values: Values,
    what: string,
  ): Promise<boolean> {
    const [row] = await lockContacts(tx, [contactId]);
    if (!row) return false;
    const occasion = { kind: 'reader', userId: null, what } as const;
    const fields = await this.vocabulary.fields(tx);
    const set = await this.writer.write(tx, occasion, fields, async (writing) => {
      await writing.change([{ row, values }]);
    });
    return set !== null;
  }

  /** The person's row is locked, so many requests at once are as many as one after another. */
  private async askNewAddress(
    tx: Db,
    who: TokenBody,
    contact: ContactRow,
    { address, key }: { address: string; key: string },
  ): Promise<Said> {
    const now = this.clock.now();
    const hash = this.keys.addressHash(key);
    const isFew =
      (await mayTry(tx, `new address ${contact.id}`, A_FEW, now)) &&
      (await mayTry(tx, mailTo(hash), SOME, now));
    if (!isFew)
      return wrong(
        'Everything else is kept. Letters about a new address are on their way already: answer one of them, or try again tomorrow.',
      );
    // Whether the address is known already is nobody's business here: all is done alike, only the letter is not sent.
    const isOther = (await contactsByAddress(tx, contact.poolId, [key])).length > 0;
    const isRefused = (await doNotMailEntry(tx, hash)) !== undefined;
    const url = await this.addLink(tx, 'new address', who, address);
    await this.outbox.add(tx, 'new address', isOther || isRefused ? null : address, { url });
    return good(
      `We are sending a letter to ${address}. Answer it, and our letters go there; the address we have until now is told, too.`,
    );
  }

  async pending(secret: string): Promise<string | undefined> {
    return (await store.linkOf(this.database.db, 'new address', sha(secret), this.clock.now()))
      ?.address;
  }

  /** The new address is the reader's: they had the letter that was sent there. The old one is told, with a way back. */
  async confirm(secret: string): Promise<string | undefined> {
    return this.database.transaction(async (tx) => {
      const link = await store.linkOf(tx, 'new address', sha(secret), this.clock.now());
      const [contact] = link ? await lockContacts(tx, [link.contactId]) : [];
      if (
        !link ||
        !contact ||
        !(await this.moveTo(tx, contact, link.address, 'gave a new address'))
      )
        return undefined;
      const old = contact.address;
      if (
        old !== null &&
        contact.addressHash &&
        (await this.getsOf(tx, contact.addressHash)) !== 'nothing: other'
      ) {
        const url = await this.addLink(
          tx,
          'way back',
          { campaign: link.campaignId, contact: contact.id },
          old,
        );
        await this.outbox.add(tx, 'address moved', old, {
          url,
          address: maskedAddress(link.address),
        });
      }
      return link.address;
    });
  }

  /** Where letters go now, for whoever had the notice at the old address. */
  async wayBack(
    secret: string,
  ): Promise<{ readonly old: string; readonly now: string } | undefined> {
    const { db } = this.database;
    const link = await store.linkOf(db, 'way back', sha(secret), this.clock.now());
    const contact = link && (await contactById(db, link.contactId));
    return (
      link &&
      contact && {
        old: link.address,
        now: contact.address === null ? '' : maskedAddress(contact.address),
      }
    );
  }

  async goBack(secret: string): Promise<string | undefined> {
    return this.database.transaction(async (tx) => {
      const link = await store.linkOf(tx, 'way back', sha(secret), this.clock.now());
      const [contact] = link ? await lockContacts(tx, [link.contactId]) : [];
      if (
        !link ||
        !contact ||
        !(await this.moveTo(tx, contact, link.address, 'took back a new address'))
      )
        return undefined;
      return link.address;
    });
  }

  /** False when somebody else has this address meanwhile. Links that were mailed elsewhere end. */
  private async moveTo(
    tx: Db,
    contact: ContactRow,
    address: string,
    what: string,
  ): Promise<boolean> {
    const parsed = parseAddress(address);
    if (
      !parsed.ok ||
      (await contactsByAddress(tx, contact.poolId, [parsed.value.key])).some(
        ({ id }) => id !== contact.id,
      )
    )
      return false;
    await this.apply(tx, contact.id, { address: parsed.value.address }, what);
    for (const kind of ['own page', 'new address'] as const)
      await store.dropLinks(tx, contact.id, kind);
    return true;
  }
}

const mailTo = (hash: Buffer): string => `mail to ${hash.toString('hex').slice(0, 32)}`;
