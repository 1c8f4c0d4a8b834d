// Changes of many people, and taking changes back: in stretches, each with its part of the change set.
// The set's own row says how far it is, so that a change goes on after a crash.
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import type { TaggingRequest } from '@palabra/contract/contacts';
import type { Field, FieldValue } from '@palabra/core/contacts';
import type { Clock } from '@palabra/core/kernel';
import { seesEverybody, type UserId, type Viewer } from '@palabra/core/office';
import type { SQL } from 'drizzle-orm';
import { Database, type Db } from '../platform/database.js';
import { Jobs } from '../platform/jobs.js';
import { Keys } from '../platform/keys.js';
import { notFound, Problem } from '../platform/problem.js';
import { userById } from '../platform/sign-in/sign-in.store.js';
import { Foreground, Stride } from '../platform/stride.js';
import { CLOCK } from '../platform/time.js';
import * as changes from './changes.store.js';
import * as store from './contacts.store.js';
import type { ChangeTodo } from './contacts.table.js';
import { recountBounces } from './facts.store.js';
import { PeopleSets } from './people-sets.js';
import * as people from './people.store.js';
import { valueOf, write, type ContactRow } from './values.js';
import * as vocabulary from './vocabulary.store.js';

const STRETCH = { first: 250, least: 250, most: 10_000 };
/** What is done within this time is answered with its end; longer work is asked about. */
const ANSWER_MS = 1500;

@Injectable()
export class ChangesService implements OnModuleInit {
  constructor(
    private readonly database: Database,
    private readonly sets: PeopleSets,
    private readonly jobs: Jobs,
    private readonly keys: Keys,
    private readonly foreground: Foreground,
    @Inject(CLOCK) private readonly clock: Clock,
  ) {}

  onModuleInit(): void {
    const { db } = this.database;
    this.jobs.register({
      name: 'change',
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
  async change(id: number, viewer: Viewer): Promise<changes.ChangeSet> {
    const set = await changes.changeSetById(this.database.db, id);
    if (!set || (set.userId !== viewer.userId && !seesEverybody(viewer.role)))
      throw notFound('change');
    return set;
  }

  /** Puts a tag on, or takes it off, everybody meant. */
  async tag(request: TaggingRequest, viewer: Viewer): Promise<changes.ChangeSet> {
    const { db } = this.database;
    const tag = await vocabulary.tagById(db, request.tag);
    if (!tag) throw notFound('tag');
    if (tag.kind === 'automatic')
      throw new Problem(422, 'This tag is set by the system and can’t be put on by hand.');
    const todo: ChangeTodo = { tag: tag.id, put: request.put, people: request.people };
    await this.meant(todo, viewer); // a set of people that is gone is said now
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

  /** Takes a change back. What was changed again since is left as it is, and counted. */
  async undo(id: number, viewer: Viewer): Promise<changes.ChangeSet> {
    return this.begin(await this.database.transaction((tx) => this.beginUndo(tx, id, viewer)));
  }

  /** Orders that a change be taken back, in the caller's transaction; `begin` does it. */
  async beginUndo(tx: Db, id: number, viewer: Viewer): Promise<number> {
    const set = await changes.changeSetById(tx, id);
    if (!set || (set.userId !== viewer.userId && !seesEverybody(viewer.role)))
      throw notFound('change');
    if (!set.undoable) throw new Problem(422, 'This change can’t be taken back.');
    if (set.finishedAt === null)
      throw new Problem(
        422,
        'This change is still being made. Wait until it is done, then take it back.',
      );
    if (set.kind === 'undo' && set.count === 0)
      throw new Problem(422, 'This changed nobody: there is nothing to take back.');
    const now = this.clock.now();
    if (!(await changes.markUndone(tx, id, now)))
      throw new Problem(422, 'This change was taken back already.');
    // What an undoing is taken back of holds again, and can be taken back once more.
    if (set.undoes !== null) await changes.markHolding(tx, set.undoes);
    return changes.openChangeSet(tx, {
      kind: 'undo',
      userId: viewer.userId,
      at: now,
      what: `took back: ${set.what}`,
      undoes: id,
    });
  }

  /** Starts the work on an open change set, or goes on with it; answers with its end when that comes soon. */
  async begin(id: number): Promise<changes.ChangeSet> {
    const timer = new Promise((resolve) => setTimeout(resolve, ANSWER_MS).unref());
    await this.foreground.aside(() => Promise.race([this.jobs.runNow('change', id), timer]));
    return (
      (await changes.changeSetById(this.database.db, id)) ?? Promise.reject(notFound('change'))
    );
  }

  /** Ends a tagging where it is; what is done stays and can be taken back. */
  async cancel(id: number, viewer: Viewer): Promise<void> {
    const set = await this.change(id, viewer);
    if (
      set.kind !== 'tagging' ||
      !(await changes.finishChangeSet(this.database.db, id, this.clock.now()))
    )
      throw new Problem(422, 'This change is done already.');
  }

  private async run(id: number, signal: AbortSignal): Promise<void> {
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
  private async oneStretch(tx: Db, id: number, step: Step, size: number): Promise<boolean> {
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
    const viewer: Viewer = { userId: user.id as UserId, role: user.role };
    if (todo) {
      const chosen = await this.meant(todo, viewer);
      return (tx, { id, cursor }, size) =>
        changes.tagStretch(tx, id, chosen, todo.tag, todo.put, cursor, size);
    }
    if (undoes === null) return () => Promise.resolve(undefined);
    if ((await this.rootOf(undoes)) === 'tagging')
      return (tx, { id, cursor }, size) =>
        changes.untagStretch(tx, undoes, id, people.scope(viewer), cursor, size);
    const fields = new Map((await vocabulary.allFields(db)).map((field) => [field.key, field]));
    return (tx, { id, cursor }, size) =>
      this.undoStretch(tx, { set: undoes, undoing: id, after: cursor, size }, fields, viewer);
  }

  /** What was done at first, however often it was taken back and made again since. */
  private async rootOf(id: number): Promise<changes.ChangeSet['kind'] | undefined> {
    for (let at = id; ;) {
      const set: changes.ChangeSet | undefined = await changes.changeSetById(this.database.db, at);
      if (!set || set.undoes === null) return set?.kind;
      at = set.undoes;
    }
    return undefined;
  }

  private async meant({ people: selection }: ChangeTodo, viewer: Viewer): Promise<SQL> {
    if (!selection.ids) return (await this.sets.resolve(selection, viewer)).seen;
    return people.allOf(people.living, people.theseOnes(selection.ids), people.scope(viewer));
  }

  private async undoStretch(
    tx: Db,
    { set, undoing, after, size }: { set: number; undoing: number; after: number; size: number },
    fields: ReadonlyMap<string, Field>,
    viewer: Viewer,
  ): Promise<changes.StretchDone | undefined> {
    const items = await changes.itemsAfter(tx, set, after, size);
    const last = items.at(-1)?.contactId;
    if (last === undefined) return undefined;
    const now = this.clock.now();
    const ids = items.map(({ contactId }) => contactId);
    const rows = new Map((await store.contactsById(tx, ids)).map((row) => [row.id, row]));
    const deleted = new Map(
      (
        await store.deletedById(
          tx,
          items.flatMap(({ contactId, after: was }) =>
            was['deleted'] === true ? [contactId] : [],
          ),
        )
      ).map((row) => [row.id, row]),
    );
    const touched = await changes.touchedSince(
      tx,
      set,
      items.flatMap(({ contactId, before }) => (before === null ? [contactId] : [])),
    );
    const tags = await store.tagsOf(
      tx,
      items.flatMap(({ contactId, before }) => (before === null ? [contactId] : [])),
    );
    const written: changes.ChangeItem[] = [];
    const gone: number[] = [];
    for (const item of items) {
      const row = rows.get(item.contactId) ?? deleted.get(item.contactId);
      // Given to somebody else since: what they are now is not for this asker to change.
      if (!row || !(seesEverybody(viewer.role) || row.ownerId === viewer.userId)) continue;
      if (item.before === null) {
        if (touched.has(row.id)) continue;
        gone.push(row.id);
        const marks = (has: boolean): [string, boolean][] =>
          (tags.get(row.id) ?? []).map((tag) => [`tag_${tag}`, has]);
        written.push({
          setId: undoing,
          contactId: row.id,
          before: { deleted: false, ...Object.fromEntries(marks(true)) },
          after: { deleted: true, ...Object.fromEntries(marks(false)) },
        });
        continue;
      }
      const back = deleted.has(row.id)
        ? await this.bringBack(tx, row, item)
        : await this.undoItem(tx, row, item, fields, viewer, now);
      if (Object.keys(back).length > 0)
        written.push({ setId: undoing, contactId: row.id, before: item.after, after: back });
    }
    await store.markDeleted(tx, gone, now);
    await changes.addChangeItems(tx, written);
    return { changed: written.length, leftAlone: items.length - written.length, last };
  }

  /** Somebody who went with a taking back is there again, with their tags; unless their address is somebody else's by now. */
  private async bringBack(
    tx: Db,
    row: ContactRow,
    { before }: changes.ChangeItem,
  ): Promise<Record<string, unknown>> {
    if (
      row.addressKey &&
      (await store.contactsByAddress(tx, row.poolId, [row.addressKey])).length > 0
    )
      return {};
    await store.bringBack(tx, row.id);
    const tagIds = Object.entries(before ?? {}).flatMap(([key, was]) =>
      was === true && key.startsWith('tag_') ? [Number(key.slice(4))] : [],
    );
    await store.putTags(tx, [row.id], tagIds);
    return before ?? {};
  }

  /** Takes one person back as far as nobody changed them since, or leaves them alone whole when they can't be what they were. */
  private async undoItem(
    tx: Db,
    row: ContactRow,
    item: changes.ChangeItem,
    fields: ReadonlyMap<string, Field>,
    viewer: Viewer,
    now: Date,
  ): Promise<Record<string, unknown>> {
    const back: Record<string, unknown> = {};
    const values: Record<string, FieldValue> = {};
    const tags: [number, unknown][] = [];
    for (const [key, was] of Object.entries(item.before ?? {})) {
      const tag = /^tag_(\d+)$/.exec(key)?.[1];
      if (tag) tags.push([Number(tag), was]);
      else if (valueOf(row, key) === item.after[key]) values[key] = was as FieldValue;
    }
    const written = write(row, values, (key) => this.keys.addressHash(key), fields);
    if (written && !(await this.mayBe(tx, row, written.columns, viewer))) return {};
    for (const [tag, was] of tags) {
      const changed =
        was === true
          ? (await store.putTags(tx, [row.id], [tag])).length > 0
          : await store.takeTag(tx, row.id, tag);
      if (changed) back[`tag_${tag}`] = was;
    }
    if (written && (await store.changeContact(tx, row.id, row.version, written.columns, now))) {
      Object.assign(back, written.after);
      if (written.columns.addressHash) await recountBounces(tx, [row.id]);
    }
    return back;
  }

  /** Whether a person may become this: their address is not somebody else's meanwhile, their owner not one whose people the asker does not see. */
  private async mayBe(
    tx: Db,
    row: ContactRow,
    { addressKey, ownerId }: Partial<ContactRow>,
    viewer: Viewer,
  ): Promise<boolean> {
    if (ownerId !== undefined && ownerId !== viewer.userId && !seesEverybody(viewer.role))
      return false;
    if (!addressKey) return true;
    return (await store.contactsByAddress(tx, row.poolId, [addressKey])).every(
      ({ id }) => id === row.id,
    );
  }
}

type Step = (
  tx: Db,
  set: changes.ChangeSet,
  size: number,
) => Promise<changes.StretchDone | undefined>;
