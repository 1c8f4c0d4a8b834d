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
  compileRule,
  factsOf,
  finds,
  leavesOf,
  parseRule,
  seesSegment,
  Sifter,
  trace,
  weightOf,
} from '@palabra/core/segments';
import {
  allOf,
  byName,
  countHeld,
  firstPeople,
  lastKey,
  linesOf,
  living,
  type PeopleCursor,
  PeopleService,
  personRow,
  scope,
  sees,
  siftStretch,
} from '../contacts/index.js';
import { Database } from '../platform/database.js';
import { Foreground, Stride } from '../platform/stride.js';
import { loadPerson } from './facts.store.js';
import { inPools } from './members.store.js';
import { bindRule, type Stretch } from './rule.store.js';
import { reachOf, RulesService, withoutSelf } from './rules.service.js';
import { allSegments } from './segments.store.js';

const FIRST_PEOPLE = 8;
/** From so many looks at a contact on, they are taken once for the count and the first people together. */
const ONE_LOOK = 3;
/** A rule of so few is answered at once, and not a stretch of people at a time. */
const LIGHT = 16;
/** How many contact keys are looked at in one statement: at first so many that this many looks are taken. */
const STRETCH = { looks: 200_000, least: 500, most: 1_000_000 };

@Injectable()
export class SiftingService {
  constructor(
    private readonly database: Database,
    private readonly people: PeopleService,
    private readonly rules: RulesService,
    private readonly foreground: Foreground,
  ) {}

  /** Who a rule finds, and how many; a rule that asks for much is answered a stretch of people at a time. */
  async sift(request: SiftRequest, viewer: Viewer, signal: AbortSignal): Promise<SiftReply> {
    const { db } = this.database;
    const { rule, context } = await this.rules.readFor(request.rule, viewer);
    const whole = compileRule(rule, context);
    const seen = allOf(living, inPools(request.pools), scope(viewer));
    const weight = weightOf(rule.root, context);
    const [only, ...others] = request.pools;
    if (weight < ONE_LOOK && only !== undefined && others.length === 0) {
      const { lines, count } = await firstPeople(
        db,
        allOf(seen, bindRule(whole, context.timeZone)),
        FIRST_PEOPLE,
        idOf(only),
      );
      return { count, people: lines.map(personRow) };
    }
    let count = 0;
    let first: PeopleCursor[] = [];
    const look = async (within: Stretch | undefined): Promise<void> => {
      const found = await siftStretch(
        db,
        seen,
        bindRule(whole, context.timeZone, within),
        FIRST_PEOPLE,
        within,
      );
      count += found.count;
      first = [...first, ...found.first].sort(byName).slice(0, FIRST_PEOPLE);
    };
    if (weight <= LIGHT) await look(undefined);
    else await this.inStretches(weight, signal, look);
    const lines = await linesOf(
      db,
      first.map(({ id }) => id),
    );
    return { count, people: lines.map(personRow) };
  }

  /** Goes through all contacts, so many keys at a time that nobody waits long, until it is done or nobody waits for it any more. */
  private async inStretches(
    weight: number,
    signal: AbortSignal,
    work: (within: Stretch) => Promise<void>,
  ): Promise<void> {
    const last = await lastKey(this.database.db);
    const stride = new Stride(
      this.foreground,
      Math.round(STRETCH.looks / Math.max(weight, 1)),
      STRETCH.least,
      STRETCH.most,
    );
    await this.foreground.aside(async () => {
      for (let after = 0; after < last && !signal.aborted;) {
        after = await stride.step(async (size) => {
          await work({ after, upTo: after + size });
          return after + size;
        });
      }
    });
  }

  /** Everything beside a rule, in one look at each person. */
  async strain(request: SiftRequest, viewer: Viewer, signal: AbortSignal): Promise<StrainReply> {
    const { rule, context } = await this.rules.readFor(request.rule, viewer);
    const sifter = new Sifter(rule.root, context);
    const fragments = leavesOf(rule.root, context).map(({ condition }) =>
      compile(condition, context),
    );
    const people = allOf(living, inPools(request.pools), scope(viewer));
    await this.inStretches(weightOf(rule.root, context), signal, async (within) => {
      const bound = fragments.map((fragment) => bindRule(fragment, context.timeZone, within));
      sifter.add(await countHeld(this.database.db, people, bound, within));
    });
    return sifter.result();
  }

  async why(request: WhyRequest, viewer: Viewer): Promise<WhyReply> {
    const { rule, context } = await this.rules.readFor(request.rule, viewer);
    const row = await this.people.person(idOf(request.contact), viewer);
    const person = await loadPerson(this.database.db, row, factsOf(rule.root, context), context);
    return {
      holds: request.pools.includes(row.poolId) && finds(rule, person, context),
      trace: trace(rule.root, person, context),
    };
  }

  /** The segments that somebody is in, of those the asker sees. What their rules ask of a person is looked up once for all. */
  async ofPerson(id: ContactId, viewer: Viewer): Promise<Use[]> {
    const { db } = this.database;
    const row = await this.people.person(id, viewer);
    const context = await this.rules.context();
    const segments = (await allSegments(db)).filter((segment) => {
      const reach = reachOf(segment);
      return (
        seesSegment(viewer, segment) &&
        (segment.kind === 'fixed' || segment.poolIds.includes(row.poolId)) &&
        (reach === undefined || sees({ userId: reach, role: 'member' }, row))
      );
    });
    const live = segments.flatMap((segment) => {
      const inner = withoutSelf(context, segment.id);
      const rule = segment.kind === 'live' ? parseRule(segment.rule, inner) : undefined;
      return rule?.ok ? [{ id: segment.id, rule: rule.value, inner }] : [];
    });
    const facts = new Set([
      ...live.flatMap(({ rule, inner }) => [...factsOf(rule.root, inner)]),
      ...(segments.some(({ kind }) => kind === 'fixed') ? (['listedIn'] as const) : []),
    ]);
    const person = await loadPerson(db, row, facts, context);
    const found = new Set(
      live.filter(({ rule, inner }) => finds(rule, person, inner)).map((one) => one.id),
    );
    return segments
      .filter((one) => (one.kind === 'fixed' ? person.listedIn?.has(one.id) : found.has(one.id)))
      .map(({ id: key, name }) => ({ id: key, name }));
  }
}
