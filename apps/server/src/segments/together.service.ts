// Several segments together: put together into a new one, or compared.
import { Inject, Injectable } from '@nestjs/common';
import type { CombineRequest, CompareReply, CompareRequest } from '@palabra/contract/segments';
import { idOf, type Clock } from '@palabra/core/kernel';
import type { Viewer } from '@palabra/core/office';
import type { Rule, RuleNode, SegmentId } from '@palabra/core/segments';
import type { SQL } from 'drizzle-orm';
import { allOf, countHeld, lastKey, living, scope } from '../contacts/index.js';
import { Database } from '../platform/database.js';
import { CLOCK } from '../platform/time.js';
import { RulesService } from './rules.service.js';
import { SegmentsService } from './segments.service.js';
import { addSegment, type NamedSegment } from './segments.store.js';

@Injectable()
export class TogetherService {
  constructor(
    private readonly database: Database,
    private readonly segments: SegmentsService,
    private readonly rules: RulesService,
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
    const id = await addSegment(this.database.db, {
      name: this.segments.name(name),
      poolIds: [...new Set(parts.flatMap(({ poolIds }) => poolIds))],
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
  async compare({ segments: ids }: CompareRequest, viewer: Viewer): Promise<CompareReply> {
    const { db } = this.database;
    const context = await this.rules.context();
    const parts: SQL[] = [];
    for (const id of ids)
      parts.push(this.rules.bindIn(await this.segments.one(idOf(id), viewer), context).people);
    const held = await countHeld(db, allOf(living, scope(viewer)), parts, {
      after: 0,
      upTo: await lastKey(db),
    });
    const counts = held.map(({ words, count }) => ({ inThese: words[0] ?? 0, count }));
    return {
      sizes: ids.map((_, bit) =>
        counts.reduce((sum, { inThese, count }) => sum + ((inThese >>> bit) & 1) * count, 0),
      ),
      parts: counts.filter(({ inThese }) => inThese !== 0).sort((a, b) => a.inThese - b.inThese),
    };
  }
}
