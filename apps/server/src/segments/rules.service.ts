// Rules: what they are read against, and whom they find, as conditions on `contacts c`.
import { Inject, Injectable, type OnApplicationBootstrap } from '@nestjs/common';
import type { PoolId } from '@palabra/core/contacts';
import { idOf, type Clock } from '@palabra/core/kernel';
import { dayIn, seesEverybody, type Role, type UserId, type Viewer } from '@palabra/core/office';
import {
  compile,
  compileRule,
  parseRule,
  readback,
  reader,
  seesSegment,
  segmentsIn,
  segmentsNamed,
  RULE_LIMITS,
  tooHeavy,
  unfinished,
  weightOf,
  type CampaignInRule,
  type Fragment,
  type Rule,
  type RuleContext,
  type SegmentId,
  type SegmentInRule,
} from '@palabra/core/segments';
import type { SQL } from 'drizzle-orm';
import { allFields, allOf, allTags, allTopics, nobody, seenBy } from '../contacts/index.js';
import { theOffice } from '../office/index.js';
import { Database, type Db } from '../platform/database.js';
import { notFound } from '../platform/refusals.js';
import { CLOCK } from '../platform/time.js';
import type { Asked } from './held.service.js';
import { inPools, listed } from './members.store.js';
import { bindRule, type Stretch } from './rule.store.js';
import { refuse } from './segments.refusals.js';
import { allSegments, rulesOf, type NamedSegment, type SegmentHead } from './segments.store.js';

/** Campaigns that went out, the latest first; with where their links lead only when that is wanted. */
type CampaignsSource = (db: Db, withLinks: boolean) => Promise<readonly CampaignInRule[]>;

/** What is asked of a segment as it is in force. */
export type InForce = Pick<
  NamedSegment,
  'id' | 'kind' | 'poolIds' | 'rule' | 'ownerId' | 'ownerRole' | 'inForceSince'
>;

export interface BoundSegment {
  readonly people: SQL;
  /** How many looks at each contact it takes. */
  readonly weight: number;
  /** Whether it can be used for a send as it stands. */
  readonly isFinished: boolean;
}

/** A member whose segment it is: it reaches only those whom they see. Who has no role any more sees nobody. */
export const reachOf = ({
  ownerId,
  ownerRole,
}: {
  readonly ownerId: UserId | null;
  readonly ownerRole: Role | null;
}): UserId | undefined =>
  ownerId === null || (ownerRole !== null && seesEverybody(ownerRole)) ? undefined : ownerId;

@Injectable()
export class RulesService implements OnApplicationBootstrap {
  private campaigns: CampaignsSource | undefined;

  constructor(
    private readonly database: Database,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  /** Whoever sends campaigns says at start which went out. */
  registerCampaigns(campaigns: CampaignsSource): void {
    this.campaigns = campaigns;
  }

  onApplicationBootstrap(): void {
    if (!this.campaigns) throw new Error('nobody says which campaigns went out');
  }

  /** What rules are read against; `asking` are those that are read, so that only what they need is looked up. */
  async context(...asking: readonly unknown[]): Promise<RuleContext> {
    const { db } = this.database;
    const office = await theOffice(db);
    const rules = await this.rulesBehind(asking);
    const withLinks = JSON.stringify([asking, ...rules.values()]).includes('"link"');
    return {
      fields: await allFields(db),
      tags: await allTags(db),
      topics: await allTopics(db),
      campaigns: (await this.campaigns?.(db, withLinks)) ?? [],
      segments: (await allSegments(db)).map((segment) => inRule(segment, rules)),
      today: dayIn(office.timeZone, this.clock.now()),
      timeZone: office.timeZone,
    };
  }

  /** The rules in force of the segments that are asked for, by rules or by the segments in these. */
  private async rulesBehind(asking: unknown): Promise<ReadonlyMap<number, Rule>> {
    const known = new Map<number, Rule>();
    // Those that are gone, too, so that none is looked for twice.
    const looked = new Set<number>();
    for (let names = segmentsNamed(asking); names.length > 0;) {
      const found = await rulesOf(this.database.db, names);
      for (const name of names) looked.add(name);
      for (const [id, rule] of found) known.set(id, rule);
      names = segmentsNamed([...found.values()]).filter((id) => !looked.has(id));
    }
    return known;
  }

  /** A rule in plain words, as it reads today. */
  async said(raw: Rule): Promise<string> {
    const context = await this.context(raw);
    const rule = parseRule(raw, context);
    return rule.ok
      ? readback(rule.value, context)
          .map(({ text }) => text)
          .join('')
      : rule.error;
  }

  async linksOf(campaign: number): Promise<readonly string[]> {
    const all = (await this.campaigns?.(this.database.db, true)) ?? [];
    const found = all.find(({ id }) => id === campaign);
    if (!found) throw notFound('campaign');
    return found.links;
  }

  /** A rule that somebody sent. Segments that they may not see are not there for them. */
  async readFor(raw: unknown, viewer: Viewer): Promise<{ rule: Rule; context: RuleContext }> {
    const context = await this.context(raw);
    const rule = this.read(raw, context);
    if (JSON.stringify(rule).length > RULE_LIMITS.size) throw refuse('rule-too-long');
    const heavy = tooHeavy(rule, context);
    if (heavy !== undefined) throw refuse('rule-unread', heavy);
    const named = segmentsIn(rule);
    if (named.length > 0) {
      const seen = (await allSegments(this.database.db)).filter((one) => seesSegment(viewer, one));
      if (named.some((id) => !seen.some((one) => one.id === id)))
        throw refuse('rule-unread', 'In the rule, one of its segments is gone. Choose another.');
    }
    return { rule, context };
  }

  read(raw: unknown, context: RuleContext): Rule {
    const parsed = parseRule(raw, context);
    if (!parsed.ok) throw refuse('rule-unread', parsed.error);
    return parsed.value;
  }

  /** A part of a rule within some pools. */
  condition(part: Fragment, pools: readonly number[], context: RuleContext, within?: Stretch): SQL {
    return allOf(inPools(pools), bindRule(part, context.timeZone, within));
  }

  /** The people of a segment as it is in force, deleted ones not yet left out. */
  async bind(segment: InForce): Promise<BoundSegment> {
    return this.bindIn(segment, await this.context(segment.rule));
  }

  /** With a stretch it is right for contacts within it only. */
  bindIn(segment: InForce, context: RuleContext, within?: Stretch): BoundSegment {
    const reach = reachOf(segment);
    const own = reach === undefined ? [] : [seenBy(reach)];
    if (segment.kind === 'fixed')
      return {
        // By hand, people of any pool are listed.
        people: allOf(listed(segment.id), ...own),
        weight: 1,
        isFinished: true,
      };
    const inner = withoutSelf(context, segment.id);
    const rule = parseRule(segment.rule, inner);
    // A tag or field that is gone makes the rule unreadable: nobody, rather than too many.
    if (!rule.ok) return { people: nobody, weight: 1, isFinished: false };
    return {
      people: allOf(
        this.condition(compileRule(rule.value, inner), segment.poolIds, inner, within),
        ...own,
      ),
      weight: 1 + weightOf(rule.value.root, inner),
      isFinished: unfinished(rule.value, inner).length === 0,
    };
  }

  /** The same, to be looked up once and kept. */
  asked(segment: InForce, context: RuleContext): Asked {
    return {
      bind: (within) => this.bindIn(segment, context, within).people,
      weight: this.bindIn(segment, context).weight,
    };
  }

  /** Who has nothing in a field; undefined when there is no such field. */
  async withoutField(key: string): Promise<{ label: string; where: SQL } | undefined> {
    const context = await this.context();
    const field = context.fields.find((one) => one.key === key);
    const rule = parseRule(
      { v: 1, root: { of: 'all', items: [{ kind: 'field', field: key, op: 'is empty' }] } },
      context,
    );
    return field && rule.ok
      ? {
          label: field.label,
          where: bindRule(compile(rule.value.root, context), context.timeZone),
        }
      : undefined;
  }
}

/** The same without one segment: a rule doesn't see the one it is of. */
export const withoutSelf = (context: RuleContext, id: SegmentId | undefined): RuleContext =>
  id === undefined
    ? context
    : { ...context, segments: context.segments.filter((one) => one.id !== id) };

function inRule(segment: SegmentHead, rules: ReadonlyMap<number, Rule>): SegmentInRule {
  const reach = reachOf(segment);
  const rule = rules.get(segment.id);
  // One that nobody said would be asked for must not be taken for a list.
  const read = rule
    ? reader(rule)
    : (): never => {
        throw new Error(`the rule of segment ${segment.id} was not loaded`);
      };
  return {
    id: segment.id,
    name: segment.name,
    kind: segment.kind,
    pools: segment.poolIds,
    ...(segment.kind === 'live' ? { read } : {}),
    ...(reach === undefined ? {} : { seenBy: reach }),
  };
}

export const poolIdsOf = (ids: readonly number[]): PoolId[] =>
  [...new Set(ids)].map((id) => idOf<PoolId>(id));
