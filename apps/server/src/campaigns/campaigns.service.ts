// A campaign's sheet: who, what, from whom, when; its tally and checks; and the steps of its life.
import { fieldsWithoutFallback, type LetterId } from '@palabra/core/letters';
import { allowed, dayIn, type Viewer } from '@palabra/core/office';
import { Inject, Injectable, type OnApplicationBootstrap, type OnModuleInit } from '@nestjs/common';
import type {
  CampaignReply,
  CampaignRequest,
  NewCampaignRequest,
  TallyReply,
  WhoCountsReply,
} from '@palabra/contract/campaigns';
import {
  checkCampaign,
  decide,
  editable,
  nobodyYet,
  stops,
  whoWithoutTag,
  tallyOf,
  whoKey,
  type CampaignOrder,
  type CampaignRefusal,
  type CampaignSituation,
  type CampaignState,
  type CampaignStatus,
  type Tally,
  type Who,
  type WhoRef,
  type CampaignId,
} from '@palabra/core/campaigns';
import { oneLine, type TopicId } from '@palabra/core/contacts';
import { idOf, type Clock, type Result } from '@palabra/core/kernel';
import { seesSegment, type SharedSegment } from '@palabra/core/segments';
import type { SQL } from 'drizzle-orm';
import {
  allFields,
  allOf,
  countLiving,
  housePool,
  type PeopleSet,
  PeopleSets,
  tagById,
  TagUses,
  Things,
  topicById,
} from '../contacts/index.js';
import { addLetter, letterById, LettersService, type Letter } from '../letters/index.js';
import { theOffice } from '../office/index.js';
import { Database, type Db } from '../platform/database.js';
import { Jobs } from '../platform/jobs.js';
import { conflict, notFound } from '../platform/refusals.js';
import { DAY } from '../platform/throttle.store.js';
import { CLOCK } from '../platform/time.js';
import { rewriteTrees, writeTreeBack } from '../platform/trees.store.js';
import { RulesService, segmentById } from '../segments/index.js';
import { refuse } from './campaigns.refusals.js';
import { ChosenService } from './chosen.service.js';
import * as store from './campaigns.store.js';
import {
  anyOf,
  countReasons,
  draftPeople,
  inSeveral,
  partWords,
  taggedInHouse,
  type BoundWho,
} from './who.store.js';

/** A condition on `contacts c`, or undefined for a part that is none. */
type WrittenPeople = (id: CampaignId, part: string) => SQL | undefined;

/** Who got the same letter within this time is pointed out. */
const ALREADY_MS = 7 * DAY;

@Injectable()
export class CampaignsService implements OnModuleInit, OnApplicationBootstrap {
  constructor(
    private readonly database: Database,
    private readonly sets: PeopleSets,
    private readonly things: Things,
    private readonly tagUses: TagUses,
    private readonly rules: RulesService,
    private readonly chosen: ChosenService,
    private readonly letters: LettersService,
    private readonly jobs: Jobs,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  private written: WrittenPeople | undefined;

  /** Whoever keeps the rows of a campaign says at start who is behind its numbers once they are written. */
  registerWritten(written: WrittenPeople): void {
    this.written = written;
  }

  onApplicationBootstrap(): void {
    if (!this.written) throw new Error('nobody says who is behind the numbers of a campaign');
  }

  onModuleInit(): void {
    this.things.register('campaign', (tx, id, at) => store.deleteDraft(tx, idOf(id), at));
    const now = (): Date => this.clock.now();
    this.tagUses.register('campaign', {
      all: (db) => store.tagsOnSheets(db),
      without: (tx, tag, into) =>
        rewriteTrees<Who>(tx, store.draftTrees, (who) => whoWithoutTag(who, tag, into), now()),
      back: (tx, rewritten) => writeTreeBack(tx, store.draftTrees, rewritten, now()),
    });
    this.sets.register<CampaignId>('campaign', 'of the office', ({ id, part }) =>
      this.people(id, part),
    );
  }

  /** Which people a number of a campaign stands for: before the recipients are written by rule, afterwards by the rows. */
  private async people(id: CampaignId, part: string): Promise<PeopleSet | undefined> {
    const campaign = await store.campaignById(this.database.db, id);
    if (!campaign) return undefined;
    const among = campaign.fixedAt
      ? this.written?.(id, part)
      : draftPeople(await this.bind(campaign.who, campaign.topicId), part);
    return (
      among && {
        title: `${partWords(part, campaign.compiled?.links ?? [])} “${campaign.name}”`,
        among,
        isRecord: campaign.fixedAt !== null,
      }
    );
  }

  async campaign(id: CampaignId, db: Db = this.database.db): Promise<store.Campaign> {
    const campaign = await store.campaignById(db, id);
    if (!campaign) throw notFound('campaign');
    return campaign;
  }

  async add(request: NewCampaignRequest): Promise<CampaignId> {
    const { db } = this.database;
    const now = this.clock.now();
    const office = await theOffice(db);
    const original =
      request.copyOf === undefined ? undefined : await this.campaign(idOf(request.copyOf));
    if (request.letter !== undefined && !(await letterById(db, idOf(request.letter))))
      throw notFound('letter');
    if (request.segment !== undefined && !(await segmentById(db, idOf(request.segment))))
      throw notFound('segment');
    const letterId =
      request.letter === undefined
        ? await this.letterOf(original, request)
        : idOf<LetterId>(request.letter);
    const who: Who =
      original?.who ??
      (request.segment === undefined
        ? nobodyYet
        : { to: [{ kind: 'segment', id: request.segment }], notTo: [] });
    return store.addCampaign(db, {
      name: this.name(request.name),
      who,
      letterId,
      topicId: original?.topicId ?? null,
      senderName: original?.senderName ?? office.senderName,
      senderAddress: original?.senderAddress ?? office.senderAddress,
      replyTo: original?.replyTo ?? '',
      createdAt: now,
      updatedAt: now,
    });
  }

  /** Of a copy: the original's letter, or a copy of it. */
  private async letterOf(
    original: store.Campaign | undefined,
    { copiesLetter, name }: NewCampaignRequest,
  ): Promise<LetterId | null> {
    const id = original?.letterId ?? null;
    if (id === null || !copiesLetter) return id;
    const { db } = this.database;
    const letter = await letterById(db, id);
    return letter ? addLetter(db, oneLine(name), letter.content, this.clock.now()) : null;
  }

  /** The letter as it went out; until it is fixed, as it is now; empty without one. */
  async letterHtml(id: CampaignId): Promise<string> {
    const { compiled, letterId } = await this.campaign(id);
    if (compiled) return this.letters.asNobody(compiled);
    if (letterId === null || !(await letterById(this.database.db, letterId))) return '';
    return this.letters.htmlOf(letterId);
  }

  private name(text: string): string {
    const name = oneLine(text);
    if (name === '') throw refuse('no-name');
    return name;
  }

  async change(id: CampaignId, request: CampaignRequest): Promise<{ version: number }> {
    const { db } = this.database;
    const letterId = request.letterId ? idOf<LetterId>(request.letterId) : null;
    const topicId = request.topicId ? idOf<TopicId>(request.topicId) : null;
    if (letterId && !(await letterById(db, letterId))) throw notFound('letter');
    if (topicId && !(await topicById(db, topicId))) throw notFound('topic');
    const values = {
      name: this.name(request.name),
      who: request.who,
      letterId,
      topicId,
      senderName: oneLine(request.senderName),
      senderAddress: oneLine(request.senderAddress),
      replyTo: oneLine(request.replyTo),
      sendAt: request.sendAt ? new Date(request.sendAt) : null,
    };
    const changed = await store.changeSheet(db, id, request.version, values, this.clock.now());
    if (changed) return { version: changed.version };
    const current = await this.campaign(id);
    if (!editable(current.status)) throw refuse('not-a-draft');
    throw conflict('campaign', sheetOf(current));
  }

  /** “Who” with its segments and tags looked up; what is gone matches nobody and stops the send. */
  async bind(
    who: Who,
    topic: number | null,
    viewer?: Viewer,
  ): Promise<BoundWho & { gone: WhoRef[]; unfinished: string[] }> {
    const { db } = this.database;
    const gone: WhoRef[] = [];
    const unfinished: string[] = [];
    const poolIds = new Set<number>();
    const house = await housePool(db);
    const bindOne = async (ref: WhoRef) => {
      if (ref.kind === 'tag') {
        if (!(await tagById(db, idOf(ref.id)))) gone.push(ref);
        poolIds.add(house.id);
        return taggedInHouse(idOf(ref.id));
      }
      if (ref.kind === 'people') {
        const chosen = await this.chosen.one(idOf(ref.id));
        if (!chosen) gone.push(ref);
        // They may be of any pools.
        poolIds.add(house.id).add(0);
        return chosen ? this.chosen.people(chosen) : anyOf([]);
      }
      const segment = await segmentById(db, idOf(ref.id));
      if (!segment) {
        gone.push(ref);
        return anyOf([]);
      }
      const { people, isFinished } = await this.rules.bind(segment);
      if (!isFinished) unfinished.push(nameFor(segment, viewer));
      // Whoever is listed may be of any pool.
      const isAny = segment.kind === 'fixed' || segment.poolIds.length === 0;
      for (const pool of isAny ? [house.id, 0] : segment.poolIds) poolIds.add(pool);
      return people;
    };
    const bindAll = async (refs: readonly WhoRef[]): Promise<SQL[]> => {
      const conditions = [];
      for (const ref of refs) conditions.push(await bindOne(ref));
      return conditions;
    };
    const toEach = await bindAll(who.to);
    return {
      to: anyOf(toEach),
      toEach,
      notTo: anyOf(await bindAll(who.notTo)),
      severalPools: poolIds.size > 1,
      topic,
      gone,
      unfinished,
    };
  }

  async tally(who: BoundWho): Promise<Tally> {
    return tallyOf(await countReasons(this.database.db, who));
  }

  /** Tally and checks; a segment that the asker does not see is not named. */
  async account(id: CampaignId, viewer?: Viewer): Promise<TallyReply> {
    const campaign = await this.campaign(id);
    const bound = await this.bind(campaign.who, campaign.topicId, viewer);
    const tally = campaign.tally ?? (await this.tally(bound));
    return { tally, checks: await this.checks(campaign, tally, bound) };
  }

  /** How many people each entry under “who” stands for. */
  async whoCounts(id: CampaignId): Promise<WhoCountsReply> {
    const { who } = await this.campaign(id);
    const counts: Record<string, number> = {};
    for (const ref of [...who.to, ...who.notTo]) {
      const { to } = await this.bind({ to: [ref], notTo: [] }, null);
      counts[whoKey(ref)] = await countLiving(this.database.db, to);
    }
    return {
      counts,
      inSeveral:
        who.to.length < 2
          ? 0
          : await countLiving(this.database.db, inSeveral(await this.bind(who, null))),
    };
  }

  /** “Who” as it is now, to be kept with the campaign: names, and rules with what they say. */
  async used(who: Who): Promise<NonNullable<store.Campaign['whoUsed']>> {
    const { db } = this.database;
    const names = await this.names(who);
    const kept = [];
    for (const [refs, isLeftOut] of [
      [who.to, false],
      [who.notTo, true],
    ] as const)
      for (const ref of refs) {
        const segment = ref.kind === 'segment' ? await segmentById(db, idOf(ref.id)) : undefined;
        const chosen = ref.kind === 'people' ? await this.chosen.one(idOf(ref.id)) : undefined;
        const rule = segment?.kind === 'live' ? segment.rule : (chosen?.rule ?? null);
        kept.push({
          ...ref,
          isLeftOut,
          name: names[whoKey(ref)]?.name ?? '',
          rule,
          said: rule ? await this.rules.said(rule) : null,
        });
      }
    return kept;
  }

  private async checks(
    campaign: store.Campaign,
    tally: Tally,
    bound: BoundWho & { gone: WhoRef[]; unfinished: string[] },
  ): Promise<TallyReply['checks']> {
    const { db } = this.database;
    const letter = campaign.letterId === null ? undefined : await letterById(db, campaign.letterId);
    const office = await theOffice(db);
    const fields = (await allFields(db)).map(({ key, label }) => ({ key, label }));
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
      ...(await this.careful(campaign, letter, bound)),
    });
  }

  /** What a careful colleague would ask before a send. */
  private async careful(
    campaign: store.Campaign,
    letter: Letter | undefined,
    bound: BoundWho,
  ): Promise<Pick<CampaignSituation, 'gotAlready' | 'lacking' | 'goesOut'>> {
    const { db } = this.database;
    const now = this.clock.now();
    const office = await theOffice(db);
    const goesOut = dayIn(office.timeZone, campaign.sendAt ?? now);
    const receives = draftPeople(bound, 'receives');
    if (!letter || campaign.fixedAt || !receives) return { gotAlready: 0, lacking: [], goesOut };
    const since = new Date(now.getTime() - ALREADY_MS);
    const others = await store.sentLetterSince(db, letter.id, campaign.id, since);
    const got = others
      .map((id) => this.written?.(id, 'sent'))
      .filter((people) => people !== undefined);
    const gotAlready = got.length === 0 ? 0 : await countLiving(db, allOf(receives, anyOf(got)));
    const lacking = [];
    for (const key of fieldsWithoutFallback(letter.content)) {
      const people = await this.rules.withoutField(key);
      if (!people) continue;
      const count = await countLiving(db, allOf(receives, people.where));
      if (count > 0) lacking.push({ label: people.label, count });
    }
    return { gotAlready, lacking, goesOut };
  }

  /** Orders the send: now, or at the time on the sheet. */
  async send(id: CampaignId, version: number, seen: Tally): Promise<void> {
    const { tally, checks } = await this.account(id);
    const readiness = { tally, stops: stops(checks) };
    const now = this.clock.now();
    const { holdSeconds } = await theOffice(this.database.db);
    await this.order(id, ({ version: current, sendAt }) => {
      if (current !== version) throw conflict('campaign', { version: current });
      if (sendAt) return { step: 'schedule', readiness, seen, sendAt, now };
      // What is ordered at once waits for the office's pause, in which it can be called off.
      const held = new Date(now.getTime() + holdSeconds * 1000);
      return holdSeconds > 0
        ? { step: 'schedule', readiness, seen, sendAt: held, now }
        : { step: 'send now', readiness, seen };
    });
  }

  /** Takes a step of a campaign's life, or says why not. */
  async order(
    id: CampaignId,
    order: CampaignOrder | ((campaign: store.Campaign) => CampaignOrder),
  ): Promise<CampaignState> {
    const taken = await this.database.transaction((tx) => this.take(tx, id, order));
    if (!taken.ok) throw refuse(taken.error);
    return taken.value;
  }

  /** The same in the caller's transaction, where it doesn't matter that it may come too late: false then. */
  async tryOrder(tx: Db, id: CampaignId, order: CampaignOrder): Promise<boolean> {
    return (await this.take(tx, id, order)).ok;
  }

  /** Nothing else moves a campaign: decides on the locked row, writes the new state and asks for the work that follows. */
  private async take(
    tx: Db,
    id: CampaignId,
    order: CampaignOrder | ((campaign: store.Campaign) => CampaignOrder),
  ): Promise<Result<CampaignState, CampaignRefusal>> {
    const campaign = await store.lockCampaign(tx, id);
    if (!campaign) throw notFound('campaign');
    const decided = decide(
      store.stateOf(campaign),
      typeof order === 'function' ? order(campaign) : order,
    );
    if (!decided.ok) return decided;
    await store.writeState(tx, id, decided.value, this.clock.now());
    const work = followsFrom[decided.value.status];
    if (work) await this.jobs.nudge(work, id, tx);
    return decided;
  }

  /** “Who” as it was kept, for who sees the campaign: of segments that they don't see neither the name nor the rule. */
  async usedFor(
    { whoUsed }: Pick<store.Campaign, 'whoUsed'>,
    viewer: Viewer,
  ): Promise<CampaignReply['whoUsed']> {
    if (!whoUsed) return null;
    const told = [];
    for (const { kind, id, isLeftOut, name, said } of whoUsed) {
      const segment =
        kind === 'segment' ? await segmentById(this.database.db, idOf(id)) : undefined;
      // Of one that is gone it is not known any more who saw it.
      const isSeen =
        kind !== 'segment' ||
        (segment ? seesSegment(viewer, segment) : allowed(viewer.role, 'write letters'));
      told.push({
        kind,
        id,
        isLeftOut,
        name: isSeen ? name : ANOTHERS,
        said: isSeen ? said : null,
      });
    }
    return told;
  }

  async names(who: Who, viewer?: Viewer): Promise<Record<string, { name: string; gone: boolean }>> {
    const names: Record<string, { name: string; gone: boolean }> = {};
    for (const ref of [...who.to, ...who.notTo]) {
      const found =
        ref.kind === 'tag'
          ? await tagById(this.database.db, idOf(ref.id))
          : ref.kind === 'people'
            ? await this.chosen.one(idOf(ref.id))
            : await segmentById(this.database.db, idOf(ref.id));
      names[whoKey(ref)] = found
        ? { name: 'sharing' in found ? nameFor(found, viewer) : found.name, gone: false }
        : { name: `a ${ref.kind} that was deleted`, gone: true };
    }
    return names;
  }
}

const ANOTHERS = 'a segment of a colleague’s own';

/** What a segment is called for somebody; for nobody in particular, what it is called. */
const nameFor = (segment: SharedSegment & { readonly name: string }, viewer?: Viewer): string =>
  !viewer || seesSegment(viewer, segment) ? segment.name : ANOTHERS;

/** The sheet as it is edited, for who edits another state of it. */
const sheetOf = ({
  version,
  name,
  who,
  letterId,
  topicId,
  senderName,
  senderAddress,
  replyTo,
  sendAt,
}: store.Campaign) => ({
  version,
  name,
  who,
  letterId,
  topicId,
  senderName,
  senderAddress,
  replyTo,
  sendAt: sendAt?.toISOString() ?? null,
});

/** The work that a campaign in a status waits for. */
const followsFrom: { readonly [S in CampaignStatus]: 'fixing' | 'sending' | undefined } = {
  // What was written for a send that did not begin is forgotten.
  draft: 'sending',
  scheduled: undefined,
  fixing: 'fixing',
  differs: undefined,
  sending: 'sending',
  paused: undefined,
  stopped: 'sending',
  sent: undefined,
};
