// Segments as files: a rule written with the names of what it asks for, and read by them.
import { Injectable } from '@nestjs/common';
import type { Viewer } from '@palabra/core/office';
import {
  readSegmentFile,
  segmentFile,
  type FileWords,
  type RuleContext,
  type SegmentFile,
  type SegmentId,
} from '@palabra/core/segments';
import { allPools, housePool } from '../contacts/index.js';
import { Database } from '../platform/database.js';
import { Keys } from '../platform/keys.js';
import { RulesService } from './rules.service.js';
import { refuse } from './segments.refusals.js';
import { SegmentsService } from './segments.service.js';

@Injectable()
export class SegmentFiles {
  constructor(
    private readonly database: Database,
    private readonly segments: SegmentsService,
    private readonly rules: RulesService,
    private readonly keys: Keys,
  ) {}

  /** The words of the office; of segments, those that the asker sees. */
  private async words(viewer: Viewer, context: RuleContext): Promise<FileWords> {
    const seen = new Set<number>((await this.segments.list(viewer)).map(({ id }) => id));
    return {
      ...context,
      segments: context.segments.filter(({ id }) => seen.has(id)),
      pools: await allPools(this.database.db),
      office: this.keys.mark('segment file'),
    };
  }

  /** Its rule in force; of one that has none yet, the draft. */
  async write(id: SegmentId, viewer: Viewer): Promise<SegmentFile> {
    const segment = await this.segments.one(id, viewer);
    if (segment.kind !== 'live') throw refuse('is-fixed');
    const rule =
      segment.inForceSince === null && segment.draftRule ? segment.draftRule : segment.rule;
    return segmentFile(
      { ...segment, pools: segment.poolIds.length === 0 ? [] : segment.pools, rule },
      await this.words(viewer, await this.rules.context(rule)),
    );
  }

  /** A segment with the rule as a draft: whoever took it in looks at it before it is used. */
  async read(raw: object, viewer: Viewer): Promise<{ id: SegmentId; version: number }> {
    const context = await this.rules.context(raw);
    const read = readSegmentFile(raw, await this.words(viewer, context), context);
    if (!read.ok) throw refuse('file-unread', read.error);
    const { name, description, labels, rule } = read.value;
    const pools = read.value.pools ?? [(await housePool(this.database.db)).id];
    const { id } = await this.segments.add({ name, description, pools: [...pools] }, viewer);
    const segment = await this.segments.own(id, viewer);
    const { version } = await this.segments.change(
      id,
      {
        version: segment.version,
        name,
        description,
        labels: [...labels],
        sharing: segment.sharing,
        sharedWith: [],
        draft: { rule, pools: [...pools] },
      },
      viewer,
    );
    return { id, version };
  }
}
