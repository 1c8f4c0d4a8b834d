// Mails of the office itself, such as a link to a reader's own page. They are written down where they are asked for and
// sent behind the answer, so that nobody learns from the time it takes whether there is one. That one is being handed
// over is committed before the connection is used: it may stay uncertain, but never goes out twice by itself.
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import {
  afterHandingOver,
  officeMails,
  readAnswer,
  type HandedOver,
  type MailFacts,
  type MailKind,
  type MailId,
} from '@palabra/core/delivery';
import { shortLine } from '@palabra/core/contacts';
import type { Clock } from '@palabra/core/kernel';
import { AccountsService, theOffice } from '../office/index.js';
import type { Config } from '../platform/config.js';
import { Database, patiently, type Db } from '../platform/database.js';
import { GiveUp, Jobs } from '../platform/jobs.js';
import { log } from '../platform/log.js';
import { DAY } from '../platform/throttle.store.js';
import { CLOCK, CONFIG } from '../platform/time.js';
import { Upkeep } from '../platform/upkeep.js';
import { Lanes } from './lanes.js';
import { composeNote } from './message.js';
import * as store from './outbox.store.js';
import type { Outcome } from './smtp.js';

/** How long it is known that there was such a mail. */
const KEPT = 30 * DAY;

@Injectable()
export class Outbox implements OnModuleInit {
  constructor(
    private readonly database: Database,
    private readonly jobs: Jobs,
    private readonly upkeep: Upkeep,
    private readonly lanes: Lanes,
    private readonly accounts: AccountsService,
    @Inject(CONFIG) private readonly config: Config,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  onModuleInit(): void {
    const { db } = this.database;
    this.jobs.register<MailId>('mail', {
      isOutward: true,
      run: (id) => this.send(id),
      unfinished: () => store.mailsToWorkOn(db, this.clock.now()),
      what: async (id) => `sending “${(await store.mailById(db, id))?.subject ?? 'a mail'}”`,
      leave: async (id) => {
        await store.stepMail(db, id, 'leave', this.clock.now());
      },
    });
    this.accounts.mailLinksBy((tx, kind, address, facts) => this.add(tx, kind, address, facts));
    this.upkeep.register(async () => {
      await store.dropOldMails(db, new Date(this.clock.now().getTime() - KEPT));
      return false;
    });
  }

  /** In the caller's transaction. Without an address all is done as with one, and nothing is sent. */
  async add<K extends MailKind>(
    tx: Db,
    kind: K,
    address: string | null,
    facts: MailFacts[K],
  ): Promise<void> {
    const { subject, text } = officeMails[kind](facts, await theOffice(tx));
    const createdAt = this.clock.now();
    const id = await store.addMail(tx, { kind, address, subject, text, createdAt });
    await this.jobs.nudge('mail', id, tx);
  }

  private async send(id: MailId): Promise<void> {
    const { db } = this.database;
    const now = this.clock.now();
    let mail = await store.mailById(db, id);
    // Only one works on a mail at a time: who had this one in hand is gone.
    if (mail?.state === 'handing over' && (await store.stepMail(db, id, 'lost', now)))
      throw new GiveUp(NOBODY_KNOWS);
    // Nobody takes up one that is not open but for somebody's word.
    if (mail?.state === 'uncertain' || mail?.state === 'gave up') {
      await store.stepMail(db, id, 'send again', now, { attempts: 0, nextAt: now });
      mail = await store.mailById(db, id);
    }
    if (mail?.state !== 'waiting' || mail.nextAt > now) return;
    if (mail.address === null) {
      await store.stepMail(db, id, 'leave', now);
      return;
    }
    const office = await theOffice(db);
    const from = { name: office.senderName, address: office.senderAddress };
    const composed = await composeNote(from, mail.address, mail.subject, mail.text);
    const attempts = mail.attempts + 1;
    if (!(await store.stepMail(db, id, 'handed over', now, { attempts }))) return;
    const lane = this.lanes.open();
    const outcome = await lane.send(composed.from, composed.to, composed.raw);
    lane.close();
    await this.settle(id, outcome, attempts);
  }

  private async settle(id: MailId, outcome: Outcome, attempts: number): Promise<void> {
    const { step, pause = 0 } = afterHandingOver(handedOver(outcome), attempts);
    const now = this.clock.now();
    const answer = shortLine(outcome.kind === 'answered' ? outcome.text : outcome.why, 500);
    const nextAt = new Date(now.getTime() + pause / this.config.pace);
    // What the server said must not be lost with a database that was to hear it.
    await patiently(() => store.stepMail(this.database.db, id, step, now, { answer, nextAt }));
    if (step === 'refused')
      log.warn({ mail: id }, 'a mail of the office was not taken by the mail server');
    if (step === 'lost') throw new GiveUp(NOBODY_KNOWS);
    if (step === 'given up') throw new GiveUp('the mail server did not take it for a day');
  }
}

const NOBODY_KNOWS = 'nobody knows whether the mail server took it';

const handedOver = (outcome: Outcome): HandedOver =>
  outcome.kind === 'answered'
    ? { kind: 'answered', answer: readAnswer(outcome.code, outcome.text) }
    : { kind: outcome.kind };
