// The office's tags: named, told apart, brought together, taken away. What takes one away can be taken back.
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import type {
  TagChangeRequest,
  TagCourse,
  TagRequest,
  TagsReply,
  TellApartRequest,
} from '@palabra/contract/contacts';
import {
  alikeTags,
  automaticTag,
  automaticTags,
  tagKey,
  oneLine,
  type AlikeTags,
  type ChangeSetId,
  type TagId,
} from '@palabra/core/contacts';
import { idOf, type Clock } from '@palabra/core/kernel';
import { dayIn, seesEverybody, type Viewer } from '@palabra/core/office';
import { theOffice } from '../../office/index.js';
import { Database, type Db } from '../../platform/database.js';
import { conflict, notFound } from '../../platform/refusals.js';
import { Foreground } from '../../platform/stride.js';
import { CLOCK } from '../../platform/time.js';
import { Upkeep } from '../../platform/upkeep.js';
import { lastChange, openChangeSet } from '../changes/changes.store.js';
import type { TagGone } from '../changes/changes.table.js';
import { refuse } from '../contacts.refusals.js';
import { scope } from '../people/scope.store.js';
import { addTag, allTags, tagByName, type Tag } from '../vocabulary/vocabulary.store.js';
import * as store from './tags.store.js';
import { TagUses } from './uses.js';

/** As long as a change can be taken back. */
const BIN_DAYS = 30;
const DAY = 86_400_000;
const MONTHS = 13;
const HAPPENINGS_AT_ONCE = 10_000;

@Injectable()
export class TagsService implements OnModuleInit {
  /** By who asks; 0 for whoever sees everybody. */
  private readonly read = new Map<
    number,
    { readonly state: string; readonly courses: Promise<TagCourse[]> }
  >();

  constructor(
    private readonly database: Database,
    private readonly uses: TagUses,
    private readonly upkeep: Upkeep,
    private readonly foreground: Foreground,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  onModuleInit(): void {
    this.upkeep.register(async () => {
      const before = new Date(this.clock.now().getTime() - BIN_DAYS * DAY);
      await this.database.transaction((tx) => store.purgeTags(tx, before));
      return false;
    });
  }

  async list(viewer: Viewer): Promise<TagsReply> {
    const { db } = this.database;
    const tags = await allTags(db);
    const counts = await store.tagCounts(db, this.among(viewer));
    const uses = await this.uses.all(db, viewer);
    const apart = await store.toldApart(db);
    return {
      tags: tags.map(({ id, name, colour, kind, purpose, version }) => ({
        ...{ id, name, colour, kind, purpose, version },
        people: kind === 'automatic' ? null : (counts.get(id) ?? 0),
        uses: uses.get(id) ?? [],
      })),
      alike: alikeTags(tags.filter(({ kind }) => kind === 'office')).filter(
        ({ one, other }) => !apart.has(`${one} ${other}`),
      ),
    };
  }

  /** How the number of people with each tag went over a year; read once for all who ask until somebody is changed. */
  async courses(viewer: Viewer): Promise<TagCourse[]> {
    const who = seesEverybody(viewer.role) ? 0 : viewer.userId;
    const state = `${await lastChange(this.database.db)} ${dayIn('UTC', this.clock.now())}`;
    const known = this.read.get(who);
    if (known?.state === state) return known.courses;
    const courses = this.readCourses(viewer);
    this.read.set(who, { state, courses });
    courses.catch(() => this.read.delete(who));
    return courses;
  }

  private async readCourses(viewer: Viewer): Promise<TagCourse[]> {
    const { db } = this.database;
    const { timeZone } = await theOffice(db);
    const counts = await store.tagCounts(db, this.among(viewer));
    const months = monthsUntil(dayIn(timeZone, this.clock.now()));
    const happened = new Map<number, store.TagMonth[]>();
    for (let cursor: store.HappeningCursor | undefined = store.fromTheBeginning; cursor;) {
      const from: store.HappeningCursor = cursor;
      const { months: some, last } = await this.foreground.aside(() =>
        store.tagMonthsAfter(db, timeZone, from, HAPPENINGS_AT_ONCE, this.among(viewer)),
      );
      for (const one of some) happened.set(one.tag, [...(happened.get(one.tag) ?? []), one]);
      cursor = last;
    }
    const own = (await allTags(db)).filter(({ kind }) => kind === 'office');
    return own.map(({ id }) => {
      const past = happened.get(id) ?? [];
      const last = past.flatMap(({ last_put_on }) => last_put_on?.getTime() ?? []);
      // From what it is now, backwards by what was put on and taken off later.
      const at = (month: string): number =>
        past.reduce(
          (count, one) => (one.month > month ? count - one.net : count),
          counts.get(id) ?? 0,
        );
      return {
        tag: id,
        months: months.map((month) => Math.max(0, at(month))),
        lastPutOn: last.length > 0 ? new Date(Math.max(...last)).toISOString() : null,
      };
    });
  }

  private among(viewer: Viewer) {
    return seesEverybody(viewer.role) ? undefined : scope(viewer);
  }

  async add(request: TagRequest): Promise<Tag> {
    const { db } = this.database;
    const name = oneLine(request.name);
    const purpose = oneLine(request.purpose ?? '');
    const standing = automaticTags.find((one) => tagKey(one.name) === tagKey(name));
    if (standing) this.refuseSame(name, standing);
    const tag = await addTag(db, { name, colour: request.colour, purpose }, this.clock.now());
    return tag ?? this.refuseSame(name, await tagByName(db, name));
  }

  async change(id: TagId, request: TagChangeRequest): Promise<Tag> {
    return this.database.transaction(async (tx) => {
      const [tag] = await this.locked(tx, [id]);
      if (!tag) throw notFound('tag');
      const { name, colour, purpose, version } = tag;
      if (version !== request.version) throw conflict('tag', { version, name, colour, purpose });
      const next = {
        name: oneLine(request.name),
        colour: request.colour,
        purpose: oneLine(request.purpose ?? purpose),
      };
      const other =
        automaticTags.find((one) => tagKey(one.name) === tagKey(next.name)) ??
        (await store.sameNamed(tx, next.name, id));
      if (other) this.refuseSame(next.name, other);
      await store.changeTag(tx, id, next);
      return { ...tag, ...next, version: version + 1 };
    });
  }

  async tellApart({ one, other, areTwo }: TellApartRequest): Promise<void> {
    const pair = [one, other].map((id) => idOf<TagId>(id)).sort((a, b) => a - b);
    await this.database.transaction(async (tx) => {
      const [first, second] = await this.locked(tx, pair);
      if (!first || !second) throw notFound('tag');
      const alike: AlikeTags = { one: first.id, other: second.id };
      await store.tellApart(tx, alike, areTwo);
    });
  }

  /** A tag goes, off everybody or into another one, and out of what names it. Says which change it is; the people follow. */
  async goes(id: TagId, into: TagId | undefined, viewer: Viewer): Promise<ChangeSetId> {
    if (id === into) throw refuse('same-tag');
    return this.database.transaction(async (tx) => {
      const tags = await this.locked(tx, into === undefined ? [id] : [id, into]);
      const tag = tags.find((one) => one.id === id);
      const other = tags.find((one) => one.id === into);
      if (!tag || (into !== undefined && !other)) throw notFound('tag');
      const gone: TagGone = { tagGone: id, into: into ?? null };
      const set = await openChangeSet(tx, {
        kind: 'tagging',
        userId: viewer.userId,
        at: this.clock.now(),
        what: other
          ? `merged the tag “${tag.name}” into “${other.name}”`
          : `deleted the tag “${tag.name}”`,
        todo: gone,
      });
      await this.takeAway(tx, set, gone, viewer);
      return set;
    });
  }

  /** What took a tag away is taken back, or done again; the people follow. */
  async flip(tx: Db, set: ChangeSetId, gone: TagGone, viewer: Viewer): Promise<void> {
    const tags = await store.lockTags(tx, [
      gone.tagGone,
      ...(gone.into === null ? [] : [gone.into]),
    ]);
    const tag = tags.find(({ id }) => id === gone.tagGone);
    if (!tag) throw notFound('tag');
    if (!tag.deletedAt) return this.takeAway(tx, set, gone, viewer);
    const other = await store.sameNamed(tx, tag.name, tag.id);
    if (other) this.refuseSame(tag.name, other);
    await store.setTagDeleted(tx, tag.id, null);
    for (const one of await store.rewrittenBy(tx, set)) await this.uses.back(tx, one);
  }

  private async takeAway(
    tx: Db,
    set: ChangeSetId,
    { tagGone, into }: TagGone,
    viewer: Viewer,
  ): Promise<void> {
    const waiting = (await this.uses.all(tx, viewer)).get(tagGone)?.find(({ waits }) => waits);
    if (waiting) throw refuse('tag-is-waited-for', waiting.name).with({ campaign: waiting.id });
    await store.setTagDeleted(tx, tagGone, this.clock.now());
    await store.keepRewritten(tx, set, await this.uses.without(tx, tagGone, into ?? undefined));
  }

  /** Of the office's and there, in the order of their keys. */
  private async locked(tx: Db, ids: readonly TagId[]): Promise<Tag[]> {
    if (ids.some((id) => automaticTag(id) !== undefined)) throw refuse('automatic-tag');
    return (await store.lockTags(tx, ids)).filter(({ deletedAt }) => !deletedAt);
  }

  private refuseSame(name: string, known: Pick<Tag, 'id' | 'name'> | undefined): never {
    const standing = known?.name ?? name;
    throw refuse('tag-exists', standing)
      .about('name', `There is a tag “${standing}” already.`)
      .with({ tag: known?.id });
  }
}

/** The last months up to a day, `YYYY-MM`, this one last. */
function monthsUntil(day: string): string[] {
  const [year = 0, month = 1] = day.split('-').map(Number);
  return Array.from({ length: MONTHS }, (_, at) => {
    const back = year * 12 + (month - 1) - (MONTHS - 1 - at);
    return `${Math.floor(back / 12)}-${String((back % 12) + 1).padStart(2, '0')}`;
  });
}
