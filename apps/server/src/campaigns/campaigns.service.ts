// A campaign's sheet: who, what, from whom, when; its tally and checks; and the steps of its life.
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import type { CampaignRequest, NewCampaignRequest, TallyReply } from '@palabra/contract/campaigns';
import {
  whoKey,
  agree,
  backToDraft,
  checkCampaign,
  goOn,
  nobodyYet,
  pause,
  schedule,
  sendNow,
  stop,
  stops,
  tallyOf,
  unschedule,
  type CampaignRefusal,
  type CampaignState,
  type Tally,
  type Who,
  type WhoRef,
} from '@palabra/core/campaigns';
import { oneLine } from '@palabra/core/contacts';
import type { Clock, Result } from '@palabra/core/kernel';
import {
  PeopleSets,
  peopleStore,
  topicStore,
  vocabularyStore,
  type PeopleSet,
} from '../contacts/index.js';
import { letterById } from '../letters/index.js';
import { theOffice } from '../office/index.js';
import { Database, type Db } from '../platform/database.js';
import { Jobs } from '../platform/jobs.js';
import { conflict, notFound, Problem } from '../platform/problem.js';
import { CLOCK } from '../platform/time.js';
import { segmentById, SegmentsService } from '../segments/index.js';
import * as store from './campaigns.store.js';
import {
  anyOf,
  countReasons,
  draftPeople,
  partWords,
  taggedInHouse,
  writtenPeople,
  type BoundWho,
} from './who.store.js';

/** Total: every refusal has its sentence. */
const refusals: Record<CampaignRefusal, string> = {
  'in-the-past': 'This time is already past. Choose a later one, or send now.',
  'too-far': 'This is more than a year ahead. Choose an earlier time.',
  nobody: 'Nobody is left to receive it. Look at the tally.',
  checks: 'Some checks still stop this campaign. They are in the margin.',
  'not-a-draft': 'This campaign is no longer a draft.',
  'not-sending': 'This campaign is not going out at the moment.',
  'not-paused': 'This campaign is not paused.',
  over: 'This campaign is over.',
  'not-scheduled': 'This campaign is not waiting for its time.',
  'no-difference': 'This campaign’s recipients are not waiting for a decision.',
};

const accept = <T>(result: Result<T, CampaignRefusal>): T => {
  if (!result.ok) throw new Problem(422, refusals[result.error], { reason: result.error });
  return result.value;
};

@Injectable()
export class CampaignsService implements OnModuleInit {
  constructor(
    private readonly database: Database,
    private readonly sets: PeopleSets,
    private readonly segments: SegmentsService,
    private readonly jobs: Jobs,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  onModuleInit(): void {
    this.sets.register('campaign', 'of the office', ({ id, part }) => this.people(id, part));
  }

  /** Which people a number of a campaign stands for: before the recipients are written by rule, afterwards by the rows. */
  private async people(id: number, part: string): Promise<PeopleSet | undefined> {
    const campaign = await store.campaignById(this.database.db, id);
    if (!campaign) return undefined;
    const among = campaign.fixedAt
      ? writtenPeople(id, part)
      : draftPeople(await this.bind(campaign.who, campaign.topicId), part);
    return (
      among && {
        title: `${partWords(part)} “${campaign.name}”`,
        among,
        isRecord: campaign.fixedAt !== null,
      }
    );
  }

  async campaign(id: number, db: Db = this.database.db): Promise<store.Campaign> {
    const campaign = await store.campaignById(db, id);
    if (!campaign) throw notFound('campaign');
    return campaign;
  }

  async add(request: NewCampaignRequest): Promise<number> {
    const { db } = this.database;
    const now = this.clock.now();
    const office = await theOffice(db);
    const original = request.copyOf === undefined ? undefined : await this.campaign(request.copyOf);
    if (request.letter !== undefined && !(await letterById(db, request.letter)))
      throw notFound('letter');
    if (request.segment !== undefined && !(await segmentById(db, request.segment)))
      throw notFound('segment');
    const who: Who =
      original?.who ??
      (request.segment === undefined
        ? nobodyYet
        : { to: [{ kind: 'segment', id: request.segment }], notTo: [] });
    return store.addCampaign(db, {
      name: this.name(request.name),
      who,
      letterId: request.letter ?? original?.letterId ?? null,
      topicId: original?.topicId ?? null,
      senderName: original?.senderName ?? office.senderName,
      senderAddress: original?.senderAddress ?? office.senderAddress,
      replyTo: original?.replyTo ?? '',
      createdAt: now,
      updatedAt: now,
    });
  }

  private name(text: string): string {
    const name = oneLine(text);
    if (name === '')
      throw new Problem(422, 'A campaign needs a name.', {
        errors: [{ path: 'name', message: 'A campaign needs a name.' }],
      });
    return name;
  }

  async change(id: number, request: CampaignRequest): Promise<{ version: number }> {
    const { db } = this.database;
    if (request.letterId && !(await letterById(db, request.letterId))) throw notFound('letter');
    if (request.topicId && !(await topicStore.topicById(db, request.topicId)))
      throw notFound('topic');
    const values = {
      name: this.name(request.name),
      who: request.who,
      letterId: request.letterId ?? null,
      topicId: request.topicId ?? null,
      senderName: oneLine(request.senderName),
      senderAddress: oneLine(request.senderAddress),
      replyTo: oneLine(request.replyTo),
      sendAt: request.sendAt ? new Date(request.sendAt) : null,
    };
    const changed = await store.changeSheet(db, id, request.version, values, this.clock.now());
    if (changed) return { version: changed.version };
    const current = await this.campaign(id);
    if (current.status !== 'draft')
      throw new Problem(422, refusals['not-a-draft'], { reason: 'not-a-draft' });
    throw conflict('campaign', { version: current.version });
  }

  /** “Who” with its segments and tags looked up; what is gone matches nobody and stops the send. */
  async bind(
    who: Who,
    topic: number | null,
  ): Promise<BoundWho & { gone: WhoRef[]; unfinished: string[] }> {
    const { db } = this.database;
    const gone: WhoRef[] = [];
    const unfinished: string[] = [];
    const poolIds = new Set<number>();
    const house = await vocabularyStore.housePool(db);
    const bindOne = async (ref: WhoRef) => {
      if (ref.kind === 'tag') {
        if (!(await vocabularyStore.tagById(db, ref.id))) gone.push(ref);
        poolIds.add(house.id);
        return taggedInHouse(ref.id);
      }
      const segment = await segmentById(db, ref.id);
      if (!segment) {
        gone.push(ref);
        return anyOf([]);
      }
      const { people, isFinished } = await this.segments.bind(segment);
      if (!isFinished) unfinished.push(segment.name);
      poolIds.add(segment.poolId);
      return people;
    };
    const bindAll = async (refs: readonly WhoRef[]) => {
      const conditions = [];
      for (const ref of refs) conditions.push(await bindOne(ref));
      return anyOf(conditions);
    };
    return {
      to: await bindAll(who.to),
      notTo: await bindAll(who.notTo),
      severalPools: poolIds.size > 1,
      topic,
      gone,
      unfinished,
    };
  }

  async tally(who: BoundWho): Promise<Tally> {
    return tallyOf(await countReasons(this.database.db, who));
  }

  /** Tally and checks. */
  async account(id: number): Promise<TallyReply> {
    const campaign = await this.campaign(id);
    const bound = await this.bind(campaign.who, campaign.topicId);
    const tally = campaign.tally ?? (await this.tally(bound));
    return { tally, checks: await this.checks(campaign, tally, bound) };
  }

  /** How many people each entry under “who” stands for. */
  async whoCounts(id: number): Promise<Record<string, number>> {
    const { who } = await this.campaign(id);
    const counts: Record<string, number> = {};
    for (const ref of [...who.to, ...who.notTo]) {
      const { to } = await this.bind({ to: [ref], notTo: [] }, null);
      counts[whoKey(ref)] = await peopleStore.countLiving(this.database.db, to);
    }
    return counts;
  }

  private async checks(
    campaign: store.Campaign,
    tally: Tally,
    bound: { gone: WhoRef[]; unfinished: string[] },
  ): Promise<TallyReply['checks']> {
    const { db } = this.database;
    const letter = campaign.letterId === null ? undefined : await letterById(db, campaign.letterId);
    const office = await theOffice(db);
    const fields = (await vocabularyStore.allFields(db)).map(({ key }) => key);
    return checkCampaign({
      letter: letter && {
        content: letter.content,
        officeName: office.name,
        postalAddress: office.postalAddress,
        fields,
      },
      who: campaign.who,
      tally,
      senderName: campaign.senderName,
      senderAddress: campaign.senderAddress,
      replyTo: campaign.replyTo,
      unfinishedSegments: bound.unfinished,
      gone: bound.gone.length,
    });
  }

  /** Orders the send: now, or at the time on the sheet. */
  async send(id: number, version: number, seen: Tally): Promise<void> {
    const { tally, checks } = await this.account(id);
    const now = this.clock.now();
    await this.step(id, (state, campaign) => {
      if (campaign.version !== version) throw conflict('campaign', { version: campaign.version });
      const readiness = { tally, stops: stops(checks) };
      return campaign.sendAt
        ? schedule(state, readiness, seen, campaign.sendAt, now)
        : sendNow(state, readiness, seen);
    });
  }

  async move(
    id: number,
    action: 'pause' | 'go on' | 'stop' | 'agree' | 'back to draft' | 'unschedule',
  ): Promise<void> {
    const decide = { pause, 'go on': goOn, stop, agree, 'back to draft': backToDraft, unschedule }[
      action
    ];
    await this.step(id, decide);
  }

  /** Decides on the locked row, writes the new state and asks for the work that follows, all in one transaction. */
  async step(
    id: number,
    decide: (
      state: CampaignState,
      campaign: store.Campaign,
    ) => Result<CampaignState, CampaignRefusal>,
  ): Promise<CampaignState> {
    return this.database.transaction(async (tx) => {
      const campaign = await store.lockCampaign(tx, id);
      if (!campaign) throw notFound('campaign');
      const state = accept(decide(store.stateOf(campaign), campaign));
      await store.writeState(tx, id, state, this.clock.now());
      if (state.status === 'fixing') await this.jobs.nudge('fixing', id, tx);
      if (state.status === 'sending' || state.status === 'stopped' || state.status === 'draft')
        await this.jobs.nudge('sending', id, tx);
      return state;
    });
  }

  async names(who: Who): Promise<Record<string, { name: string; gone: boolean }>> {
    const names: Record<string, { name: string; gone: boolean }> = {};
    for (const ref of [...who.to, ...who.notTo]) {
      const found =
        ref.kind === 'tag'
          ? await vocabularyStore.tagById(this.database.db, ref.id)
          : await segmentById(this.database.db, ref.id);
      names[whoKey(ref)] = found
        ? { name: found.name, gone: false }
        : { name: `a ${ref.kind} that was deleted`, gone: true };
    }
    return names;
  }
}
