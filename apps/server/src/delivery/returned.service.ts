// Mail that comes back: read, matched with its letter, and acted on; what can't be read waits for a person.
import type { CampaignId } from '@palabra/core/campaigns';
import { createHash } from 'node:crypto';
import { Inject, Injectable } from '@nestjs/common';
import type { SortReturnedRequest } from '@palabra/contract/delivery';
import { shortLine, parseAddress, type ContactId } from '@palabra/core/contacts';
import type { BounceKind, Returned } from '@palabra/core/delivery';
import { idOf, unreachable, type Clock } from '@palabra/core/kernel';
import type { Viewer } from '@palabra/core/office';
import { factsChanged } from '../campaigns/index.js';
import {
  PeopleService,
  putOnDoNotMail,
  putPersonOnDoNotMail,
  hadContact,
} from '../contacts/index.js';
import { countSent, recountContacts } from './person-facts.store.js';
import { Database, type Db } from '../platform/database.js';
import { Keys } from '../platform/keys.js';
import { notFound } from '../platform/refusals.js';
import { DAY, mayTry, type Limit } from '../platform/throttle.store.js';
import { CLOCK } from '../platform/time.js';
import { isErased } from './personal.store.js';
import { delivery, markLeft } from './delivery.store.js';
import type { EventKind } from '@palabra/core/delivery';
import { addEvents } from './events.store.js';
import { ReturnedReader } from './returned.reader.js';
import type { Envelope, ReadMessage } from './returned.reading.js';
import * as store from './returned.store.js';
import { refuse } from './delivery.refusals.js';

const EXCERPT = 2000;
const RECENT_DAYS = 30;
/** Messages that one letter may bring in a day. */
const HANDFUL: Limit = { most: 6, windowMs: DAY };

type Source = 'smtp' | 'mailbox';

interface Letter {
  readonly campaignId: CampaignId;
  readonly contactId: ContactId;
  /** Where it went. */
  readonly addressHash: Buffer;
}

@Injectable()
export class ReturnedService {
  constructor(
    private readonly database: Database,
    private readonly people: PeopleService,
    private readonly keys: Keys,
    private readonly reader: ReturnedReader,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  /**
   * Takes one message in; once this resolves it is kept, or was one too many of a letter's. The same message twice
   * is taken once. Fails with `Unreadable` when it can't be read; `keepUnread` then keeps that it came.
   */
  async take(raw: Buffer, source: Source, envelope: Envelope = { to: [] }): Promise<void> {
    const { read, ...message } = await this.reader.read(raw, envelope);
    // A mailbox holds other mail, too: what does not speak of a letter of ours is none of our business.
    if (
      source === 'mailbox' &&
      !read.letter &&
      (read.kind === 'unread' || read.kind === 'auto-reply')
    )
      return;
    if (read.letter && !(await this.mayCome(read))) return;
    const now = this.clock.now();
    await this.database.transaction(async (tx) => {
      const letter = await this.letterOf(tx, read);
      const isSure =
        letter !== undefined &&
        read.evidence !== 'address' &&
        !read.isLoose &&
        this.isAbout(read, letter) &&
        store.kindsThatNeedNobody.includes(read.kind);
      // A machine's word on a letter is no reason to write down again who was erased; what they write themselves is.
      const isForgotten =
        letter !== undefined && read.kind !== 'reply' && (await isErased(tx, letter.contactId));
      const said = isForgotten ? { from: '', subject: '', text: '' } : message;
      const diagnosis = isForgotten ? null : read.diagnosis;
      const id = await store.addReturned(tx, {
        ...this.kept(raw, source, said),
        kind: read.kind,
        bounce: read.bounce,
        evidence: letter ? read.evidence : null,
        campaignId: letter?.campaignId ?? null,
        contactId: letter?.contactId ?? null,
        diagnosis: diagnosis && shortLine(diagnosis, 500),
        handledAt: isSure ? now : null,
      });
      // A reply is answered by a person, so it stays open; but it counts at once.
      if (
        id !== undefined &&
        letter &&
        (isSure || (read.kind === 'reply' && read.evidence !== 'address'))
      )
        await this.act(tx, letter, read.kind, read.bounce, diagnosis);
    });
  }

  /** A message that nobody could read: it came, and waits for a person. */
  async keepUnread(raw: Buffer, source: Source, why: string): Promise<void> {
    const beginning = raw.subarray(0, EXCERPT).toString('latin1');
    await store.addReturned(this.database.db, {
      ...this.kept(raw, source, {
        from: '',
        subject: 'A message that can’t be read',
        text: beginning,
      }),
      kind: 'unread',
      diagnosis: shortLine(why, 500),
    });
  }

  private kept(
    raw: Buffer,
    source: Source,
    message: Omit<ReadMessage, 'read'>,
  ): Pick<store.ReturnedMail, 'at' | 'digest' | 'source' | 'sender' | 'subject' | 'excerpt'> {
    return {
      at: this.clock.now(),
      digest: createHash('sha256').update(raw).digest(),
      source,
      sender: shortLine(message.from, 254),
      subject: shortLine(message.subject, 300),
      excerpt: message.text.slice(0, EXCERPT).replaceAll('\0', ''),
    };
  }

  /** One letter brings a handful of messages a day; more is somebody's game with its address. Leaving is never too much. */
  private async mayCome({ letter, kind }: Returned): Promise<boolean> {
    if (!letter || kind === 'leave' || kind === 'complaint') return true;
    return mayTry(
      this.database.db,
      `returned ${letter.campaign} ${letter.contact}`,
      HANDFUL,
      this.clock.now(),
    );
  }

  private async letterOf(tx: Db, { letter, address }: Returned): Promise<Letter | undefined> {
    if (letter) {
      const row = await delivery(tx, letter.campaign, letter.contact);
      return (
        row && {
          campaignId: letter.campaign,
          contactId: letter.contact,
          addressHash: row.address_hash,
        }
      );
    }
    const addressHash = this.hashOf(address);
    const found =
      addressHash &&
      (await store.lastLetterTo(
        tx,
        addressHash,
        new Date(this.clock.now().getTime() - RECENT_DAYS * 24 * 3600_000),
      ));
    return found && { ...found, addressHash };
  }

  private hashOf(address: string | null): Buffer | undefined {
    const parsed = parseAddress(address ?? '');
    return parsed.ok ? this.keys.addressHash(parsed.value.key) : undefined;
  }

  /** A notice may speak of an address that a reader has letters passed on to: that one is dead, not the reader's. */
  private isAbout({ kind, address }: Returned, { addressHash }: Letter): boolean {
    const named = kind === 'bounce' ? this.hashOf(address) : undefined;
    return !named || named.equals(addressHash);
  }

  private async act(
    tx: Db,
    { campaignId, contactId }: Pick<Letter, 'campaignId' | 'contactId'>,
    kind: Returned['kind'],
    bounce: BounceKind | null,
    diagnosis: string | null,
  ): Promise<void> {
    const now = this.clock.now();
    const row = await delivery(tx, campaignId, contactId);
    if (!row) return;
    const note = async (event: EventKind, machine: boolean, why: string | null): Promise<void> =>
      addEvents(tx, [{ kind: event, at: now, campaignId, contactId, link: null, machine, why }]);
    const isThere = async (): Promise<void> => {
      const acceptedAt = await store.arrived(tx, campaignId, contactId, now);
      if (acceptedAt) await countSent(tx, [{ contactId, at: acceptedAt }]);
    };
    switch (kind) {
      case 'bounce': {
        const what = bounce ?? 'other';
        if (
          !(await store.bounceLate(
            tx,
            campaignId,
            contactId,
            what,
            diagnosis?.slice(0, 500) ?? 'came back',
            now,
          ))
        )
          return;
        await note('bounced', false, what);
        if (what === 'hard')
          await putOnDoNotMail(tx, {
            addressHash: row.address_hash,
            address: row.address,
            reason: 'hard bounce',
            at: now,
            campaignId,
            note: diagnosis?.slice(0, 200),
          });
        await recountContacts(tx, [contactId]);
        break;
      }
      case 'complaint':
        await isThere();
        await putPersonOnDoNotMail(tx, contactId, {
          addressHash: row.address_hash,
          address: row.address,
          reason: 'complained',
          at: now,
          campaignId,
        });
        await store.markResponded(tx, campaignId, contactId, 'complained', now);
        await note('complained', false, diagnosis);
        break;
      case 'reply':
        await isThere();
        await store.markResponded(tx, campaignId, contactId, 'replied', now);
        await hadContact(tx, contactId, now);
        await note('replied', false, null);
        break;
      case 'auto-reply':
        await isThere();
        await note('replied by itself', true, 'an automatic reply');
        break;
      case 'leave': {
        const isNew = await putPersonOnDoNotMail(tx, contactId, {
          addressHash: row.address_hash,
          address: row.address,
          reason: 'left',
          at: now,
          campaignId,
        });
        if (isNew || row.left_at === null) await note('left', false, 'by mail');
        await markLeft(tx, campaignId, contactId, now);
        break;
      }
      case 'receipt':
        await isThere();
        break;
      case 'challenge':
      case 'delay':
      case 'unread':
        return;
      default:
        return unreachable(kind);
    }
    await factsChanged(tx, [campaignId]);
  }

  /** A person says what a message is and whose; it then counts as if it had been read. */
  async sort(
    id: number,
    { kind, bounce, contact }: SortReturnedRequest,
    viewer: Viewer,
  ): Promise<void> {
    const now = this.clock.now();
    await this.database.transaction(async (tx) => {
      const mail = await store.returnedById(tx, id);
      if (!mail) throw notFound('message');
      if (mail.handledAt) throw refuse('seen-to-already');
      const handled = { handledAt: now, handledBy: viewer.userId };
      if (kind === 'nothing' || (kind === 'reply' && mail.kind === 'reply'))
        return store.markHandled(tx, id, handled);
      const contactId = contact === undefined ? mail.contactId : idOf<ContactId>(contact);
      if (!contactId) throw refuse('whose-message');
      await this.people.person(contactId, viewer, tx);
      const campaignId =
        mail.contactId === contactId && mail.campaignId
          ? mail.campaignId
          : await store.lastLetterOf(tx, contactId);
      if (!campaignId) throw refuse('no-letter-yet');
      await this.act(
        tx,
        { campaignId, contactId },
        kind,
        kind === 'bounce' ? (bounce ?? 'other') : null,
        mail.diagnosis ?? mail.subject,
      );
      await store.markHandled(tx, id, {
        ...handled,
        kind,
        bounce: kind === 'bounce' ? (bounce ?? 'other') : null,
        contactId,
        campaignId,
        evidence: 'by hand',
      });
    });
  }
}
