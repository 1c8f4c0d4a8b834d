// What is to be done for people, by whom and until when; for one, or one for each of a list. A mail reminds of it.
import { Inject, Injectable, type OnModuleInit } from '@nestjs/common';
import type {
  TaskChangeRequest,
  TaskCounts,
  TaskReply,
  TaskRequest,
  TasksMade,
  TasksPage,
  TasksQuery,
  TasksRequest,
} from '@palabra/contract/notes';
import { displayName, type ContactId } from '@palabra/core/contacts';
import { idOf, type Clock } from '@palabra/core/kernel';
import { NOTE_LIMITS, taskWords, type TaskBatchId, type TaskId } from '@palabra/core/notes';
import { dayIn, momentOf, type UserId, type Viewer } from '@palabra/core/office';
import {
  allOf,
  countPeople,
  hadContact,
  PeopleService,
  PeopleSets,
  scope,
  sees,
  Timeline,
  type ContactRow,
} from '../contacts/index.js';
import { Outbox } from '../delivery/index.js';
import { findOffice, theOffice } from '../office/index.js';
import type { Config } from '../platform/config.js';
import { Database, type Db } from '../platform/database.js';
import { conflict, notFound, refuse as noSuchPage } from '../platform/refusals.js';
import { userById } from '../platform/sign-in/sign-in.store.js';
import { CLOCK, CONFIG } from '../platform/time.js';
import { Upkeep } from '../platform/upkeep.js';
import { withKept } from './kept.js';
import { refuse } from './notes.refusals.js';
import { recountLastContact } from './notes.store.js';
import * as store from './tasks.store.js';
import { tasksOf } from './timeline.store.js';

const PAGE = 50;
const OPEN_SHOWN = 20;
/** When mails remind, where the office is, and how many tasks one names. */
const IN_THE_MORNING = '07:30';
const NAMED = 30;

@Injectable()
export class TasksService implements OnModuleInit {
  constructor(
    private readonly database: Database,
    private readonly people: PeopleService,
    private readonly sets: PeopleSets,
    private readonly timeline: Timeline,
    private readonly outbox: Outbox,
    private readonly upkeep: Upkeep,
    @Inject(CLOCK) private readonly clock: Clock,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

  onModuleInit(): void {
    this.timeline.register('tasks', {
      rows: tasksOf,
      complete: (db, _, rows, viewer) =>
        withKept(
          rows,
          'task',
          (ids) =>
            store.taskRows(
              db,
              ids.map((id) => idOf<TaskId>(id)),
            ),
          (task) => reply(task, viewer),
        ),
    });
    this.upkeep.register(async () => {
      await this.remind();
      return false;
    });
  }

  async add(contactId: ContactId, request: TaskRequest, viewer: Viewer): Promise<TaskReply> {
    const id = await this.database.transaction(async (tx) => {
      const row = await this.people.person(contactId, viewer, tx);
      await this.assignee(tx, request.assignee, row);
      return store.addTask(tx, {
        ...valuesOf(request),
        contactId,
        madeBy: viewer.userId,
        createdAt: this.clock.now(),
      });
    });
    return this.one(id, viewer);
  }

  async change(id: TaskId, request: TaskChangeRequest, viewer: Viewer): Promise<TaskReply> {
    await this.database.transaction(async (tx) => {
      const task = await this.lockOwn(tx, id, viewer);
      if (task.version !== request.version) throw conflict('task', await this.one(id, viewer, tx));
      const row = await this.people.person(task.contactId, viewer, tx);
      // Whoever has it keeps it, even after leaving; it is given only to who can do it.
      if (task.userId !== request.assignee) await this.assignee(tx, request.assignee, row);
      const values = valuesOf(request);
      const isAnother =
        values.due !== task.due || values.userId !== task.userId || (values.remind && !task.remind);
      await store.changeTask(tx, id, { ...values, ...(isAnother ? { remindedAt: null } : {}) });
    });
    return this.one(id, viewer);
  }

  async setDone(id: TaskId, isDone: boolean, viewer: Viewer): Promise<TaskReply> {
    await this.database.transaction(async (tx) => {
      const task = await this.lockOwn(tx, id, viewer);
      if ((task.doneAt !== null) === isDone) return;
      const now = this.clock.now();
      await store.changeTask(
        tx,
        id,
        isDone ? { doneAt: now, doneBy: viewer.userId } : { doneAt: null, doneBy: null },
      );
      if (isDone) await hadContact(tx, task.contactId, now);
      else await recountLastContact(tx, task.contactId);
    });
    return this.one(id, viewer);
  }

  async setDeleted(id: TaskId, isGone: boolean, viewer: Viewer): Promise<void> {
    await this.database.transaction(async (tx) => {
      const task = await this.lockOwn(tx, id, viewer, !isGone);
      await store.changeTask(tx, id, { deletedAt: isGone ? this.clock.now() : null });
      await recountLastContact(tx, task.contactId);
    });
  }

  /** One for each of some people, for a colleague or for the owner of each. */
  async addForEach({ people, task }: TasksRequest, viewer: Viewer): Promise<TasksMade> {
    const meant = await this.sets.meant(people, viewer);
    return this.database.transaction(async (tx) => {
      const all = await countPeople(tx, meant);
      if (all > NOTE_LIMITS.forEach) throw refuse('too-many-tasks', all, NOTE_LIMITS.forEach);
      const assignee = await this.colleague(tx, task.assignee);
      const seen = assignee
        ? allOf(meant, scope({ userId: assignee.id, role: assignee.role }))
        : allOf(meant, store.ownerIsThere);
      const made = await store.addTasks(tx, seen, {
        ...partsOf(task),
        userId: assignee?.id,
        madeBy: viewer.userId,
        createdAt: this.clock.now(),
      });
      if (made.count === 0) throw refuse('nobody-meant');
      return { ...made, leftOut: all - made.count };
    });
  }

  /** Takes back what was made for each, but for what somebody has touched; says how many. */
  async dropBatch(batch: TaskBatchId, viewer: Viewer): Promise<number> {
    const gone = await store.dropBatch(this.database.db, batch, viewer.userId, this.clock.now());
    if (gone === 0) throw notFound('list of tasks');
    return gone;
  }

  async page({ whose, state, after }: TasksQuery, viewer: Viewer): Promise<TasksPage> {
    const of = whose === 'mine' ? viewer.userId : undefined;
    const [at = '', key = ''] = after?.split(' ') ?? [];
    if (after !== undefined && Number.isNaN(Date.parse(at))) throw noSuchPage('no-such-page');
    const found = await store.pageOfTasks(
      this.database.db,
      { seen: scope(viewer), of, state },
      after === undefined ? undefined : { at, id: Number(key) },
      PAGE,
    );
    const last = found.length === PAGE ? found.at(-1) : undefined;
    return {
      tasks: found.map((task) => reply(task, viewer)),
      after: last
        ? `${state === 'done' ? (last.done_at?.toISOString() ?? '') : (last.due ?? '9999-12-31')} ${last.id}`
        : null,
    };
  }

  async counts(whose: 'mine' | 'all', viewer: Viewer): Promise<TaskCounts> {
    const { db } = this.database;
    const { timeZone } = await theOffice(db);
    const of = whose === 'mine' ? viewer.userId : undefined;
    return store.countTasks(db, scope(viewer), of, dayIn(timeZone, this.clock.now()));
  }

  async open(contactId: ContactId, viewer: Viewer): Promise<TaskReply[]> {
    const found = await store.openTasksOf(this.database.db, contactId, OPEN_SHOWN);
    return found.map((task) => reply(task, viewer));
  }

  /** A mail to each colleague with something due today, in the morning. */
  async remind(): Promise<void> {
    const { db } = this.database;
    const office = await findOffice(db);
    if (!office) return;
    const now = this.clock.now();
    const today = dayIn(office.timeZone, now);
    const morning = momentOf(office.timeZone, `${today}T${IN_THE_MORNING}`)?.at;
    if (!morning || now < morning) return;
    await this.database.transaction(async (tx) => {
      for (const userId of await store.takeReminders(tx, today, now)) {
        const user = await userById(tx, userId);
        if (!user) continue;
        const viewer: Viewer = { userId: user.id, role: user.role };
        const due = { seen: scope(viewer), of: user.id, state: 'open' } as const;
        const { overdue, today: ofToday } = await store.countTasks(tx, due.seen, due.of, today);
        if (overdue + ofToday === 0) continue;
        const first = await store.pageOfTasks(tx, due, undefined, NAMED);
        await this.outbox.add(tx, 'tasks due', user.address, {
          url: `${this.config.publicUrl}/tasks`,
          tasks: first.filter((task) => task.due !== null && task.due <= today).map(inWords),
          all: overdue + ofToday,
        });
      }
    });
  }

  private async lockOwn(tx: Db, id: TaskId, viewer: Viewer, isGone = false): Promise<store.Task> {
    const task = await store.lockTask(tx, id);
    if (!task || (task.deletedAt !== null) !== isGone) throw notFound('task');
    await this.people.person(task.contactId, viewer, tx);
    if (!mayChange(task, viewer)) throw refuse('not-your-task');
    return task;
  }

  /** Somebody who works here; undefined where nobody was named. */
  private async colleague(tx: Db, id: number | undefined) {
    if (id === undefined) return undefined;
    const user = await userById(tx, idOf<UserId>(id));
    if (!user) throw refuse('no-such-colleague');
    if (user.closedAt !== null) throw refuse('closed-account', user.name);
    return user;
  }

  private async assignee(tx: Db, id: number, person: ContactRow): Promise<void> {
    const user = await this.colleague(tx, id);
    if (user && !sees({ userId: user.id, role: user.role }, person))
      throw refuse('does-not-see-them', user.name).about('assignee');
  }

  private async one(id: TaskId, viewer: Viewer, db: Db = this.database.db): Promise<TaskReply> {
    const [task] = await store.taskRows(db, [id]);
    if (!task) throw notFound('task');
    return reply(task, viewer);
  }
}

const partsOf = ({
  kind,
  text,
  due,
  remind,
}: Omit<TaskRequest, 'assignee'>): Omit<store.TaskValues, 'userId'> => ({
  kind,
  text,
  due,
  remind,
});
const valuesOf = (request: TaskRequest): store.TaskValues => ({
  ...partsOf(request),
  userId: idOf<UserId>(request.assignee),
});

const mayChange = (
  task: { readonly userId: number; readonly madeBy: number },
  viewer: Viewer,
): boolean =>
  task.userId === viewer.userId || task.madeBy === viewer.userId || viewer.role === 'coordinator';

const inWords = (task: store.TaskRow): string => {
  const name = displayName({ given: task.given_name, family: task.family_name }, task.address);
  return `${taskWords[task.kind]} ${name}${task.text ? `: ${task.text}` : ''}`;
};

const reply = (task: store.TaskRow, viewer: Viewer): TaskReply => ({
  id: task.id,
  version: task.version,
  person: {
    id: task.contact_id,
    givenName: task.given_name,
    familyName: task.family_name,
    address: task.address,
    phone: task.phone,
  },
  kind: task.kind,
  text: task.text,
  due: task.due,
  assignee: { id: task.user_id, name: task.assignee, isClosed: task.is_closed },
  madeBy: task.maker,
  remind: task.remind,
  doneAt: task.done_at?.toISOString() ?? null,
  doneBy: task.doer,
  mayChange: mayChange({ userId: task.user_id, madeBy: task.made_by }, viewer),
});
