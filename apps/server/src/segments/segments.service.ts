// Segments: what their rule says, whom it finds, and why.
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import type { NewSegmentRequest, SegmentRequest, SiftReply, SiftRequest, StrainReply, WhyReply, WhyRequest } from '@palabra/contract/segments';
import { oneLine, type FieldValue } from '@palabra/core/contacts';
import type { Clock } from '@palabra/core/kernel';
import { dayIn, type Viewer } from '@palabra/core/office';
import { compile, finished, holds, isGroup, parseRule, trace, unfinished, type Group, type Person, type Rule, type RuleContext, type RuleNode } from '@palabra/core/segments';
import type { SQL } from 'drizzle-orm';
import { ContactsService, PeopleSets, contactStore, peopleStore, personRow, valueOf, vocabularyStore, type ContactRow } from '../contacts/index.js';
import { theOffice } from '../office/index.js';
import { Database } from '../platform/database.js';
import { conflict, notFound, Problem } from '../platform/problem.js';
import { CLOCK } from '../platform/time.js';
import { bindRule } from './rule.store.js';
import * as store from './segments.store.js';

const FIRST_PEOPLE = 8;

@Injectable()
export class SegmentsService implements OnModuleInit {
  constructor(
    private readonly database: Database,
    private readonly contacts: ContactsService,
    private readonly sets: PeopleSets,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  onModuleInit(): void {
    // `segment.4`, what is left after its first parts (`segment.4.upto-2`), or one condition alone (`segment.4.only-1-0`).
    this.sets.register('segment', async ({ id, part }) => {
      const segment = await store.segmentById(this.database.db, id);
      if (!segment || part === '') return segment && { title: segment.name, among: (await this.bind(segment)).people };
      const root = nodeOf(segment.rule.root, part);
      return root && { title: `sifted in part by “${segment.name}”`, among: (await this.bind({ ...segment, rule: { v: 1, root } })).people };
    });
  }

  async context(): Promise<RuleContext> {
    const { db } = this.database;
    const office = await theOffice(db);
    const tags = await vocabularyStore.allTags(db);
    return { fields: await vocabularyStore.allFields(db), tags, today: dayIn(office.timeZone, this.clock.now()), timeZone: office.timeZone };
  }

  /** The people of a segment as a condition on `contacts c`, deleted ones not yet left out, and whether it can be used for a send as it stands. */
  async bind(segment: Pick<store.Segment, 'poolId' | 'rule'>): Promise<{ people: SQL; isFinished: boolean }> {
    const context = await this.context();
    const rule = parseRule(segment.rule, context);
    // A tag or field that is gone makes the rule unreadable: nobody, rather than too many.
    if (!rule.ok) return { people: peopleStore.nobody, isFinished: false };
    return { people: this.condition(rule.value.root, segment.poolId, context), isFinished: unfinished(rule.value, context).length === 0 };
  }

  private condition(node: RuleNode, pool: number, context: RuleContext): SQL {
    return peopleStore.allOf(peopleStore.inPool(pool), bindRule(compile(node, context), context.timeZone));
  }

  private readRule(raw: unknown, context: RuleContext): Rule {
    const parsed = parseRule(raw, context);
    if (!parsed.ok) throw new Problem(422, parsed.error, { errors: [{ path: 'rule', message: parsed.error }] });
    return parsed.value;
  }

  async sift(request: SiftRequest, viewer: Viewer): Promise<SiftReply> {
    const { db } = this.database;
    const context = await this.context();
    const rule = this.readRule(request.rule, context);
    const people = peopleStore.allOf(peopleStore.living, this.condition(rule.root, request.pool, context));
    const seen = await peopleStore.firstPage(db, peopleStore.allOf(people, peopleStore.scope(viewer)), FIRST_PEOPLE, request.pool);
    const count = viewer.role === 'member' ? await peopleStore.count(db, people) : seen.count;
    return {
      count,
      colleagues: count - seen.count,
      everybody: await peopleStore.countLiving(db, peopleStore.inPool(request.pool)),
      people: seen.lines.map(personRow),
    };
  }

  /** Counts behind each condition alone, and what is left after each part of an outermost “all of”. */
  async strain(request: SiftRequest): Promise<StrainReply> {
    const { db } = this.database;
    const context = await this.context();
    const rule = this.readRule(request.rule, context);
    const count = (node: RuleNode): Promise<number> => peopleStore.countLiving(db, this.condition(node, request.pool, context));
    const alone: Record<string, number> = {};
    const walk = async (node: RuleNode, path: string): Promise<void> => {
      if (!isGroup(node)) {
        if (finished(node, context)) alone[path] = await count(node);
        return;
      }
      for (const [at, item] of node.items.entries()) await walk(item, path === '' ? `${at}` : `${path}.${at}`);
    };
    await walk(rule.root, '');
    const left: number[] = [];
    if (rule.root.of === 'all') {
      for (let upTo = 1; upTo <= rule.root.items.length; upTo++) left.push(await count({ of: 'all', items: rule.root.items.slice(0, upTo) }));
    }
    return { alone, left };
  }

  async why(request: WhyRequest, viewer: Viewer): Promise<WhyReply> {
    const context = await this.context();
    const rule = this.readRule(request.rule, context);
    const row = await this.contacts.person(request.contact, viewer);
    const person = toPerson(row, await contactStore.contactTagIds(this.database.db, row.id), context);
    return { holds: row.poolId === request.pool && holds(rule.root, person, context), trace: trace(rule.root, person, context) };
  }

  async add(request: NewSegmentRequest): Promise<number> {
    const rule = this.readRule(request.rule, await this.context());
    await this.needPool(request.pool);
    return store.addSegment(this.database.db, { name: this.name(request.name), poolId: request.pool, rule, now: this.clock.now() });
  }

  async change(id: number, request: SegmentRequest, viewer: Viewer): Promise<{ version: number }> {
    const rule = this.readRule(request.rule, await this.context());
    await this.needPool(request.pool);
    const values = { name: this.name(request.name), description: oneLine(request.description), poolId: request.pool, rule };
    const changed = await this.database.transaction((tx) => store.changeSegment(tx, id, request.version, values, viewer.userId, this.clock.now()));
    if (changed) return { version: changed.version };
    const current = await store.segmentById(this.database.db, id);
    if (!current) throw notFound('segment');
    throw conflict('segment', { version: current.version, name: current.name, description: current.description, poolId: current.poolId, rule: current.rule });
  }

  private name(text: string): string {
    const name = oneLine(text);
    if (name === '') throw new Problem(422, 'A segment needs a name.', { errors: [{ path: 'name', message: 'A segment needs a name.' }] });
    return name;
  }

  private async needPool(id: number): Promise<void> {
    if (!(await vocabularyStore.allPools(this.database.db)).some((pool) => pool.id === id)) throw notFound('pool');
  }
}

/** A part of a rule by its name in an address. */
function nodeOf(root: Group, part: string): Group | undefined {
  const upTo = /^upto-(\d{1,3})$/.exec(part)?.[1];
  if (upTo) return root.of === 'all' ? { of: 'all', items: root.items.slice(0, Number(upTo)) } : undefined;
  const path = /^only((?:-\d{1,3}){1,12})$/.exec(part)?.[1]?.slice(1).split('-').map(Number);
  let node: RuleNode | undefined = root;
  for (const at of path ?? []) node = node && isGroup(node) ? node.items[at] : undefined;
  return path && node ? { of: 'all', items: [node] } : undefined;
}

/** A loaded contact as a rule sees it; the address by its key, the arrival as a day of the office. */
export function toPerson(row: ContactRow, tags: readonly number[], context: RuleContext): Person {
  const values: Record<string, FieldValue> = {};
  for (const { key } of context.fields) values[key] = key === 'came_in' ? dayIn(context.timeZone, row.createdAt) : key === 'address' ? row.addressKey : valueOf(row, key);
  return { values, tags: new Set(tags) };
}
