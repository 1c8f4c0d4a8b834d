// Several segments together: put together into a new one, or compared.
import { Inject, Injectable } from '@nestjs/common';
import type { CombineRequest, CompareReply, CompareRequest } from '@palabra/contract/segments';
import { idOf, type Clock } from '@palabra/core/kernel';
import type { Viewer } from '@palabra/core/office';
import { KeySet, type Rule, type RuleNode, type SegmentId } from '@palabra/core/segments';
import { allOf, living, scope } from '../contacts/index.js';
import { Database } from '../platform/database.js';
import { CLOCK } from '../platform/time.js';
import { HeldService, type Asked } from './held.service.js';
import { RulesService } from './rules.service.js';
import { SegmentsService } from './segments.service.js';
import { addSegment, type NamedSegment } from './segments.store.js';

@Injectable()
export class TogetherService {
  constructor(
    private readonly database: Database,
    private readonly segments: SegmentsService,
    private readonly rules: RulesService,
    private readonly held: HeldService,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  /** A live segment that asks for the others, so that it follows them. */
  async combine(
    { name, segments: ids, how }: CombineRequest,
    viewer: Viewer,
  ): Promise<{ id: SegmentId; version: number }> {
    const parts: NamedSegment[] = [];
    for (const id of new Set(ids)) parts.push(await this.segments.one(idOf(id), viewer));
    const now = this.clock.now();
    const isIn = (op: 'is in' | 'is not in') =>
      parts.map(({ id }): RuleNode => ({ kind: 'segment', op, segment: id }));
    const [first] = isIn('is in');
    const rule: Rule = {
      v: 1,
      root:
        how === 'together'
          ? { of: 'any', items: isIn('is in') }
          : how === 'both' || !first
            ? { of: 'all', items: isIn('is in') }
            : { of: 'all', items: [first, ...isIn('is not in').slice(1)] },
    };
    // Together they may be more than one rule can ask for.
    await this.rules.readFor(rule, viewer);
    await this.segments.refuseCircle(undefined, rule);
    await this.segments.refuseTooMuch(viewer, [rule]);
    const id = await addSegment(this.database.db, {
      name: this.segments.name(name),
      // Each part says itself of which pools it is, now and later, and a list may hold people of any.
      poolIds: [],
      rule,
      inForceSince: now,
      inForceBy: viewer.userId,
      ownerId: viewer.userId,
      sharing: viewer.role === 'member' ? 'private' : 'all',
      now,
    });
    return { id, version: 1 };
  }

  /** How many are in just which of some segments, of those whom the asker sees. */
  async compare(
    { segments: ids }: CompareRequest,
    viewer: Viewer,
    signal: AbortSignal,
  ): Promise<CompareReply> {
    const segments: NamedSegment[] = [];
    for (const id of ids) segments.push(await this.segments.one(idOf(id), viewer));
    const context = await this.rules.context(segments.map(({ rule }) => rule));
    const asked: Asked[] = [
      { bind: () => allOf(living, scope(viewer)), weight: 1 },
      ...segments.map((segment) => this.rules.asked(segment, context)),
    ];
    const [everybody = KeySet.empty, ...parts] = (await this.held.of(asked, signal)) ?? [];
    const sets = parts.map((part) => everybody.and(part));
    return {
      sizes: sets.map(({ size }) => size),
      parts: mixesOf(sets.length).flatMap((inThese) => {
        const count = just(sets, inThese).size;
        return count > 0 ? [{ inThese, count }] : [];
      }),
    };
  }
}

/** Every choice of some of so many, as bits. */
const mixesOf = (many: number): number[] =>
  Array.from({ length: 2 ** many - 1 }, (_, at) => at + 1);

/** Those who are in just these of some sets, one bit each. */
const just = (sets: readonly KeySet[], inThese: number): KeySet =>
  sets.reduce(
    (left, set, bit) => ((inThese >>> bit) & 1 ? left.and(set) : left.without(set)),
    sets.reduce((all, set) => all.or(set), KeySet.empty),
  );
