// The work behind a send: write the recipients, then hand over one letter after another.
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import { tallyOf, type CampaignOrder, type CampaignId } from '@palabra/core/campaigns';
import { parsePlainAddress, type ContactId } from '@palabra/core/contacts';
import { readAnswer } from '@palabra/core/delivery';
import type { Clock } from '@palabra/core/kernel';
import { personalise } from '@palabra/core/letters';
import {
  CampaignsService,
  type Campaign,
  campaignById,
  dueCampaigns,
  factsChanged,
  keepWithCampaign,
  lockCampaign,
} from '../campaigns/index.js';
import { anyContacts, type ContactRow, VocabularyService } from '../contacts/index.js';
import { countSent } from './person-facts.store.js';
import { letterById, LettersService } from '../letters/index.js';
import { theOffice } from '../office/index.js';
import type { Config } from '../platform/config.js';
import { Database } from '../platform/database.js';
import { Continuity } from '../platform/continuity.js';
import { Jobs } from '../platform/jobs.js';
import { Keys } from '../platform/keys.js';
import { log } from '../platform/log.js';
import { notFound } from '../platform/refusals.js';
import { Foreground, Stride } from '../platform/stride.js';
import { CLOCK, CONFIG } from '../platform/time.js';
import * as store from './delivery.store.js';
import { analyzeDeliveries, countWritten, forgetWritten, writeStretch } from './fixing.store.js';
import { Lanes } from './lanes.js';
import { Ledger } from './ledger.js';
import { composeProof, messagesOf, type Mail, type Sending } from './message.js';
import type { Lane } from './smtp.js';
import { refuse } from './delivery.refusals.js';

const STRETCH = { first: 500, least: 250, most: 5000 };
const BATCH = 500;
/** How long to leave a mail server alone that can't be reached, in milliseconds; doubles up to the last. */
const REST_MS = [1000, 2000, 5000, 10_000, 30_000];

interface Run {
  readonly campaign: Campaign;
  readonly compose: (contact: ContactRow, address: string) => Mail;
  readonly ledger: Ledger;
  readonly lanes: readonly Lane[];
  readonly signal: AbortSignal;
  /** Set when the server could not be reached, so that the others do not pile up. */
  trouble: string | undefined;
}

@Injectable()
export class SendingService implements OnModuleInit {
  constructor(
    private readonly database: Database,
    private readonly campaigns: CampaignsService,
    private readonly vocabulary: VocabularyService,
    private readonly letters: LettersService,
    private readonly jobs: Jobs,
    private readonly continuity: Continuity,
    private readonly keys: Keys,
    private readonly lanes: Lanes,
    private readonly foreground: Foreground,
    @Inject(CONFIG) private readonly config: Config,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  onModuleInit(): void {
    const { db } = this.database;
    const nameOf = async (id: CampaignId): Promise<string> =>
      (await campaignById(db, id))?.name ?? 'a campaign';
    this.jobs.register<CampaignId>('fixing', {
      isOutward: true,
      run: (id, signal) => this.fix(id, signal),
      unfinished: () => dueCampaigns(db, this.clock.now()),
      what: async (id) => `writing down who receives “${await nameOf(id)}”`,
      leave: (id) => this.quietly(id, { step: 'leave fixing' }),
    });
    this.jobs.register<CampaignId>('sending', {
      isOutward: true,
      run: (id, signal) => this.work(id, signal),
      unfinished: () => store.campaignsToWorkOn(db, this.clock.now()),
      what: async (id) => `sending “${await nameOf(id)}”`,
      leave: (id) => this.quietly(id, { step: 'pause' }),
    });
  }

  /** Writes who receives and who is held back, with everything that will be needed to account for it later. */
  async fix(id: CampaignId, signal: AbortSignal): Promise<void> {
    const { db } = this.database;
    let campaign = await campaignById(db, id);
    if (campaign?.status === 'scheduled') {
      await this.quietly(id, { step: 'begin', now: this.clock.now() });
      campaign = await campaignById(db, id);
    }
    if (campaign?.status !== 'fixing') return;
    const who = await this.campaigns.bind(campaign.who, campaign.topicId);
    const letter = campaign.letterId === null ? undefined : await letterById(db, campaign.letterId);
    if (!letter)
      return this.trouble(id, 'The letter was deleted. Take it back, or stop this campaign.');
    const compiled = await this.letters.compile(letter.content);
    await keepWithCampaign(db, id, {
      compiled,
      whoUsed: await this.campaigns.used(campaign.who),
      subject: personalise(
        compiled.subject,
        { value: () => '', link: () => '', leave: '', open: '' },
        'header',
      ),
    });
    let after = campaign.fixedUpTo;
    // Rows of an earlier order that was taken back may still be there.
    if (after === 0) await this.untilNone((size) => forgetWritten(db, id, 'fixing', size), signal);
    const stride = this.stride();
    while (!signal.aborted) {
      const last = await stride.step((size) =>
        this.database.transaction(async (tx) => {
          const reached = await writeStretch(tx, id, who, after, size);
          if (reached !== undefined) await keepWithCampaign(tx, id, { fixedUpTo: reached });
          return reached;
        }),
      );
      if (last === undefined) break;
      after = last;
    }
    if (signal.aborted) return;
    await analyzeDeliveries(db);
    const tally = tallyOf(await countWritten(db, id));
    const now = this.clock.now();
    await keepWithCampaign(db, id, { tally, fixedAt: now });
    await this.quietly(id, { step: 'fixed', tally });
  }

  /** Asks for a step that may come too late: then somebody else was faster, and nothing is wrong. */
  private async quietly(id: CampaignId, order: CampaignOrder): Promise<void> {
    await this.database.transaction((tx) => this.campaigns.tryOrder(tx, id, order));
  }

  private stride(): Stride {
    return new Stride(this.foreground, STRETCH.first, STRETCH.least, STRETCH.most);
  }

  /** Goes on a stretch at a time until there was nothing to do; returns how much was done. */
  private async untilNone(
    work: (size: number) => Promise<number>,
    signal?: AbortSignal,
  ): Promise<number> {
    const stride = this.stride();
    let count = 0;
    for (let done = 1; done > 0 && !signal?.aborted; count += done) done = await stride.step(work);
    return count;
  }

  private async trouble(id: CampaignId, text: string | null): Promise<void> {
    await keepWithCampaign(this.database.db, id, { trouble: text });
  }

  /** Everything there is to do for a campaign: send what is due, stop what was stopped, forget what did not begin. */
  async work(id: CampaignId, signal: AbortSignal): Promise<void> {
    const { db } = this.database;
    const campaign = await campaignById(db, id);
    if (!campaign) return;
    if (campaign.status === 'draft')
      await this.untilNone((size) => forgetWritten(db, id, 'draft', size), signal);
    const uncertain = await store.settleDead(db, id, (worker) => this.jobs.living(worker));
    if (uncertain > 0)
      log.warn({ campaign: id, uncertain }, 'letters of a process that ended are uncertain');
    if (campaign.status === 'stopped')
      await this.untilNone((size) => store.stopWaiting(db, id, size), signal);
    if (uncertain > 0 || campaign.status === 'stopped') await factsChanged(db, [id]);
    if (campaign.status === 'sending') await this.sendAll(campaign, signal);
  }

  private async sendAll(campaign: Campaign, signal: AbortSignal): Promise<void> {
    const { db } = this.database;
    const run: Run = {
      campaign,
      compose: messagesOf(
        await this.sendingOf(campaign),
        await this.vocabulary.fields(),
        this.keys,
      ),
      ledger: new Ledger(
        this.database,
        campaign.id,
        this.jobs.worker,
        this.clock,
        this.config.pace,
      ),
      lanes: Array.from({ length: this.config.smtpConnections }, () => this.lanes.open()),
      signal,
      trouble: undefined,
    };
    let rests = 0;
    try {
      for (;;) {
        const status = (await campaignById(db, campaign.id))?.status;
        if (status !== 'sending' || signal.aborted || (await this.continuity.isBroken())) return;
        const due = await store.nextDue(db, campaign.id, this.clock.now(), BATCH);
        if (due.length === 0) break;
        const sent = await this.sendBatch(run, due);
        if (sent > 0 && !run.trouble) {
          if (rests > 0) await this.trouble(campaign.id, null);
          rests = 0;
          continue;
        }
        if (!run.trouble) continue;
        await this.trouble(
          campaign.id,
          `${capital(run.trouble)}. It is tried again every few seconds; nothing is lost.`,
        );
        await rest(REST_MS[Math.min(rests++, REST_MS.length - 1)] ?? 1000, signal);
        run.trouble = undefined;
      }
      if (await store.isEverythingSettled(db, campaign.id))
        await this.quietly(campaign.id, { step: 'finish' });
    } finally {
      for (const lane of run.lanes) lane.close();
    }
  }

  /** Hands a batch over on all lanes; returns how many got an answer. One lane's failure never cuts off what another has in hand. */
  private async sendBatch(run: Run, due: readonly store.ClaimedDelivery[]): Promise<number> {
    const contacts = new Map(
      (
        await anyContacts(
          this.database.db,
          due.map(({ contact_id }) => contact_id),
        )
      ).map((row) => [row.id, row]),
    );
    const queue = scattered(due).values();
    const ends = await Promise.allSettled(
      run.lanes.map((lane) => this.sendAlong(run, lane, queue, contacts)),
    );
    const failed = ends.find((end) => end.status === 'rejected');
    if (failed) throw failed.reason;
    return ends.reduce((sum, end) => sum + (end.status === 'fulfilled' ? end.value : 0), 0);
  }

  /** One lane's part of a batch; returns how many letters need no second try now. What became of a letter is written together with the next one being taken in hand. */
  private async sendAlong(
    run: Run,
    lane: Lane,
    queue: Iterator<store.ClaimedDelivery>,
    contacts: ReadonlyMap<number, ContactRow>,
  ): Promise<number> {
    let answered = 0;
    let written: Promise<void> = Promise.resolve();
    while (!run.trouble && !run.signal.aborted) {
      const { value: one, done } = queue.next() as IteratorResult<store.ClaimedDelivery, undefined>;
      if (done) break;
      const contact = contacts.get(one.contact_id);
      const both = Promise.all([run.ledger.takeInHand(one), written]);
      both.catch(() => undefined); // waited for below; until then its failure is nobody's
      // While that is written, the letter is.
      await new Promise(setImmediate);
      // Whoever was erased meanwhile is not taken in hand.
      const mail = contact?.erasedAt === null ? composed(run, contact, one.address) : undefined;
      const [isInHand] = await both;
      if (mail instanceof Error) {
        if (isInHand)
          await run.ledger.record(one, {
            kind: 'not taken',
            why: 'the letter could not be written',
          });
        throw mail;
      }
      if (mail && isInHand) {
        const outcome = await lane.send(mail.from, mail.to, mail.raw);
        written = run.ledger.record(one, outcome);
        if (outcome.kind !== 'answered') {
          run.trouble = outcome.why;
          break;
        }
      }
      answered++;
    }
    await written;
    return answered;
  }

  /** The coordinator's word on letters nobody knows about: they count as sent, or go out again. */
  async settleUncertain(id: CampaignId, how: 'count as sent' | 'send again'): Promise<number> {
    await this.campaigns.campaign(id);
    const settle = (size: number): Promise<number> =>
      this.database.transaction(async (tx) => {
        await lockCampaign(tx, id);
        const rows = await store.settleUncertain(tx, id, how, this.clock.now(), size);
        await countSent(
          tx,
          rows.flatMap(({ contactId, acceptedAt }) =>
            acceptedAt ? [{ contactId, at: acceptedAt }] : [],
          ),
        );
        await factsChanged(tx, [id]);
        if (how === 'send again' && rows.length > 0)
          await this.campaigns.tryOrder(tx, id, { step: 'take up again' });
        return rows.length;
      });
    const count = await this.foreground.aside(() => this.untilNone(settle));
    await this.jobs.nudge('sending', id);
    return count;
  }

  private async sendingOf(campaign: Campaign): Promise<Sending> {
    const office = await theOffice(this.database.db);
    if (!campaign.compiled) throw new Error(`campaign ${campaign.id} has no compiled letter`);
    return {
      campaign: campaign.id,
      compiled: campaign.compiled,
      senderName: campaign.senderName,
      senderAddress: campaign.senderAddress,
      replyTo: campaign.replyTo,
      officeName: office.name,
      language: office.language,
      publicUrl: this.config.publicUrl,
      bounceDomain: this.config.bounceDomain,
    };
  }

  /** Sends a trial copy to one address, filled in as one of the recipients would read it. */
  async proof(id: CampaignId, to: string, as: ContactId | undefined): Promise<void> {
    const { db } = this.database;
    const campaign = await this.campaigns.campaign(id);
    const letter = campaign.letterId === null ? undefined : await letterById(db, campaign.letterId);
    if (!letter) throw notFound('letter');
    if (!parsePlainAddress(campaign.senderAddress).ok)
      throw refuse('no-sender', campaign.senderAddress);
    const sending = await this.sendingOf({
      ...campaign,
      compiled: await this.letters.compile(letter.content),
    });
    const example = as === undefined ? undefined : (await anyContacts(db, [as]))[0];
    const mail = await composeProof(sending, example, to, await this.vocabulary.fields());
    const lane = this.lanes.open();
    const outcome = await lane.send(mail.from, mail.to, mail.raw);
    lane.close();
    if (outcome.kind !== 'answered') throw refuse('proof-not-sent', capital(outcome.why));
    const answer = readAnswer(outcome.code, outcome.text);
    if (answer.kind !== 'accepted') throw refuse('proof-not-taken', outcome.text.slice(0, 200));
  }
}

function composed(run: Run, contact: ContactRow, address: string): Mail | Error {
  try {
    return run.compose(contact, address);
  } catch (error) {
    return error instanceof Error ? error : new Error(String(error));
  }
}

/** How many contacts the database keeps on a page, roughly. */
const NEIGHBOURS = 25;

/** Neighbours apart from one another: a page of the contacts table has room for few changes at a time, more of which cost every index an entry. */
const scattered = <T>(items: readonly T[]): T[] =>
  Array.from({ length: NEIGHBOURS }, (_, start) =>
    items.filter((__, at) => at % NEIGHBOURS === start),
  ).flat();

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

function rest(ms: number, signal: AbortSignal): Promise<void> {
  return new Promise((resolve) => {
    const timer = setTimeout(done, ms);
    function done(): void {
      clearTimeout(timer);
      signal.removeEventListener('abort', done);
      resolve();
    }
    signal.addEventListener('abort', done);
  });
}
