// Segments: what their rule says, whom it finds, and why.
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import type { Use } from '@palabra/contract/wire';
import type {
  NewSegmentRequest,
  SegmentRequest,
  SiftReply,
  SiftRequest,
  StrainReply,
  WhyReply,
  WhyRequest,
} from '@palabra/contract/segments';
import { oneLine, type ContactId, type PoolId } from '@palabra/core/contacts';
import { idOf, type Clock } from '@palabra/core/kernel';
import { dayIn, type Viewer } from '@palabra/core/office';
import {
  compile,
  compileRule,
  factsOf,
  finds,
  isActive,
  isGroup,
  parseRule,
  trace,
  unfinished,
  weightOf,
  type Condition,
  type Fragment,
  type Group,
  withoutTag,
  type Rule,
  type RuleContext,
  type RuleNode,
  type SegmentId,
} from '@palabra/core/segments';
import type { SQL } from 'drizzle-orm';
import {
  allFields,
  allOf,
  allPools,
  allTags,
  allTopics,
  byName,
  countEach,
  countParts,
  countPeople,
  FieldUses,
  TagUses,
  firstPeople,
  inPool,
  lastKey,
  linesOf,
  living,
  nobody,
  type PartCounts,
  type PeopleCursor,
  PeopleService,
  PeopleSets,
  personRow,
  scope,
  siftStretch,
  Things,
} from '../contacts/index.js';
import { theOffice } from '../office/index.js';
import { Database, type Db } from '../platform/database.js';
import { conflict, notFound } from '../platform/refusals.js';
import { Foreground, Stride } from '../platform/stride.js';
import { CLOCK } from '../platform/time.js';
import { rewriteTrees, writeTreeBack } from '../platform/trees.store.js';
import { loadPerson } from './facts.store.js';
import { bindRule, type Stretch } from './rule.store.js';
import * as store from './segments.store.js';
import { refuse } from './segments.refusals.js';

const FIRST_PEOPLE = 8;
/** A rule of so few looks at a contact is quick at once, and quicker by its indexes. */
const LIGHT = 4;
/** So few parts are counted sooner one by one than all of them in one look at everybody. */
const FEW = 2;
/** How many contact keys are looked at in one statement: at first so many that this many looks are taken. */
const STRETCH = { looks: 200_000, least: 500, most: 1_000_000 };

/** Parts of a rule to be counted among people, and which of them form the outermost “all of”. */
interface ToCount {
  readonly people: SQL;
  readonly fragments: readonly Fragment[];
  readonly chain: readonly number[];
  readonly timeZone: string;
}

type UsesOf = (db: Db, ids: readonly SegmentId[]) => Promise<ReadonlyMap<number, readonly Use[]>>;

@Injectable()
export class SegmentsService implements OnModuleInit {
  constructor(
    private readonly database: Database,
    private readonly people: PeopleService,
    private readonly sets: PeopleSets,
    private readonly things: Things,
    private readonly fieldUses: FieldUses,
    private readonly tagUses: TagUses,
    private readonly foreground: Foreground,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  onModuleInit(): void {
    this.things.register('segment', (tx, id, at) => store.setDeleted(tx, idOf(id), at));
    this.fieldUses.register('segment', (key) => store.segmentsAsking(this.database.db, key));
    this.fieldUses.register('view', (key, { userId }) =>
      store.viewsShowing(this.database.db, key, userId),
    );
    const now = (): Date => this.clock.now();
    this.tagUses.register('segment', {
      all: (db) => store.tagsOfSegments(db),
      without: (tx, tag, into) =>
        store.rewriteSegments(tx, (rule) => withoutTag(rule, tag, into), now()),
      back: (tx, rewritten) => writeTreeBack(tx, store.segmentTrees, rewritten, now()),
    });
    this.tagUses.register('view', {
      all: (db, { userId }) => store.tagsOfViews(db, userId),
      without: (tx, tag, into) =>
        rewriteTrees<Rule>(tx, store.viewTrees, (rule) => withoutTag(rule, tag, into), now()),
      back: (tx, rewritten) => writeTreeBack(tx, store.viewTrees, rewritten, now()),
    });
    // `segment.4`, what is left after its first parts (`segment.4.upto-2`), or one condition alone (`segment.4.only-1-0`).
    this.sets.register<SegmentId>('segment', 'of the office', async ({ id, part }) => {
      const segment = await store.segmentById(this.database.db, id);
      if (!segment || part === '')
        return (
          segment && {
            title: segment.name,
            among: (await this.bind(segment)).people,
          }
        );
      const context = await this.context();
      const rule = parseRule(segment.rule, context);
      const root = rule.ok ? nodeOf(rule.value.root, part) : undefined;
      return (
        root && {
          title: `sifted in part by “${segment.name}”`,
          // A part that asks nothing sifts nobody out, as the strainer beside it says.
          among: this.condition(compile(root, context), segment.poolId, context),
        }
      );
    });
  }

  async context(): Promise<RuleContext> {
    const { db } = this.database;
    const office = await theOffice(db);
    const tags = await allTags(db);
    return {
      fields: await allFields(db),
      tags,
      topics: await allTopics(db),
      today: dayIn(office.timeZone, this.clock.now()),
      timeZone: office.timeZone,
    };
  }

  /** The people of a segment as a condition on `contacts c`, deleted ones not yet left out, and whether it can be used for a send as it stands. */
  async bind(
    segment: Pick<store.Segment, 'poolId' | 'rule'>,
  ): Promise<{ people: SQL; isFinished: boolean }> {
    const context = await this.context();
    const rule = parseRule(segment.rule, context);
    // A tag or field that is gone makes the rule unreadable: nobody, rather than too many.
    if (!rule.ok) return { people: nobody, isFinished: false };
    return {
      people: this.condition(compileRule(rule.value, context), segment.poolId, context),
      isFinished: unfinished(rule.value, context).length === 0,
    };
  }

  private condition(part: Fragment, pool: PoolId, context: RuleContext): SQL {
    return allOf(inPool(pool), bindRule(part, context.timeZone));
  }

  readRule(raw: unknown, context: RuleContext): Rule {
    const parsed = parseRule(raw, context);
    if (!parsed.ok) throw refuse('rule-unread', parsed.error);
    return parsed.value;
  }

  /** Who a rule finds, and how many; a rule that asks for much is answered a stretch of people at a time. */
  async sift(request: SiftRequest, viewer: Viewer, signal: AbortSignal): Promise<SiftReply> {
    const { db } = this.database;
    const context = await this.context();
    const rule = this.readRule(request.rule, context);
    const { root } = rule;
    const whole = compileRule(rule, context);
    const seen = allOf(living, inPool(idOf(request.pool)), scope(viewer));
    const everybody = await countPeople(db, seen);
    if (weightOf(root) <= LIGHT) {
      const { lines, count } = await firstPeople(
        db,
        allOf(seen, bindRule(whole, context.timeZone)),
        FIRST_PEOPLE,
        idOf(request.pool),
      );
      return { count, everybody, people: lines.map(personRow) };
    }
    let count = 0;
    let first: PeopleCursor[] = [];
    await this.inStretches(weightOf(root), signal, async (within) => {
      const found = await siftStretch(
        db,
        allOf(seen, bindRule(whole, context.timeZone, within)),
        FIRST_PEOPLE,
        within,
      );
      count += found.count;
      first = [...first, ...found.first].sort(byName).slice(0, FIRST_PEOPLE);
    });
    return {
      count,
      everybody,
      people: (
        await linesOf(
          db,
          first.map(({ id }) => id),
        )
      ).map(personRow),
    };
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

  /** Counts behind each condition alone, and what is left after each part of an outermost “all of”. */
  async strain(request: SiftRequest, viewer: Viewer, signal: AbortSignal): Promise<StrainReply> {
    const context = await this.context();
    const { root } = this.readRule(request.rule, context);
    const parts = new Map<string, RuleNode>();
    for (const [path, condition] of conditionsIn(root))
      if (isActive(condition, context)) parts.set(path, condition);
    const paths = [...parts.keys()];
    const chain = root.of === 'all' ? root.items.map((_, at) => String(at)) : [];
    for (const path of chain) parts.set(path, root.items[Number(path)] ?? root);
    const places = [...parts.keys()];
    const people = allOf(living, inPool(idOf(request.pool)), scope(viewer));
    const toCount = {
      people,
      fragments: [...parts.values()].map((node) => compile(node, context)),
      chain: chain.map((path) => places.indexOf(path)),
      timeZone: context.timeZone,
    };
    const { alone, left } =
      toCount.fragments.length <= FEW
        ? await this.countAtOnce(toCount)
        : await this.countInStretches(toCount, weightOf(root), signal);
    return {
      alone: Object.fromEntries(paths.map((path) => [path, alone[places.indexOf(path)] ?? 0])),
      left,
    };
  }

  /** Few parts are counted each by its index. */
  private async countAtOnce({ people, fragments, chain, timeZone }: ToCount): Promise<PartCounts> {
    const bound = fragments.map((fragment) => bindRule(fragment, timeZone));
    // After the first part those are left that it holds for.
    const further = chain
      .slice(1)
      .map((_, at) =>
        allOf(people, ...chain.slice(0, at + 2).flatMap((part) => bound[part] ?? [])),
      );
    const counts = await countEach(this.database.db, [
      ...bound.map((part) => allOf(people, part)),
      ...further,
    ]);
    const alone = counts.slice(0, bound.length);
    return {
      alone,
      left: [...chain.slice(0, 1).map((part) => alone[part] ?? 0), ...counts.slice(bound.length)],
    };
  }

  /** Many are counted all together, in one look at each person. */
  private async countInStretches(
    { people, fragments, chain, timeZone }: ToCount,
    weight: number,
    signal: AbortSignal,
  ): Promise<PartCounts> {
    const alone = fragments.map(() => 0);
    const left = chain.map(() => 0);
    await this.inStretches(2 * weight, signal, async (within) => {
      const counted = await countParts(
        this.database.db,
        people,
        fragments.map((fragment) => bindRule(fragment, timeZone, within)),
        chain,
        within,
      );
      counted.alone.forEach((count, at) => (alone[at] = (alone[at] ?? 0) + count));
      counted.left.forEach((count, at) => (left[at] = (left[at] ?? 0) + count));
    });
    return { alone, left };
  }

  async why(request: WhyRequest, viewer: Viewer): Promise<WhyReply> {
    const context = await this.context();
    const rule = this.readRule(request.rule, context);
    const row = await this.people.person(idOf(request.contact), viewer);
    const person = await loadPerson(this.database.db, row, factsOf(rule.root), context);
    return {
      holds: row.poolId === request.pool && finds(rule, person, context),
      trace: trace(rule.root, person, context),
    };
  }

  /** The segments that somebody is in. What their rules ask of a person is looked up once for all. */
  async ofPerson(id: ContactId, viewer: Viewer): Promise<Use[]> {
    const { db } = this.database;
    const row = await this.people.person(id, viewer);
    const context = await this.context();
    const segments = (await store.allSegments(db)).flatMap(({ id: key, name, poolId, rule }) => {
      const read = parseRule(rule, context);
      return poolId === row.poolId && read.ok ? [{ id: key, name, rule: read.value }] : [];
    });
    const facts = new Set(segments.flatMap(({ rule }) => [...factsOf(rule.root)]));
    const person = await loadPerson(db, row, facts, context);
    return segments
      .filter(({ rule }) => finds(rule, person, context))
      .map(({ id: key, name }) => ({ id: key, name }));
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

  private uses: UsesOf | undefined;

  /** Whoever uses segments says at start which of them, and where. */
  registerUse(uses: UsesOf): void {
    this.uses = uses;
  }

  async usesOf(ids: readonly SegmentId[]): Promise<ReadonlyMap<number, readonly Use[]>> {
    if (!this.uses) throw new Error('nobody says what uses segments');
    return this.uses(this.database.db, ids);
  }

  async add(request: NewSegmentRequest): Promise<SegmentId> {
    const rule = this.readRule(request.rule, await this.context());
    await this.needPool(request.pool);
    return store.addSegment(this.database.db, {
      name: this.name(request.name),
      description: request.description ?? '',
      poolId: idOf<PoolId>(request.pool),
      rule,
      now: this.clock.now(),
    });
  }

  async change(
    id: SegmentId,
    request: SegmentRequest,
    viewer: Viewer,
  ): Promise<{ version: number }> {
    const rule = this.readRule(request.rule, await this.context());
    await this.needPool(request.pool);
    const values = {
      name: this.name(request.name),
      description: oneLine(request.description),
      poolId: idOf<PoolId>(request.pool),
      rule,
    };
    const changed = await this.database.transaction((tx) =>
      store.changeSegment(tx, id, request.version, values, viewer.userId, this.clock.now()),
    );
    if (changed) return { version: changed.version };
    const current = await store.segmentById(this.database.db, id);
    if (!current) throw notFound('segment');
    throw conflict('segment', {
      version: current.version,
      name: current.name,
      description: current.description,
      poolId: current.poolId,
      rule: current.rule,
    });
  }

  private name(text: string): string {
    const name = oneLine(text);
    if (name === '') throw refuse('no-name');
    return name;
  }

  private async needPool(id: number): Promise<void> {
    if (!(await allPools(this.database.db)).some((pool) => pool.id === id)) throw notFound('pool');
  }
}

/** Conditions by their path, such as `0.2`. */
function* conditionsIn(group: Group, path = ''): Generator<[string, Condition]> {
  for (const [at, item] of group.items.entries()) {
    const place = path === '' ? `${at}` : `${path}.${at}`;
    if (isGroup(item)) yield* conditionsIn(item, place);
    else yield [place, item];
  }
}

/** A part of a rule by its name in an address. */
function nodeOf(root: Group, part: string): Group | undefined {
  const upTo = /^upto-(\d{1,3})$/.exec(part)?.[1];
  if (upTo)
    return root.of === 'all' ? { of: 'all', items: root.items.slice(0, Number(upTo)) } : undefined;
  const path = /^only((?:-\d{1,3}){1,12})$/.exec(part)?.[1]?.slice(1).split('-').map(Number);
  let node: RuleNode | undefined = root;
  for (const at of path ?? []) node = node && isGroup(node) ? node.items[at] : undefined;
  return path && node ? { of: 'all', items: [node] } : undefined;
}
