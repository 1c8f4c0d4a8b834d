// The work behind a send: write the recipients, then hand over one letter after another.
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import { begin, fixed, tallyDifferences, tallyOf } from '@palabra/core/campaigns';
import { parseAddress, type Field } from '@palabra/core/contacts';
import { next, pauseAfter, readAnswer } from '@palabra/core/delivery';
import type { Clock } from '@palabra/core/kernel';
import { ok } from '@palabra/core/kernel';
import { personalise } from '@palabra/core/letters';
import { campaignStore, CampaignsService, type Campaign } from '../campaigns/index.js';
import { ContactsService, contactStore, countSent, putOnDoNotMail, recountSoftBounces } from '../contacts/index.js';
import { letterById, LettersService } from '../letters/index.js';
import { theOffice } from '../office/index.js';
import type { Config } from '../platform/config.js';
import { Database, isConnectionLost, patiently } from '../platform/database.js';
import { Jobs } from '../platform/jobs.js';
import { Keys } from '../platform/keys.js';
import { log } from '../platform/log.js';
import { notFound, Problem } from '../platform/problem.js';
import { CLOCK, CONFIG } from '../platform/time.js';
import * as store from './delivery.store.js';
import { addEvents } from './events.store.js';
import { countWritten, forgetWritten, writeStretch } from './fixing.store.js';
import { composeMessage, composeProof, type Sending } from './message.js';
import { Lane, type Outcome } from './smtp.js';

const STRETCH = 2000;
const BATCH = 100;
/** How long to leave a mail server alone that can't be reached, in milliseconds; doubles up to the last. */
const REST_MS = [1000, 2000, 5000, 10_000, 30_000];

interface Run {
  readonly campaign: Campaign;
  readonly sending: Sending;
  readonly fields: ReadonlyMap<string, Field>;
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
    private readonly contacts: ContactsService,
    private readonly letters: LettersService,
    private readonly jobs: Jobs,
    private readonly keys: Keys,
    @Inject(CONFIG) private readonly config: Config,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  onModuleInit(): void {
    const { db } = this.database;
    this.jobs.register({ name: 'fixing', run: (id, signal) => this.fix(id, signal), unfinished: () => campaignStore.dueCampaigns(db, this.clock.now()) });
    this.jobs.register({ name: 'sending', run: (id, signal) => this.work(id, signal), unfinished: () => store.campaignsToWorkOn(db, this.clock.now()) });
  }

  /** Writes who receives and who is held back, with everything that will be needed to account for it later. */
  async fix(id: number, signal: AbortSignal): Promise<void> {
    const { db } = this.database;
    let campaign = await campaignStore.campaignById(db, id);
    if (campaign?.status === 'scheduled') {
      await this.campaigns.step(id, (state) => ok(begin(state, this.clock.now())));
      campaign = await campaignStore.campaignById(db, id);
    }
    if (campaign?.status !== 'fixing') return;
    const who = await this.campaigns.bind(campaign.who, campaign.topicId);
    const letter = campaign.letterId === null ? undefined : await letterById(db, campaign.letterId);
    if (!letter) return this.trouble(id, 'The letter was deleted. Take it back, or stop this campaign.');
    const compiled = await this.letters.compile(letter.content);
    await campaignStore.patchCampaign(db, id, { compiled, subject: personalise(compiled.subject, { value: () => '', link: () => '', leave: '', open: '' }, 'header') });
    let after = campaign.fixedUpTo;
    // Rows of an earlier order that was taken back may still be there.
    if (after === 0) while ((await forgetWritten(db, id, 'fixing', STRETCH)) > 0 && !signal.aborted);
    while (!signal.aborted) {
      const last = await this.database.transaction(async (tx) => {
        const reached = await writeStretch(tx, id, who, after, STRETCH);
        if (reached !== undefined) await campaignStore.patchCampaign(tx, id, { fixedUpTo: reached });
        return reached;
      });
      if (last === undefined) break;
      after = last;
    }
    if (signal.aborted) return;
    const tally = tallyOf(await countWritten(db, id));
    const now = this.clock.now();
    await campaignStore.patchCampaign(db, id, { tally, fixedAt: now });
    await this.campaigns.step(id, (before) => ok(fixed(before, tally, before.status === 'fixing' && tallyDifferences(before.seen, tally).length === 0)));
  }

  private async trouble(id: number, text: string | null): Promise<void> {
    await campaignStore.patchCampaign(this.database.db, id, { trouble: text });
  }

  /** Everything there is to do for a campaign: send what is due, stop what was stopped, forget what did not begin. */
  async work(id: number, signal: AbortSignal): Promise<void> {
    const { db } = this.database;
    const campaign = await campaignStore.campaignById(db, id);
    if (!campaign) return;
    if (campaign.status === 'draft') while ((await forgetWritten(db, id, 'draft', STRETCH)) > 0 && !signal.aborted);
    const uncertain = await store.settleDead(db, id, (worker) => this.jobs.living(worker));
    if (uncertain > 0) log.warn({ campaign: id, uncertain }, 'letters of a process that ended are uncertain');
    if (campaign.status === 'stopped') while ((await store.stopWaiting(db, id, STRETCH)) > 0 && !signal.aborted);
    if (uncertain > 0 || campaign.status === 'stopped') await campaignStore.factsChanged(db, [id]);
    if (campaign.status === 'sending') await this.sendAll(campaign, signal);
  }

  private async sendAll(campaign: Campaign, signal: AbortSignal): Promise<void> {
    const { db } = this.database;
    const run: Run = {
      campaign,
      sending: await this.sendingOf(campaign),
      fields: await this.contacts.fields(),
      lanes: Array.from({ length: this.config.smtpConnections }, () => new Lane(this.config.smtpUrl, this.config.smtpTimeoutMs)),
      signal,
      trouble: undefined,
    };
    let rests = 0;
    try {
      for (;;) {
        const status = (await campaignStore.campaignById(db, campaign.id))?.status;
        if (status !== 'sending' || signal.aborted) return;
        const due = await store.nextDue(db, campaign.id, this.clock.now(), BATCH);
        if (due.length === 0) break;
        const sent = await this.sendBatch(run, due);
        if (sent > 0 && !run.trouble) {
          if (rests > 0) await this.trouble(campaign.id, null);
          rests = 0;
          continue;
        }
        if (!run.trouble) continue;
        await this.trouble(campaign.id, `${capital(run.trouble)}. It is tried again every few seconds; nothing is lost.`);
        await rest(REST_MS[Math.min(rests++, REST_MS.length - 1)] ?? 1000, signal);
        run.trouble = undefined;
      }
      if (await store.isEverythingSettled(db, campaign.id)) await this.finish(campaign.id);
    } finally {
      for (const lane of run.lanes) lane.close();
    }
  }

  private async finish(id: number): Promise<void> {
    await this.database.transaction(async (tx) => {
      const campaign = await campaignStore.lockCampaign(tx, id);
      if (campaign?.status === 'sending') await campaignStore.writeState(tx, id, { status: 'sent' }, this.clock.now());
    });
  }

  /** Hands a batch over on all lanes; returns how many got an answer. One lane's failure never cuts off what another has in hand. */
  private async sendBatch(run: Run, due: readonly store.ClaimedDelivery[]): Promise<number> {
    const contacts = new Map((await contactStore.anyContacts(this.database.db, due.map(({ contact_id }) => contact_id))).map((row) => [row.id, row]));
    const queue = [...due];
    let answered = 0;
    const ends = await Promise.allSettled(
      run.lanes.map(async (lane) => {
        for (let one = queue.shift(); one && !run.trouble && !run.signal.aborted; one = queue.shift()) {
          const contact = contacts.get(one.contact_id);
          if (!contact || (await this.sendOne(run, lane, one, contact))) answered++;
        }
      }),
    );
    const failed = ends.find((end) => end.status === 'rejected');
    if (failed) throw failed.reason;
    return answered;
  }

  /** True when the letter is settled or was not to be sent; false when the server could not be reached. */
  private async sendOne(run: Run, lane: Lane, due: store.ClaimedDelivery, contact: Parameters<typeof composeMessage>[1]): Promise<boolean> {
    const { db } = this.database;
    const campaign = run.campaign.id;
    const mail = await composeMessage(run.sending, contact, due.address, run.fields, this.keys);
    try {
      if (!(await store.takeInHand(db, campaign, due.contact_id, this.jobs.worker, this.clock.now()))) return true;
    } catch (error) {
      if (!isConnectionLost(error)) throw error;
      await patiently(() => store.putBack(db, campaign, due.contact_id, this.jobs.worker));
      return true;
    }
    const outcome = await lane.send(mail.from, mail.to, mail.raw);
    // What the mail server said must not be lost with the database that was to hear it.
    await patiently(() => this.record(campaign, due, outcome));
    if (outcome.kind === 'answered') return true;
    run.trouble = outcome.why;
    return false;
  }

  private async record(campaign: number, due: store.ClaimedDelivery, outcome: Outcome): Promise<void> {
    const now = this.clock.now();
    const { worker } = this.jobs;
    const { db } = this.database;
    const contactId = due.contact_id;
    if (outcome.kind === 'not taken') {
      await store.settle(db, campaign, contactId, worker, { state: 'waiting', answer: outcome.why, uncount: true });
      return;
    }
    if (outcome.kind === 'lost') {
      await store.settle(db, campaign, contactId, worker, { state: 'uncertain', answer: outcome.why });
      return;
    }
    const answer = readAnswer(outcome.code, outcome.text);
    const text = outcome.text.slice(0, 500);
    if (answer.kind === 'accepted') {
      await this.database.transaction(async (tx) => {
        if (await store.settle(tx, campaign, contactId, worker, { state: 'accepted', answer: text, acceptedAt: now })) await countSent(tx, contactId, now);
      });
      return;
    }
    const row = await store.delivery(db, campaign, contactId);
    if (!row) return;
    const sinceFirst = (now.getTime() - (row.first_tried_at ?? now).getTime()) * this.config.pace;
    const step = next('handing over', { kind: 'answered', answer, attempts: due.attempts + 1, sinceFirst });
    const state = step.ok ? step.value : 'deferred';
    await this.database.transaction(async (tx) => {
      const bounced = answer.kind === 'bounced';
      const nextAt = state === 'deferred' ? new Date(now.getTime() + pauseAfter(due.attempts + 1) / this.config.pace) : null;
      const settled = await store.settle(tx, campaign, contactId, worker, { state, answer: text, bounce: bounced ? answer.bounce : null, nextAt, bouncedAt: bounced ? now : null });
      if (settled && (state === 'gave up' || (bounced && answer.bounce === 'soft'))) await recountSoftBounces(tx, [contactId]);
      if (!settled || !bounced) return;
      await addEvents(tx, [{ kind: 'bounced', at: now, campaignId: campaign, contactId, link: null, machine: false, why: answer.bounce }]);
      if (answer.bounce === 'hard') await putOnDoNotMail(tx, { addressHash: row.address_hash, address: row.address, reason: 'hard bounce', at: now, campaignId: campaign, note: text.slice(0, 200) });
    });
  }

  /** The coordinator's word on letters nobody knows about: they count as sent, or go out again. */
  async settleUncertain(id: number, how: 'count as sent' | 'send again'): Promise<number> {
    await this.campaigns.campaign(id);
    let count = 0;
    for (;;) {
      const settled = await this.database.transaction(async (tx) => {
        const campaign = await campaignStore.lockCampaign(tx, id);
        const rows = await store.settleUncertain(tx, id, how === 'send again' ? 'waiting' : 'accepted', this.clock.now(), STRETCH);
        for (const { contactId, acceptedAt } of rows) if (acceptedAt) await countSent(tx, contactId, acceptedAt);
        await campaignStore.factsChanged(tx, [id]);
        if (how === 'send again' && rows.length > 0 && campaign?.status === 'sent') await campaignStore.writeState(tx, id, { status: 'sending' }, this.clock.now());
        return rows.length;
      });
      count += settled;
      if (settled < STRETCH) break;
    }
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
      publicUrl: this.config.publicUrl,
      bounceDomain: this.config.bounceDomain,
    };
  }

  /** Sends a trial copy to one address, filled in as one of the recipients would read it. */
  async proof(id: number, to: string, as: number | undefined): Promise<void> {
    const { db } = this.database;
    const campaign = await this.campaigns.campaign(id);
    const letter = campaign.letterId === null ? undefined : await letterById(db, campaign.letterId);
    if (!letter) throw notFound('letter');
    if (!parseAddress(campaign.senderAddress).ok) throw new Problem(422, `“${campaign.senderAddress}” is not an address to send from. Mend the sender first.`);
    const sending = await this.sendingOf({ ...campaign, compiled: await this.letters.compile(letter.content) });
    const example = as === undefined ? undefined : (await contactStore.anyContacts(db, [as]))[0];
    const mail = await composeProof(sending, example, to, await this.contacts.fields());
    const lane = new Lane(this.config.smtpUrl, this.config.smtpTimeoutMs);
    const outcome = await lane.send(mail.from, mail.to, mail.raw);
    lane.close();
    if (outcome.kind !== 'answered') throw new Problem(503, `${capital(outcome.why)}. The proof was not sent.`);
    const answer = readAnswer(outcome.code, outcome.text);
    if (answer.kind !== 'accepted') throw new Problem(422, `The mail server did not take the proof: ${outcome.text.slice(0, 200)}`);
  }
}

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
