// What the lanes of one send write: letters taken in hand, and how handing over ended. What comes at about the same
// time is written together, so that the database isn't asked twice for every letter.
import type { CampaignId } from '@palabra/core/campaigns';
import { shortLine } from '@palabra/core/contacts';
import { pauseAfter, readAnswer, stepOf } from '@palabra/core/delivery';
import type { Clock } from '@palabra/core/kernel';
import { putOnDoNotMail } from '../contacts/index.js';
import { recountBounces } from './person-facts.store.js';
import { isPassing, patiently, type Database, type Db } from '../platform/database.js';
import * as store from './delivery.store.js';
import { addEvents } from './events.store.js';
import type { Outcome } from './smtp.js';

type Due = Pick<store.ClaimedDelivery, 'contact_id' | 'attempts'>;

interface End {
  readonly due: Due;
  readonly outcome: Outcome;
  readonly at: Date;
}

interface Entry {
  readonly take: Due | undefined;
  readonly end: End | undefined;
  readonly resolve: (isInHand: boolean) => void;
  readonly reject: (error: unknown) => void;
}

/** How long those who are ready wait for letters that other lanes have in hand, in milliseconds: about as long as writing takes. */
const GATHER_MS = 3;

export class Ledger {
  private waiting: Entry[] = [];
  private isWriting = false;
  /** Letters that are being handed over now. */
  private inHand = 0;
  private everybodyIsHere: (() => void) | undefined;

  constructor(
    private readonly database: Database,
    private readonly campaign: CampaignId,
    private readonly worker: string,
    private readonly clock: Clock,
    private readonly pace: number,
  ) {}

  /** Commits that a letter is being handed over; false when it may not be, or not now. Only after that may it go out. */
  takeInHand(due: Due): Promise<boolean> {
    return this.enter({ take: due, end: undefined });
  }

  /** Writes how handing over ended. */
  async record(due: Due, outcome: Outcome): Promise<void> {
    this.inHand--;
    if (this.inHand === 0) this.everybodyIsHere?.();
    await this.enter({ take: undefined, end: { due, outcome, at: this.clock.now() } });
  }

  private enter(entry: Pick<Entry, 'take' | 'end'>): Promise<boolean> {
    return new Promise((resolve, reject) => {
      this.waiting.push({ ...entry, resolve, reject });
      if (!this.isWriting) void this.write();
    });
  }

  private async write(): Promise<void> {
    this.isWriting = true;
    while (this.waiting.length > 0) {
      await this.gather();
      const group = this.waiting;
      this.waiting = [];
      try {
        const inHand = await this.commit(group);
        this.inHand += inHand.size;
        for (const { take, resolve } of group)
          resolve(take !== undefined && inHand.has(take.contact_id));
      } catch (error) {
        for (const { reject } of group) reject(error);
      }
    }
    this.isWriting = false;
  }

  /** Until every lane has said something, or the others would keep it waiting. */
  private async gather(): Promise<void> {
    if (this.inHand === 0) return;
    await new Promise<void>((resolve) => {
      this.everybodyIsHere = resolve;
      setTimeout(resolve, GATHER_MS);
    });
    this.everybodyIsHere = undefined;
  }

  private async commit(group: readonly Entry[]): Promise<ReadonlySet<number>> {
    const next = group.flatMap(({ take }) => (take ? [take.contact_id] : []));
    const ends = group.flatMap(({ end }) => (end ? [end] : []));
    const accepted = ends
      .filter(({ outcome }) => isAccepted(outcome))
      .map(({ due, outcome, at }) => ({
        contactId: due.contact_id,
        at,
        answer: outcome.kind === 'answered' ? asText(outcome.text) : '',
      }));
    const others = ends.filter(({ outcome }) => !isAccepted(outcome));
    const advance = (ids: readonly number[]) =>
      store.advance(this.database, this.campaign, this.worker, accepted, ids, this.clock.now());
    try {
      await this.settleOthers(others);
      return await advance(next);
    } catch (error) {
      if (!isPassing(error)) throw error;
      // Whether it was committed is not known. What the mail server said must not be lost with the database that was
      // to hear it, and may be written twice: only what this process holds is settled. What was to go out next waits again.
      await patiently(async () => {
        await this.settleOthers(others);
        await advance([]);
        await store.putBack(this.database.db, this.campaign, next, this.worker);
      });
      return new Set();
    }
  }

  private async settleOthers(ends: readonly End[]): Promise<void> {
    if (ends.length === 0) return;
    await this.database.transaction(async (tx) => {
      for (const { due, outcome, at } of ends) {
        if (outcome.kind === 'answered') await this.settleRefused(tx, due, outcome, at);
        else await this.settleUnanswered(tx, due, outcome);
      }
    });
  }

  private async settleUnanswered(
    tx: Db,
    { contact_id }: Due,
    { kind, why }: Exclude<Outcome, { kind: 'answered' }>,
  ): Promise<void> {
    const isLost = kind === 'lost';
    await store.settle(tx, this.campaign, contact_id, this.worker, {
      step: isLost ? 'lost' : 'not taken',
      answer: asText(why),
      uncount: !isLost,
    });
  }

  private async settleRefused(
    tx: Db,
    due: Due,
    { code, text }: Extract<Outcome, { kind: 'answered' }>,
    at: Date,
  ): Promise<void> {
    const contactId = due.contact_id;
    const answer = readAnswer(code, text);
    const row = await store.delivery(tx, this.campaign, contactId);
    if (!row) return;
    const attempts = due.attempts + 1;
    const sinceFirst = (at.getTime() - (row.first_tried_at ?? at).getTime()) * this.pace;
    const step = stepOf(answer, sinceFirst);
    const bounced = answer.kind === 'bounced';
    const nextAt =
      step === 'put off' ? new Date(at.getTime() + pauseAfter(attempts) / this.pace) : null;
    const settled = await store.settle(tx, this.campaign, contactId, this.worker, {
      step,
      answer: asText(text),
      bounce: bounced ? answer.bounce : null,
      nextAt,
      bouncedAt: bounced ? at : null,
    });
    if (!settled) return;
    if (step === 'given up' || bounced) await recountBounces(tx, [contactId]);
    if (!bounced) return;
    await addEvents(tx, [
      {
        kind: 'bounced',
        at,
        campaignId: this.campaign,
        contactId,
        link: null,
        machine: false,
        why: answer.bounce,
      },
    ]);
    if (answer.bounce === 'hard')
      await putOnDoNotMail(tx, {
        addressHash: row.address_hash,
        address: row.address,
        reason: 'hard bounce',
        at,
        campaignId: this.campaign,
        note: asText(text).slice(0, 200),
      });
  }
}

const isAccepted = (outcome: Outcome): boolean =>
  outcome.kind === 'answered' && readAnswer(outcome.code, outcome.text).kind === 'accepted';

/** A mail server may say anything, on several lines; the database takes no NUL. */
const asText = (text: string): string => shortLine(text, 500);
