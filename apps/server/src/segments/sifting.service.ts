// Whom a rule finds as it stands on the screen: how many and the first of them, where the others went, and why.
import { Injectable } from '@nestjs/common';
import type {
  SiftReply,
  SiftRequest,
  StrainReply,
  WhyReply,
  WhyRequest,
} from '@palabra/contract/segments';
import type { Use } from '@palabra/contract/wire';
import type { ContactId } from '@palabra/core/contacts';
import { idOf } from '@palabra/core/kernel';
import type { Viewer } from '@palabra/core/office';
import {
  compile,
  factsOf,
  finds,
  found,
  isOfPools,
  KeySet,
  leavesOf,
  parseRule,
  queryOf,
  seesSegment,
  sift,
  trace,
  weightOf,
} from '@palabra/core/segments';
import {
  allOf,
  living,
  PeopleService,
  personRow,
  scope,
  sees,
  weighedPage,
} from '../contacts/index.js';
import { Database } from '../platform/database.js';
import { loadPerson } from './facts.store.js';
import { HeldService, type Asked } from './held.service.js';
import { inSet } from './held.store.js';
import { inPools } from './members.store.js';
import { bindQuery, bindRule } from './rule.store.js';
import { reachOf, RulesService, withoutSelf } from './rules.service.js';
import { allSegments, rulesOf } from './segments.store.js';

const FIRST_PEOPLE = 8;

@Injectable()
export class SiftingService {
  constructor(
    private readonly database: Database,
    private readonly people: PeopleService,
    private readonly rules: RulesService,
    private readonly held: HeldService,
  ) {}

  /** Who a rule finds, and how many. */
  async sift(request: SiftRequest, viewer: Viewer, signal: AbortSignal): Promise<SiftReply> {
    const sieve = await this.sieve(request, viewer, signal);
    const keys = found(...sieve);
    const lines = await weighedPage(
      this.database.db,
      allOf(living, inPools(request.pools), inSet(keys)),
      FIRST_PEOPLE,
    );
    return { count: keys.size, people: lines.map(personRow) };
  }

  /** Everything beside a rule. */
  async strain(request: SiftRequest, viewer: Viewer, signal: AbortSignal): Promise<StrainReply> {
    return sift(...(await this.sieve(request, viewer, signal)));
  }

  /** A rule with those for whom each of its conditions holds, and whom it may find. */
  private async sieve(
    request: SiftRequest,
    viewer: Viewer,
    signal: AbortSignal,
  ): Promise<Parameters<typeof sift>> {
    const { rule, context } = await this.rules.readFor(request.rule, viewer);
    const seen = allOf(living, inPools(request.pools), scope(viewer));
    const conditions = leavesOf(rule.root, context).map(({ condition }): Asked => {
      const fragment = compile(condition, context);
      const asked = queryOf(fragment);
      return {
        bind: (within) => bindRule(fragment, context.timeZone, within),
        query: asked && { sql: bindQuery(asked.query, context.timeZone), isNot: asked.isNot },
        weight: weightOf(condition, context),
      };
    });
    const [people = KeySet.empty, ...held] =
      (await this.held.of([{ bind: () => seen, weight: 1 }, ...conditions], signal)) ?? [];
    return [rule.root, held, people, context];
  }

  async why(request: WhyRequest, viewer: Viewer): Promise<WhyReply> {
    const { rule, context } = await this.rules.readFor(request.rule, viewer);
    const row = await this.people.person(idOf(request.contact), viewer);
    const person = await loadPerson(this.database.db, row, factsOf(rule.root, context), context);
    return {
      holds: isOfPools(row.poolId, request.pools) && finds(rule, person, context),
      trace: trace(rule.root, person, context),
    };
  }

  /** The segments that somebody is in, of those the asker sees. What their rules ask of a person is looked up once for all. */
  async ofPerson(id: ContactId, viewer: Viewer): Promise<Use[]> {
    const { db } = this.database;
    const row = await this.people.person(id, viewer);
    const segments = (await allSegments(db)).filter((segment) => {
      const reach = reachOf(segment);
      return (
        seesSegment(viewer, segment) &&
        (segment.kind === 'fixed' || isOfPools(row.poolId, segment.poolIds)) &&
        (reach === undefined || sees({ userId: reach, role: 'member' }, row))
      );
    });
    const rules = await rulesOf(
      db,
      segments.flatMap(({ id: key, kind }) => (kind === 'live' ? [key] : [])),
    );
    const context = await this.rules.context(...rules.values());
    const live = segments.flatMap((segment) => {
      const inner = withoutSelf(context, segment.id);
      const raw = rules.get(segment.id);
      const rule = raw && parseRule(raw, inner);
      return rule?.ok ? [{ id: segment.id, rule: rule.value, inner }] : [];
    });
    const facts = new Set([
      ...live.flatMap(({ rule, inner }) => [...factsOf(rule.root, inner)]),
      ...(segments.some(({ kind }) => kind === 'fixed') ? (['listedIn'] as const) : []),
    ]);
    const person = await loadPerson(db, row, facts, context);
    const inThese = new Set(
      live.filter(({ rule, inner }) => finds(rule, person, inner)).map((one) => one.id),
    );
    return segments
      .filter((one) => (one.kind === 'fixed' ? person.listedIn?.has(one.id) : inThese.has(one.id)))
      .map(({ id: key, name }) => ({ id: key, name }));
  }
}
