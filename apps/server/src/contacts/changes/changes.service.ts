// Changes of many people, and taking changes back: in stretches, each with its part of the change set.
// The set's own row says how far it is, so that a change goes on after a crash.
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import type { DeedRequest, TaggingRequest } from '@palabra/contract/contacts';
import {
  deedWords,
  isBelonging,
  isForOwners,
  markedTag,
  movesOf,
  said,
  parseDeed,
  type Field,
  type FieldValue,
  type LoggedChange,
  type Move,
  type ChangeSetId,
  type ContactId,
  type TagId,
} from '@palabra/core/contacts';
import { idOf, type Clock } from '@palabra/core/kernel';
import { allowed, seesEverybody, type UserId, type Viewer } from '@palabra/core/office';
import { Database, type Db } from '../../platform/database.js';
import { Jobs } from '../../platform/jobs.js';
import { notFound } from '../../platform/refusals.js';
import { userById } from '../../platform/sign-in/sign-in.store.js';
import { Foreground, Stride } from '../../platform/stride.js';
import { CLOCK } from '../../platform/time.js';
import { refuse } from '../contacts.refusals.js';
import { FieldsService } from '../fields/fields.service.js';
import { PeopleSets } from '../people/people-sets.js';
import { allOf, count, notIn } from '../people/people.store.js';
import { isFree, lockContacts, lockDeleted, type LockedContact } from '../people/person.store.js';
import { Ties } from '../people/ties.js';
import { owned, owns, sees } from '../people/scope.store.js';
import { valueOf } from '../people/values.js';
import { PeopleWriter, type Edit } from '../people/writer.js';
import { VocabularyService } from '../vocabulary/vocabulary.service.js';
import { allPools, tagById } from '../vocabulary/vocabulary.store.js';
import * as changes from './changes.store.js';
import { mayStop } from './changes.view.js';
import { undoStanding } from '../standing/undo.js';
import { TagsService } from '../tags/tags.service.js';
import { tagGoesStretch } from '../tags/tags.store.js';
import { DeedWork } from './deeds.js';
import { Things } from './things.js';

const STRETCH = { first: 250, least: 250, most: 10_000 };
/** What is done within this time is answered with its end; longer work is asked about. */
const ANSWER_MS = 1500;

@Injectable()
export class ChangesService implements OnModuleInit {
  constructor(
    private readonly database: Database,
    private readonly sets: PeopleSets,
    private readonly jobs: Jobs,
    private readonly ties: Ties,
    private readonly writer: PeopleWriter,
    private readonly things: Things,
    private readonly deeds: DeedWork,
    private readonly fields: FieldsService,
    private readonly tags: TagsService,
    private readonly vocabulary: VocabularyService,
    private readonly foreground: Foreground,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  onModuleInit(): void {
    const { db } = this.database;
    this.jobs.register<ChangeSetId>('change', {
      run: (id, signal) => this.run(id, signal),
      unfinished: () => changes.unfinishedChangeSets(db),
      what: async (id) =>
        ((await changes.changeSetById(db, id))?.what ?? 'a change').replace(
          /^took back: /,
          'taking back: ',
        ),
      leave: async (id) => {
        await changes.finishChangeSet(db, id, this.clock.now());
      },
    });
  }

  /** A change set that the asker may know of. */
  async change(id: ChangeSetId, viewer: Viewer): Promise<changes.ChangeSet> {
    const set = await changes.changeSetById(this.database.db, id);
    if (!set || (set.userId !== viewer.userId && !seesEverybody(viewer.role)))
      throw notFound('change');
    return set;
  }

  /** Puts a tag on, or takes it off, everybody meant. */
  async tag(request: TaggingRequest, viewer: Viewer): Promise<changes.ChangeSet> {
    const { db } = this.database;
    const tag = await tagById(db, idOf(request.tag));
    if (!tag) throw notFound('tag');
    if (tag.kind === 'automatic') throw refuse('automatic-tag');
    const todo = { tag: tag.id, put: request.put, people: request.people };
    await this.sets.meant(todo.people, viewer); // a set of people that is gone is said now
    return this.begin(
      await changes.openChangeSet(db, {
        kind: 'tagging',
        userId: viewer.userId,
        at: this.clock.now(),
        what: `${request.put ? 'tagged' : 'untagged'} “${tag.name}”`,
        todo,
      }),
    );
  }

  /** Does something to everybody meant. */
  async doToMany(request: DeedRequest, viewer: Viewer): Promise<changes.ChangeSet> {
    const { db } = this.database;
    const context = { fields: await this.vocabulary.fields(), pools: await allPools(db) };
    const deed = parseDeed(request.deed, context);
    if (!deed.ok) throw refuse('no-such-deed', deed.error);
    if (deed.value.kind === 'pool' && !seesEverybody(viewer.role))
      throw refuse('not-yours-to-move');
    const { value } = deed;
    const isGiven = value.kind === 'field' && value.field === 'owner';
    // What people will be is judged as what they are: nobody gives away whom they would not see.
    if (isGiven && !seesEverybody(viewer.role) && value.value !== String(viewer.userId))
      throw refuse('not-yours-to-give');
    const meant = await this.sets.meant(request.people, viewer);
    return this.begin(
      await changes.openChangeSet(db, {
        kind: 'by hand',
        userId: viewer.userId,
        at: this.clock.now(),
        what: deedWords(value, context),
        leftAlone: isForOwners(value) ? await count(db, allOf(meant, notIn(owned(viewer)))) : 0,
        todo: { deed: value, people: request.people },
      }),
    );
  }

  /** Gives everybody of one colleague to another. */
  async handOver(from: UserId, to: UserId, viewer: Viewer): Promise<changes.ChangeSet> {
    const { db } = this.database;
    const [one, other] = [await userById(db, from), await userById(db, to)];
    if (!one || !other) throw notFound('account');
    if (from === to) throw refuse('same-owner');
    return this.begin(
      await changes.openChangeSet(db, {
        kind: 'by hand',
        userId: viewer.userId,
        at: this.clock.now(),
        what: `handed over from ${one.name} to ${other.name}`,
        todo: { from, to },
      }),
    );
  }

  /** Takes a change back. What was changed again since is left as it is, and counted. */
  async undo(id: ChangeSetId, viewer: Viewer): Promise<changes.ChangeSet> {
    return this.begin(await this.database.transaction((tx) => this.beginUndo(tx, id, viewer)));
  }

  /** Orders that a change be taken back, in the caller's transaction; `begin` does it. */
  async beginUndo(tx: Db, id: ChangeSetId, viewer: Viewer): Promise<ChangeSetId> {
    // Whoever asks for the same at the same moment waits, and is told that it was done.
    const set = await changes.lockChangeSet(tx, id);
    if (!set || (set.userId !== viewer.userId && !seesEverybody(viewer.role)))
      throw notFound('change');
    if (!set.undoable) throw refuse('stays-as-it-is');
    if (set.finishedAt === null) throw refuse('still-being-made');
    if (set.kind === 'deletion') {
      if (!(await changes.markUndone(tx, id, this.clock.now()))) throw refuse('taken-back-already');
      return this.things.undo(tx, set, viewer);
    }
    if (set.undoneAt !== null) throw refuse('taken-back-already');
    const { root, depth } = await this.rootOf(tx, set);
    const now = this.clock.now();
    const isOfOffice = root.todo && ('retyped' in root.todo || 'tagGone' in root.todo);
    if (isOfOffice && !allowed(viewer.role, 'settings')) throw notFound('change');
    if (root.todo && 'retyped' in root.todo) await this.fields.flip(tx, root.todo.retyped);
    if (root.todo && 'tagGone' in root.todo) await this.tags.flip(tx, root.id, root.todo, viewer);
    // What an undoing is taken back of holds again, and can be taken back once more.
    await changes.turn(tx, root.id, holdsAt(depth + 1) ? null : now, now);
    return changes.openChangeSet(tx, {
      kind: 'undo',
      userId: viewer.userId,
      at: now,
      what: `took back: ${set.what}`,
      undoes: id,
    });
  }

  /** Starts the work on an open change set, or goes on with it; answers with its end when that comes soon. */
  async begin(id: ChangeSetId): Promise<changes.ChangeSet> {
    const timer = new Promise((resolve) => setTimeout(resolve, ANSWER_MS).unref());
    await this.foreground.aside(() => Promise.race([this.jobs.runNow('change', id), timer]));
    return (
      (await changes.changeSetById(this.database.db, id)) ?? Promise.reject(notFound('change'))
    );
  }

  /** Ends a change of many where it is; what is done stays and can be taken back. */
  async cancel(id: ChangeSetId, viewer: Viewer): Promise<void> {
    const set = await this.change(id, viewer);
    if (!mayStop(set) || !(await changes.finishChangeSet(this.database.db, id, this.clock.now())))
      throw refuse('done-already');
  }

  private async run(id: ChangeSetId, signal: AbortSignal): Promise<void> {
    const set = await changes.changeSetById(this.database.db, id);
    if (!set || set.finishedAt !== null) return;
    const step = await this.stepOf(set);
    const stride = new Stride(this.foreground, STRETCH.first, STRETCH.least, STRETCH.most);
    while (
      !signal.aborted &&
      (await stride.step((size) =>
        this.database.transaction((tx) => this.oneStretch(tx, id, step, size)),
      ))
    );
  }

  /** One stretch and the cursor behind it. False when there is nothing more to do. */
  private async oneStretch(tx: Db, id: ChangeSetId, step: Step, size: number): Promise<boolean> {
    const current = await changes.lockChangeSet(tx, id);
    if (!current || current.finishedAt !== null) return false;
    const done = await step(tx, current, size);
    if (done) await changes.advance(tx, id, done);
    else await changes.finishChangeSet(tx, id, this.clock.now());
    return done !== undefined;
  }

  private async stepOf(set: changes.ChangeSet): Promise<Step> {
    const { db } = this.database;
    const { todo, undoes } = set;
    const user = set.userId === null ? undefined : await userById(db, set.userId);
    if (!user) return () => Promise.resolve(undefined);
    const viewer: Viewer = { userId: user.id, role: user.role };
    if (todo && 'from' in todo) {
      const fields = await this.vocabulary.fields();
      return (tx, { id, cursor }, size) =>
        this.handStretch(tx, id, todo, idOf(cursor), size, fields);
    }
    if (todo && 'tagGone' in todo)
      return (tx, { id, cursor }, size) => tagGoesStretch(tx, id, todo, idOf(cursor), size);
    if (todo && 'retyped' in todo) {
      const fields = await this.vocabulary.fields();
      return (tx, { id, cursor }, size) =>
        this.deeds.retypeStretch(tx, { set: id, after: idOf(cursor), size }, todo.retyped, fields);
    }
    if (todo && 'deed' in todo) {
      const fields = await this.vocabulary.fields();
      const meant = await this.sets.meant(todo.people, viewer);
      const work = {
        deed: todo.deed,
        meant: isForOwners(todo.deed) ? allOf(meant, owned(viewer)) : meant,
      };
      return (tx, { id, cursor }, size) =>
        this.deeds.stretch(tx, id, work, idOf(cursor), size, fields);
    }
    if (todo) {
      const chosen = await this.sets.meant(todo.people, viewer);
      return (tx, { id, cursor }, size) =>
        changes.tagStretch(tx, id, chosen, todo.tag, todo.put, idOf(cursor), size);
    }
    if (undoes === null) return () => Promise.resolve(undefined);
    const { root, depth } = await this.rootOf(db, set);
    const fields = await this.vocabulary.fields();
    const turning = { root: root.id, undoing: set.id, holds: holdsAt(depth) };
    return (tx, { cursor }, size) =>
      this.turnStretch(tx, { ...turning, after: idOf(cursor), size }, fields, viewer);
  }

  /** What was done at first, and how often it was taken back and made again since. */
  private async rootOf(
    db: Db,
    set: changes.ChangeSet,
  ): Promise<{ root: changes.ChangeSet; depth: number }> {
    let [root, depth] = [set, 0];
    while (root.undoes !== null) {
      const before = await changes.changeSetById(db, root.undoes);
      if (!before) throw notFound('change');
      [root, depth] = [before, depth + 1];
    }
    return { root, depth };
  }

  private async handStretch(
    tx: Db,
    set: ChangeSetId,
    { from, to }: { from: UserId; to: UserId },
    after: ContactId,
    size: number,
    fields: ReadonlyMap<string, Field>,
  ): Promise<changes.StretchDone | undefined> {
    const ids = await changes.ownedAfter(tx, from, after, size);
    const last = ids.at(-1);
    if (last === undefined) return undefined;
    const rows = await lockContacts(tx, ids);
    const writing = this.writer.goOn(tx, set, fields);
    await writing.change(
      rows
        .filter(({ ownerId }) => ownerId === from)
        .map((row) => ({ row, values: { owner: String(to) } })),
    );
    // The writer has counted them.
    return { changed: 0, leftAlone: 0, last };
  }

  /** Takes one stretch of people back, or makes it again: each becomes what the log says of them then. */
  private async turnStretch(
    tx: Db,
    { root, undoing, holds, after, size }: Turning,
    fields: ReadonlyMap<string, Field>,
    viewer: Viewer,
  ): Promise<changes.StretchDone | undefined> {
    const items = await changes.itemsAfter(tx, root, after, size, holds);
    const last = items.at(-1)?.contactId;
    if (last === undefined) return undefined;
    const ids = items.map(({ contactId }) => contactId);
    // Given to somebody else since: what they are now is not for this asker to change.
    const own = (rows: readonly LockedContact[]): Map<ContactId, LockedContact> =>
      new Map(rows.filter((row) => sees(viewer, row)).map((row) => [row.id, row]));
    const living = own(await lockContacts(tx, ids));
    const deleted = own(await lockDeleted(tx, ids));
    const log = await changes.logOf(tx, ids);
    // Who came in, or came back, stays where somebody has had to do with them since.
    const touched = holds
      ? new Set<ContactId>()
      : await changes.touchedSince(
          tx,
          root,
          items.filter(arrived).map(({ contactId }) => contactId),
          this.ties.holding,
        );
    const turned: ContactId[] = [];
    const gone: LockedContact[] = [];
    const back: { row: LockedContact; tags: TagId[] }[] = [];
    const edits: Edit[] = [];
    const standings: (() => Promise<void>)[] = [];
    const writing = this.writer.goOn(tx, undoing, fields);
    for (const item of items) {
      const row = living.get(item.contactId) ?? deleted.get(item.contactId);
      if (!row || touched.has(row.id)) continue;
      const own = { ...item, set: root, isUndone: holds };
      const moves = movesOf(own, log.get(row.id) ?? [own], holds);
      const goes = moves.find(({ key }) => key === 'deleted');
      const wasAway = deleted.has(row.id);
      const isAway = goes ? goes.to === true : wasAway;
      if (goes && isAway !== wasAway && !owns(viewer, row)) continue;
      if (isAway && !wasAway) gone.push(row);
      else if (!isAway && wasAway) {
        if (!(await isFree(tx, row, row.poolId))) continue;
        const others = log.get(row.id)?.filter(({ set }) => set !== root) ?? [];
        back.push({ row, tags: [...new Set([...tagsOf(moves, true), ...tagsSaid(others, item)])] });
      } else {
        const edit = await this.turnedEdit(tx, row, moves, fields, viewer);
        if (!edit) continue;
        // Whoever is in the bin has no tags there.
        edits.push(wasAway ? { ...edit, put: [] } : edit);
        if ('do_not_mail' in item.after)
          standings.push(() => undoStanding(tx, writing, row, asTurned(item, holds), viewer));
      }
      turned.push(row.id);
    }
    await writing.remove(gone);
    await writing.bringBack(back);
    await writing.change(edits, 'again');
    for (const stand of standings) await stand();
    await changes.markItems(tx, root, turned, !holds);
    // The writer has counted them.
    return { changed: 0, leftAlone: items.length - writing.changed, last };
  }

  /** What one person becomes, as far as nobody changed them past the log; undefined when they can't be that. */
  private async turnedEdit(
    tx: Db,
    row: LockedContact,
    moves: readonly Move[],
    fields: ReadonlyMap<string, Field>,
    viewer: Viewer,
  ): Promise<Edit | undefined> {
    const values = Object.fromEntries(
      moves.flatMap(({ key, from, to }) =>
        key !== 'deleted' && markedTag(key) === undefined && valueOf(row, key) === from
          ? [[key, to as FieldValue]]
          : [],
      ),
    );
    const columns = this.writer.compare(row, values, fields)?.columns;
    const isOfOwners = Object.keys(values).some(isBelonging);
    // Nobody gives people to an owner whose people they don’t own, nor people who are not theirs any more.
    if (isOfOwners && !(owns(viewer, row) && owns(viewer, { ...row, ...columns })))
      return undefined;
    // What is nobody else's is looked up only where it changes.
    if (
      columns &&
      claiming.some((column) => Object.hasOwn(columns, column)) &&
      !(await isFree(tx, { ...row, ...columns }, columns.poolId ?? row.poolId))
    )
      return undefined;
    return { row, values, put: tagsOf(moves, true), take: tagsOf(moves, false) };
  }
}

interface Turning {
  readonly root: ChangeSetId;
  readonly undoing: ChangeSetId;
  /** Whether what was done at first holds again. */
  readonly holds: boolean;
  readonly after: ContactId;
  readonly size: number;
}

/** Taken back once it does not hold, taken back twice it holds again. */
const holdsAt = (depth: number): boolean => depth % 2 === 0;

const arrived = ({ before }: changes.ChangeItem): boolean =>
  before === null || before['deleted'] === true;

/** What is taken back the other way round, where it is made again. */
const asTurned = (item: changes.ChangeItem, holds: boolean): changes.ChangeItem =>
  holds ? { ...item, before: item.after, after: item.before ?? {} } : item;

/** Columns of which a value is one person's of a pool. */
const claiming = ['poolId', 'addressKey', 'moreKeys', 'externalNumber'] as const;

/** The tags that somebody gets, or loses. */
const tagsOf = (moves: readonly Move[], has: boolean): TagId[] =>
  moves.flatMap(({ key, to }) => {
    const tag = markedTag(key);
    return tag !== undefined && (to === true) === has ? [tag] : [];
  });

/** The tags that the log says somebody has, beside those that a change speaks of itself. */
const tagsSaid = (log: readonly LoggedChange[], { after }: changes.ChangeItem): TagId[] =>
  [...new Set(log.flatMap((one) => Object.keys(one.after)))].flatMap((key) => {
    const tag = markedTag(key);
    return tag !== undefined && !Object.hasOwn(after, key) && said(log, key) === true ? [tag] : [];
  });

type Step = (
  tx: Db,
  set: changes.ChangeSet,
  size: number,
) => Promise<changes.StretchDone | undefined>;
