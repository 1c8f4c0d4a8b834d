import type { ContactId } from '@palabra/core/contacts';
import type { TaskBatchId, TaskId, TaskKind } from '@palabra/core/notes';
import type { UserId } from '@palabra/core/office';
import { eq, sql, type SQL } from 'drizzle-orm';
import { contacts } from '../contacts/people/people.table.js';
import { execute, type Db } from '../platform/database.js';
import { users } from '../platform/sign-in/sign-in.table.js';
import { tasks } from './notes.table.js';

export type Task = typeof tasks.$inferSelect;
export type TaskValues = Pick<Task, 'userId' | 'kind' | 'text' | 'due' | 'remind'>;

export interface TaskRow extends Record<string, unknown> {
  readonly id: TaskId;
  readonly version: number;
  readonly contact_id: ContactId;
  readonly given_name: string;
  readonly family_name: string;
  readonly address: string | null;
  readonly phone: string | null;
  readonly kind: TaskKind;
  readonly text: string;
  /** `YYYY-MM-DD`. */
  readonly due: string | null;
  readonly user_id: UserId;
  readonly assignee: string;
  readonly is_closed: boolean;
  readonly made_by: UserId;
  readonly maker: string;
  readonly remind: boolean;
  readonly done_at: Date | null;
  readonly doer: string | null;
}

const columns = sql`t.id, t.version, t.contact_id, c.given_name, c.family_name, c.address, c.phone, t.kind, t.text, t.due::text as due, t.user_id, u.name as assignee,
  u.closed_at is not null as is_closed, t.made_by, m.name as maker, t.remind, t.done_at, d.name as doer`;
const from = sql`${tasks} t join ${contacts} c on c.id = t.contact_id join ${users} u on u.id = t.user_id join ${users} m on m.id = t.made_by left join ${users} d on d.id = t.done_by`;
const there = sql`t.deleted_at is null and c.deleted_at is null`;

async function tasksWhere(db: Db, condition: SQL, order: SQL, limit: number): Promise<TaskRow[]> {
  const { rows } = await execute<TaskRow>(
    db,
    sql`select ${columns} from ${from} where ${there} and ${condition} order by ${order} limit ${limit}`,
  );
  return rows;
}

export const taskRows = (db: Db, ids: readonly TaskId[]): Promise<TaskRow[]> =>
  ids.length === 0
    ? Promise.resolve([])
    : tasksWhere(db, sql`t.id = any(${sql.param([...ids])}::int[])`, sql`t.id`, ids.length);

export const openTasksOf = (db: Db, contactId: ContactId, limit: number): Promise<TaskRow[]> =>
  tasksWhere(
    db,
    sql`t.contact_id = ${contactId} and t.done_at is null`,
    sql`t.due asc nulls last, t.id`,
    limit,
  );

/** Open ones by the day they are due, then those without a day; done ones latest first. `seen` is a condition on `contacts c`. */
export function pageOfTasks(
  db: Db,
  {
    seen,
    of,
    state,
  }: { readonly seen: SQL; readonly of: UserId | undefined; readonly state: 'open' | 'done' },
  after: { readonly at: string; readonly id: number } | undefined,
  limit: number,
): Promise<TaskRow[]> {
  const whose = of === undefined ? sql`true` : sql`t.user_id = ${of}`;
  if (state === 'done')
    return tasksWhere(
      db,
      sql`${seen} and ${whose} and t.done_at is not null ${after ? sql`and (t.done_at, t.id) < (${after.at}::timestamptz, ${after.id})` : sql``}`,
      sql`t.done_at desc, t.id desc`,
      limit,
    );
  const last = sql`coalesce(t.due, '9999-12-31')`;
  return tasksWhere(
    db,
    sql`${seen} and ${whose} and t.done_at is null ${after ? sql`and (${last}, t.id) > (${after.at}::date, ${after.id})` : sql``}`,
    sql`t.due asc nulls last, t.id`,
    limit,
  );
}

export async function countTasks(
  db: Db,
  seen: SQL,
  of: UserId | undefined,
  today: string,
): Promise<{ overdue: number; today: number; later: number }> {
  const { rows } = await execute<{ overdue: number; today: number; later: number }>(
    db,
    sql`select count(*) filter (where t.due < ${today}::date)::int as overdue, count(*) filter (where t.due = ${today}::date)::int as today,
      count(*) filter (where t.due is null or t.due > ${today}::date)::int as later
      from ${tasks} t join ${contacts} c on c.id = t.contact_id where ${there} and t.done_at is null and ${seen} ${of === undefined ? sql`` : sql`and t.user_id = ${of}`}`,
  );
  return rows[0] ?? { overdue: 0, today: 0, later: 0 };
}

export async function addTask(
  db: Db,
  task: TaskValues & Pick<Task, 'contactId' | 'madeBy' | 'createdAt'>,
): Promise<TaskId> {
  const [row] = await db.insert(tasks).values(task).returning({ id: tasks.id });
  if (!row) throw new Error('the task was not written');
  return row.id;
}

export async function lockTask(db: Db, id: TaskId): Promise<Task | undefined> {
  const [row] = await db.select().from(tasks).where(eq(tasks.id, id)).for('update');
  return row;
}

/** A task that is due another day is reminded of again. */
export const changeTask = async (db: Db, id: TaskId, values: Partial<Task>): Promise<void> => {
  await db
    .update(tasks)
    .set({ ...values, version: sql`version + 1` })
    .where(eq(tasks.id, id));
};

/** A task for each of some people (a condition on `contacts c`), for one colleague or, without one, for the owner of each; returns how many. */
export async function addTasks(
  db: Db,
  people: SQL,
  task: Omit<TaskValues, 'userId'> &
    Pick<Task, 'madeBy' | 'createdAt'> & { readonly userId: UserId | undefined },
): Promise<{ batch: TaskBatchId; count: number }> {
  const { rows } = await execute<{ batch: TaskBatchId }>(
    db,
    sql`select coalesce(max(batch), 0) + 1 as batch from ${tasks} where batch is not null`,
  );
  const batch = rows[0]?.batch ?? (1 as TaskBatchId);
  const { rows: made } = await execute(
    db,
    sql`insert into ${tasks} (contact_id, user_id, made_by, kind, text, due, remind, batch, created_at)
      select c.id, ${task.userId ?? sql`c.owner_id`}, ${task.madeBy}::int, ${task.kind}::text, ${task.text}::text, ${task.due}::date, ${task.remind}::boolean, ${batch}::int, ${task.createdAt}::timestamptz
      from ${contacts} c where ${people} order by c.search_key, c.id returning 1`,
  );
  return { batch, count: made.length };
}

/** The owner does tasks: a condition on `contacts c`. */
export const ownerIsThere = sql`exists (select 1 from ${users} o where o.id = c.owner_id and o.closed_at is null)`;

/** Takes back those of a batch that nobody has touched. */
export async function dropBatch(
  db: Db,
  batch: TaskBatchId,
  madeBy: UserId,
  at: Date,
): Promise<number> {
  const { rows } = await execute(
    db,
    sql`update ${tasks} set deleted_at = ${at} where batch = ${batch} and made_by = ${madeBy} and version = 1 and done_at is null and deleted_at is null returning 1`,
  );
  return rows.length;
}

/** Whom to remind today, of what nobody reminded them of yet; marks it. */
export async function takeReminders(db: Db, today: string, now: Date): Promise<UserId[]> {
  const { rows } = await execute<{ user_id: UserId }>(
    db,
    sql`update ${tasks} set reminded_at = ${now} where id in (select t.id from ${tasks} t join ${users} u on u.id = t.user_id
      where t.remind and t.reminded_at is null and t.due <= ${today}::date and t.done_at is null and t.deleted_at is null and u.closed_at is null and u.address is not null
      limit 5000) returning user_id`,
  );
  return [...new Set(rows.map(({ user_id }) => user_id))];
}
