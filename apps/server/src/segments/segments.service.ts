// The life of a segment: its rule in force and the draft beside it, its kind, who sees it, and what uses it.
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import type {
  DraftDifference,
  NewSegmentRequest,
  OlderRule,
  SegmentRequest,
  SegmentUse,
} from '@palabra/contract/segments';
import type { Use } from '@palabra/contract/wire';
import { oneLine } from '@palabra/core/contacts';
import { idOf, type Clock } from '@palabra/core/kernel';
import { seesEverybody, type Viewer } from '@palabra/core/office';
import {
  changesSegment,
  circleOf,
  DEEPEST,
  compileRule,
  emptyRule,
  parseRule,
  reader,
  seesSegment,
  segmentDepth,
  segmentsIn,
  KeySet,
  switchedOff,
  tooHeavy,
  unfinished,
  weightOf,
  withoutTag,
  type Rule,
  type RuleContext,
  type SegmentId,
} from '@palabra/core/segments';
import {
  allOf,
  allPools,
  FieldUses,
  housePool,
  living,
  PeopleSets,
  scope,
  seenBy,
  TagUses,
  Things,
} from '../contacts/index.js';
import { Database, type Db } from '../platform/database.js';
import { conflict, notFound } from '../platform/refusals.js';
import { CLOCK } from '../platform/time.js';
import { rewriteTrees, writeTreeBack } from '../platform/trees.store.js';
import { allUsers } from '../platform/sign-in/sign-in.store.js';
import { HeldService, type Asked } from './held.service.js';
import { inPools, putMembers } from './members.store.js';
import { poolIdsOf, reachOf, RulesService, withoutSelf } from './rules.service.js';
import { refuse } from './segments.refusals.js';
import * as store from './segments.store.js';

/** What of a campaign is said of a segment that it names. */
export interface CampaignUse extends SegmentUse {
  readonly startedAt: Date | null;
}

/** So many MB of rules and arrangements are kept of a member, of somebody else, and in all. */
const MOST_KEPT = { ofMember: 4, own: 20, all: 100 } as const;

type UsesOf = (
  db: Db,
  ids: readonly SegmentId[],
) => Promise<ReadonlyMap<number, readonly CampaignUse[]>>;

@Injectable()
export class SegmentsService implements OnModuleInit {
  private uses: UsesOf | undefined;

  constructor(
    private readonly database: Database,
    private readonly rules: RulesService,
    private readonly sets: PeopleSets,
    private readonly held: HeldService,
    private readonly things: Things,
    private readonly fieldUses: FieldUses,
    private readonly tagUses: TagUses,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  onModuleInit(): void {
    this.things.register('segment', (tx, id, at) => store.setDeleted(tx, idOf(id), at));
    this.fieldUses.register('segment', (key, { userId }) =>
      store.segmentsAsking(this.database.db, key, userId),
    );
    this.fieldUses.register('view', (key, { userId }) =>
      store.viewsShowing(this.database.db, key, userId),
    );
    this.registerTagUses();
    this.sets.register<SegmentId>('segment', 'of the office', ({ id, part }, viewer) =>
      this.people(id, part, viewer),
    );
  }

  private registerTagUses(): void {
    const now = (): Date => this.clock.now();
    this.tagUses.register('segment', {
      all: (db, { userId }) => store.tagsOfSegments(db, userId),
      without: (tx, tag, into) =>
        store.rewriteSegments(tx, (rule) => withoutTag(rule, tag, into), now()),
      back: (tx, rewritten) => writeTreeBack(tx, store.segmentTrees, rewritten, now()),
    });
    for (const [kind, trees, all] of [
      ['draft', store.draftTrees, store.tagsOfDrafts],
      ['view', store.viewTrees, store.tagsOfViews],
    ] as const)
      this.tagUses.register(kind, {
        all: (db, { userId }) => all(db, userId),
        without: (tx, tag, into) =>
          rewriteTrees<Rule>(tx, trees, (rule) => withoutTag(rule, tag, into), now()),
        back: (tx, rewritten) => writeTreeBack(tx, trees, rewritten, now()),
      });
  }

  /** The people behind a number of a segment; undefined where the asker doesn't see it. */
  private async people(id: SegmentId, part: string, viewer: Viewer) {
    const segment = await store.segmentById(this.database.db, id);
    if (!segment || !seesSegment(viewer, segment)) return undefined;
    const { name } = segment;
    const context = await this.rules.context(segment.draftRule, segment.rule);
    const inForce = this.rules.asked(segment, context);
    // What a member made reaches only whom they see: of it, as of what they ask themselves, they learn no more.
    const own = reachOf(segment) === undefined ? {} : { scope: 'of whoever asks' as const };
    if (part === '') return { title: name, among: await this.held.among(inForce), ...own };
    const draft = this.draftOf(segment, context);
    const narrow = { scope: 'of whoever asks' } as const;
    switch (part) {
      case 'draft':
        return {
          title: `the draft of ${name}`,
          among: await this.held.among(draft),
          ...narrow,
        };
      case 'comes':
        return {
          title: `who would come into ${name}`,
          among: await this.held.among(draft, inForce),
          ...narrow,
        };
      case 'goes':
        return {
          title: `who would leave ${name}`,
          among: await this.held.among(inForce, draft),
          ...narrow,
        };
      case 'pools':
        return {
          title: `everybody whom ${name} sifts`,
          among: inPools(segment.draftPoolIds ?? segment.poolIds),
          ...narrow,
        };
      default:
        return undefined;
    }
  }

  /** Whom the draft finds; without one, whom the rule in force does. */
  private draftOf(segment: store.NamedSegment, context: RuleContext): Asked {
    if (!segment.draftRule) return this.rules.asked(segment, context);
    const inner = withoutSelf(context, segment.id);
    const rule = this.rules.read(segment.draftRule, inner);
    const found = compileRule(rule, inner);
    const pools = segment.draftPoolIds ?? segment.poolIds;
    const reach = reachOf(segment);
    const own = reach === undefined ? [] : [seenBy(reach)];
    return {
      bind: (within) => allOf(this.rules.condition(found, pools, inner, within), ...own),
      weight: 1 + weightOf(rule.root, inner),
    };
  }

  /** Whoever uses segments says at start which of them, and where. */
  registerUse(uses: UsesOf): void {
    this.uses = uses;
  }

  async usesOf(ids: readonly SegmentId[]): Promise<ReadonlyMap<number, readonly CampaignUse[]>> {
    if (!this.uses) throw new Error('nobody says what uses segments');
    return this.uses(this.database.db, ids);
  }

  /** One that the asker sees. */
  async one(id: SegmentId, viewer: Viewer): Promise<store.NamedSegment> {
    const segment = await store.segmentById(this.database.db, id);
    if (!segment || !seesSegment(viewer, segment)) throw notFound('segment');
    return segment;
  }

  /** One that the asker may change. */
  async own(id: SegmentId, viewer: Viewer): Promise<store.NamedSegment> {
    const segment = await this.one(id, viewer);
    if (!changesSegment(viewer, segment)) throw refuse('not-your-segment');
    return segment;
  }

  /** Of a deleted one: who might change it may bring it back. */
  async mayRestore(id: SegmentId, viewer: Viewer): Promise<void> {
    const segment = await store.anySegment(this.database.db, id);
    if (!segment || !seesSegment(viewer, segment)) throw notFound('segment');
    if (!changesSegment(viewer, segment)) throw refuse('not-your-segment');
  }

  async list(viewer: Viewer): Promise<store.SegmentHead[]> {
    return (await store.allSegments(this.database.db)).filter((one) => seesSegment(viewer, one));
  }

  async add(
    request: NewSegmentRequest,
    viewer: Viewer,
  ): Promise<{ id: SegmentId; version: number }> {
    const { db } = this.database;
    const now = this.clock.now();
    const pools = request.pools ?? [(await housePool(db)).id];
    await this.needPools(pools);
    const rule = request.rule ? (await this.rules.readFor(request.rule, viewer)).rule : undefined;
    const people = request.people && (await this.sets.meant(request.people, viewer));
    if (rule) await this.refuseCircle(undefined, rule);
    await this.refuseTooMuch(viewer, [rule]);
    const values = {
      name: this.name(request.name),
      description: request.description ?? '',
      kind: people ? ('fixed' as const) : ('live' as const),
      poolIds: poolIdsOf(people ? (await allPools(db)).map(({ id }) => id) : pools),
      rule: rule ?? emptyRule,
      inForceSince: rule || people ? now : null,
      inForceBy: rule || people ? viewer.userId : null,
      ownerId: viewer.userId,
      // What the office writes by is the office's; a member's own is theirs until they share it.
      sharing: seesEverybody(viewer.role) ? ('all' as const) : ('private' as const),
      now,
    };
    const id = await this.database.transaction(async (tx) => {
      const made = await store.addSegment(tx, values);
      if (people) await putMembers(tx, made, people, now);
      return made;
    });
    return { id, version: 1 };
  }

  async change(
    id: SegmentId,
    request: SegmentRequest,
    viewer: Viewer,
  ): Promise<{ version: number }> {
    const segment = await this.own(id, viewer);
    const draft = segment.kind === 'live' ? request.draft : null;
    const rule = draft ? (await this.rules.readFor(draft.rule, viewer)).rule : null;
    if (draft && rule) {
      await this.needPools(draft.pools);
      await this.refuseCircle(segment.id, rule);
      await this.refuseTooMuch(viewer, [rule], [segment.draftRule]);
    }
    const changed = await store.changeSegment(
      this.database.db,
      id,
      request.version,
      {
        name: this.name(request.name),
        description: oneLine(request.description),
        labels: [...new Set(request.labels.map(oneLine).filter((label) => label !== ''))],
        sharing: request.sharing,
        sharedWith: request.sharedWith.map((one) => idOf(one)),
        // Whoever says nothing of the draft leaves it.
        ...(draft === undefined
          ? {}
          : { draftRule: rule, draftPoolIds: draft ? poolIdsOf(draft.pools) : null }),
      },
      this.clock.now(),
    );
    if (changed) return { version: changed.version };
    throw await this.newer(id);
  }

  private async newer(id: SegmentId): Promise<Error> {
    const current = await store.segmentById(this.database.db, id);
    return current ? conflict('segment', sheetOf(current)) : notFound('segment');
  }

  /** A rule that comes back to its own segment has no end; the way is said. Neither may the way to it be too long. */
  async refuseCircle(id: SegmentId | undefined, rule: Rule): Promise<void> {
    if (segmentsIn(rule).length === 0) return;
    const all = new Map<number, store.SegmentHead>(
      (await store.allSegments(this.database.db)).map((one) => [one.id, one]),
    );
    const asks = (key: number): readonly number[] => {
      const other = all.get(key);
      return other?.kind === 'live' ? other.asks : [];
    };
    if (segmentDepth(rule, asks) > DEEPEST) throw refuse('asks-too-deep', DEEPEST);
    const way = id === undefined ? undefined : circleOf(id, rule, asks);
    if (way) throw refuse('circle', way.map((id) => `“${all.get(id)?.name ?? '…'}”`).join(' → '));
  }

  /** What is kept is loaded again and again: of each person, and of all, it has a limit. */
  async refuseTooMuch(
    viewer: Viewer,
    next: readonly unknown[],
    before: readonly unknown[] = [],
  ): Promise<void> {
    const added = JSON.stringify(next).length - JSON.stringify(before).length;
    // Whoever makes something smaller is on their way out.
    if (added <= 0) return;
    const { own, all } = await store.kept(this.database.db, viewer.userId);
    const most = seesEverybody(viewer.role) ? MOST_KEPT.own : MOST_KEPT.ofMember;
    if (own + added > most * 1_000_000) throw refuse('too-much-kept', 'own', most);
    if (all + added > MOST_KEPT.all * 1_000_000)
      throw refuse('too-much-kept', 'all', MOST_KEPT.all);
  }

  /** Segments that ask for this one take the looks that it takes: none of them may become too heavy to be used. */
  private async refuseBurden(segment: store.NamedSegment, draft: Rule): Promise<void> {
    const { db } = this.database;
    const all = await store.allSegments(db);
    const touched = askingFor(segment.id, all);
    const asking = all.filter(({ id }) => id !== segment.id && touched.has(id));
    if (asking.length === 0) return;
    const rules = await store.rulesOf(
      db,
      asking.map(({ id }) => id),
    );
    const context = await this.rules.context(draft, ...rules.values());
    const next = {
      ...context,
      segments: context.segments.map((one) =>
        one.id === segment.id ? { ...one, read: reader(draft) } : one,
      ),
    };
    for (const { id, name } of asking) {
      const rule = rules.get(id);
      const isUsable = (inThis: RuleContext): boolean => {
        const inner = withoutSelf(inThis, id);
        const read = rule && parseRule(rule, inner);
        return (
          read?.ok === true &&
          unfinished(read.value, inner).length === 0 &&
          tooHeavy(read.value, inner) === undefined
        );
      };
      if (isUsable(context) && !isUsable(next)) throw refuse('asked-too-much', name);
    }
  }

  /** Whoever comes and goes by the draft, which campaigns that concerns, and what keeps it from being used. */
  async difference(id: SegmentId, viewer: Viewer, signal: AbortSignal): Promise<DraftDifference> {
    const segment = await this.one(id, viewer);
    const context = await this.rules.context(segment.draftRule, segment.rule);
    const [now = KeySet.empty, draft = KeySet.empty, seen = KeySet.empty] =
      (await this.held.of(
        [
          this.rules.asked(segment, context),
          this.draftOf(segment, context),
          { bind: () => allOf(living, scope(viewer)), weight: 1 },
        ],
        signal,
      )) ?? [];
    return {
      now: now.and(seen).size,
      comes: draft.without(now).and(seen).size,
      goes: now.without(draft).and(seen).size,
      campaigns: await this.waiting(segment.id),
      blocks: blocksOf(segment, context),
    };
  }

  /** Campaigns still to go out that name a segment, or one that asks for it. */
  private async waiting(id: SegmentId): Promise<SegmentUse[]> {
    const touched = askingFor(id, await store.allSegments(this.database.db));
    const uses = [...(await this.usesOf([...touched])).values()].flat();
    return [
      ...new Map(
        uses
          .filter(({ startedAt }) => startedAt === null)
          .map(({ id: key, name, waits }) => [key, { id: key, name, waits }]),
      ).values(),
    ];
  }

  /** Puts the draft in force; the rule before it is kept. */
  async use(id: SegmentId, version: number, viewer: Viewer): Promise<{ version: number }> {
    const segment = await this.own(id, viewer);
    const { draftRule } = segment;
    if (!draftRule || segment.kind !== 'live') throw refuse('no-draft');
    if (segment.version !== version) throw await this.newer(id);
    const context = await this.rules.context(draftRule);
    const [block] = blocksOf(segment, context);
    if (block !== undefined) throw refuse('draft-blocked', block);
    await this.refuseCircle(segment.id, draftRule);
    await this.refuseBurden(segment, draftRule);
    const now = this.clock.now();
    const changed = await this.database.transaction(async (tx) => {
      if (segment.inForceSince !== null) await store.keepOlderRule(tx, segment, viewer.userId, now);
      return store.changeSegment(
        tx,
        id,
        version,
        {
          rule: draftRule,
          poolIds: segment.draftPoolIds ?? segment.poolIds,
          inForceSince: now,
          inForceBy: viewer.userId,
          draftRule: null,
          draftPoolIds: null,
        },
        now,
      );
    });
    if (changed) return { version: changed.version };
    throw await this.newer(id);
  }

  async olderRules(id: SegmentId, viewer: Viewer): Promise<OlderRule[]> {
    await this.one(id, viewer);
    const { db } = this.database;
    const names = new Map<number, string>((await allUsers(db)).map((user) => [user.id, user.name]));
    const nameOf = (user: number | null): string | null =>
      user === null ? null : (names.get(user) ?? null);
    return (await store.olderRules(db, id)).map((one) => ({
      version: one.version,
      pools: one.poolIds,
      rule: one.rule,
      since: one.since?.toISOString() ?? null,
      by: nameOf(one.madeBy),
      until: one.at.toISOString(),
      replacedBy: nameOf(one.userId),
    }));
  }

  /** Other segments, of those the asker sees, whose rule in force asks for each. */
  async askedBy(viewer: Viewer): Promise<ReadonlyMap<number, readonly Use[]>> {
    const asked = new Map<number, Use[]>();
    for (const one of await this.list(viewer))
      if (one.kind === 'live')
        for (const id of new Set(one.asks))
          asked.set(id, [...(asked.get(id) ?? []), { id: one.id, name: one.name }]);
    return asked;
  }

  name(text: string): string {
    const name = oneLine(text);
    if (name === '') throw refuse('no-name');
    return name;
  }

  private async needPools(ids: readonly number[]): Promise<void> {
    const pools = await allPools(this.database.db);
    if (!ids.every((id) => pools.some((pool) => pool.id === id))) throw notFound('pool');
  }
}

/** A segment, and all that ask for it, themselves or through others. */
function askingFor(id: SegmentId, all: readonly store.SegmentHead[]): ReadonlySet<SegmentId> {
  const touched = new Set<SegmentId>([id]);
  for (let size = 0; size < touched.size;) {
    size = touched.size;
    for (const one of all)
      if (one.kind === 'live' && one.asks.some((key) => touched.has(idOf(key))))
        touched.add(one.id);
  }
  return touched;
}

/** What is edited, for who edits another state of it. */
const sheetOf = ({
  version,
  name,
  description,
  labels,
  sharing,
  sharedWith,
  draftRule,
  draftPoolIds,
  poolIds,
  rule,
}: store.Segment) => ({
  version,
  name,
  description,
  labels,
  sharing,
  sharedWith,
  draft: draftRule ? { rule: draftRule, pools: draftPoolIds ?? poolIds } : null,
  inForce: { rule, pools: poolIds },
});

/** What keeps a draft from being used, in words. */
function blocksOf(segment: store.NamedSegment, context: RuleContext): string[] {
  const inner = withoutSelf(context, segment.id);
  const rule = segment.draftRule ? parseRule(segment.draftRule, inner) : undefined;
  if (!rule) return [];
  if (!rule.ok) return [rule.error];
  const open = unfinished(rule.value, inner);
  const off = switchedOff(rule.value.root);
  return [
    ...(open.includes('') ? ['The rule asks for nobody yet.'] : []),
    ...(open.some((path) => path !== '') ? ['A condition is not finished.'] : []),
    ...(off.length > 0 ? ['A condition is switched off. Ask it again, or take it out.'] : []),
  ];
}
