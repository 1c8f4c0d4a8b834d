// Change sets: who changed what to how many, and what was before.
import { and, desc, eq, inArray, isNull, lt, sql, type SQL } from 'drizzle-orm';
import { execute, type Db } from '../platform/database.js';
import { users } from '../platform/sign-in/sign-in.table.js';
import { changeItems, changeSets, type ChangeKind, type ChangeTodo } from './contacts.table.js';

export type ChangeSet = typeof changeSets.$inferSelect;
export type ChangeItem = typeof changeItems.$inferSelect;

/** A set with something to do stays open until that is done; any other is whole with the transaction that writes it. */
export async function openChangeSet(
  db: Db,
  set: {
    kind: ChangeKind;
    userId: number | null;
    at: Date;
    what: string;
    undoable?: boolean;
    todo?: ChangeTodo;
    undoes?: number;
    isOpen?: boolean;
  },
): Promise<number> {
  const { isOpen = set.todo !== undefined || set.undoes !== undefined, ...values } = set;
  const [row] = await db
    .insert(changeSets)
    .values({ ...values, finishedAt: isOpen ? null : set.at })
    .returning({ id: changeSets.id });
  if (!row) throw new Error('the change set was not written');
  return row.id;
}

/** Adds items; one set may touch a contact twice (two rows of a file): then the first `before` and the last `after` stay. */
export async function addChangeItems(db: Db, items: readonly ChangeItem[]): Promise<void> {
  if (items.length === 0) return;
  await execute(
    db,
    sql`
    insert into change_items (set_id, contact_id, before, after)
    select "setId", "contactId", nullif(before, 'null'), after from jsonb_to_recordset(${JSON.stringify(items)}::jsonb) as r("setId" int, "contactId" int, before jsonb, after jsonb)
    on conflict (set_id, contact_id) do update set
      before = case when change_items.before is null then null else excluded.before || change_items.before end, after = change_items.after || excluded.after`,
  );
}

export const countInto = async (db: Db, id: number, count: number): Promise<void> => {
  await db
    .update(changeSets)
    .set({ count: sql`${changeSets.count} + ${count}` })
    .where(eq(changeSets.id, id));
};

export async function changeSetById(db: Db, id: number): Promise<ChangeSet | undefined> {
  const [row] = await db.select().from(changeSets).where(eq(changeSets.id, id));
  return row;
}

export async function lockChangeSet(db: Db, id: number): Promise<ChangeSet | undefined> {
  const [row] = await db.select().from(changeSets).where(eq(changeSets.id, id)).for('update');
  return row;
}

export interface StretchDone {
  readonly changed: number;
  readonly leftAlone: number;
  /** The last contact key of the stretch. */
  readonly last: number;
}

export const advance = async (
  db: Db,
  id: number,
  { changed, leftAlone, last }: StretchDone,
): Promise<void> => {
  await db
    .update(changeSets)
    .set({
      cursor: last,
      count: sql`${changeSets.count} + ${changed}`,
      leftAlone: sql`${changeSets.leftAlone} + ${leftAlone}`,
    })
    .where(eq(changeSets.id, id));
};

/** False when it was finished already. */
export async function finishChangeSet(db: Db, id: number, at: Date): Promise<boolean> {
  const rows = await db
    .update(changeSets)
    .set({ finishedAt: at })
    .where(and(eq(changeSets.id, id), isNull(changeSets.finishedAt)))
    .returning({ id: changeSets.id });
  return rows.length > 0;
}

/** Taggings and undoings that are under way; an import sees to its own set. */
export async function unfinishedChangeSets(db: Db): Promise<number[]> {
  const rows = await db
    .select({ id: changeSets.id })
    .from(changeSets)
    .where(and(isNull(changeSets.finishedAt), inArray(changeSets.kind, ['tagging', 'undo'])));
  return rows.map(({ id }) => id);
}

/** Changes, latest first; of one person's doing when `userId` is given. */
export async function changeLog(
  db: Db,
  {
    userId,
    before,
    limit,
  }: { userId: number | undefined; before: number | undefined; limit: number },
): Promise<{ set: ChangeSet; by: string | null }[]> {
  return db
    .select({ set: changeSets, by: users.name })
    .from(changeSets)
    .leftJoin(users, eq(users.id, changeSets.userId))
    .where(
      and(
        userId === undefined ? undefined : eq(changeSets.userId, userId),
        before === undefined ? undefined : lt(changeSets.id, before),
      ),
    )
    .orderBy(desc(changeSets.id))
    .limit(limit);
}

/** Marks as undone; false when somebody else was faster. */
export async function markUndone(db: Db, id: number, at: Date): Promise<boolean> {
  const { rows } = await execute(
    db,
    sql`update change_sets set undone_at = ${at} where id = ${id} and undone_at is null returning id`,
  );
  return rows.length > 0;
}

export async function itemsAfter(
  db: Db,
  setId: number,
  contactId: number,
  limit: number,
): Promise<ChangeItem[]> {
  return db
    .select()
    .from(changeItems)
    .where(sql`set_id = ${setId} and contact_id > ${contactId}`)
    .orderBy(changeItems.contactId)
    .limit(limit);
}

/**
 * Puts a tag on (or takes it off) the people of one stretch of contact keys, and writes what changed.
 * Returns how many changed and the last key of the stretch, or undefined at the end.
 */
export async function tagStretch(
  db: Db,
  setId: number,
  people: SQL,
  tagId: number,
  put: boolean,
  after: number,
  limit: number,
): Promise<StretchDone | undefined> {
  const stretch = sql`stretch as materialized (select c.id from contacts c where ${people} and c.id > ${after} order by c.id limit ${limit})`;
  const change = put
    ? sql`changed as (insert into contact_tags (contact_id, tag_id) select id, ${tagId}::int from stretch on conflict do nothing returning contact_id)`
    : sql`changed as (delete from contact_tags where tag_id = ${tagId} and contact_id in (select id from stretch) returning contact_id)`;
  const key = `tag_${tagId}`;
  const { rows } = await execute<{ changed: number; last: number | null }>(
    db,
    sql`
    with ${stretch}, ${change}, items as (
      insert into change_items (set_id, contact_id, before, after)
      select ${setId}::int, contact_id, ${JSON.stringify({ [key]: !put })}::jsonb, ${JSON.stringify({ [key]: put })}::jsonb from changed
    )
    select (select count(*) from changed) as changed, (select max(id) from stretch) as last`,
  );
  const [row] = rows;
  return row && row.last !== null
    ? { changed: row.changed, leftAlone: 0, last: row.last }
    : undefined;
}

/**
 * Takes back one stretch of a tagging in a single statement, of `people` (a condition on `contacts c`). Others,
 * and those whose tag was changed again since, are left alone and counted. Undefined at the end.
 */
export async function untagStretch(
  db: Db,
  setId: number,
  undoingId: number,
  people: SQL,
  after: number,
  limit: number,
): Promise<StretchDone | undefined> {
  const { rows } = await execute<{ changed: number; items: number; last: number | null }>(
    db,
    sql`
    with stretch as materialized (select contact_id, before, after from change_items where set_id = ${setId} and contact_id > ${after} order by contact_id limit ${limit}),
    marks as (select s.contact_id, substr(k.key, 5)::int as tag_id, k.value = 'true'::jsonb as had from stretch s join contacts c on c.id = s.contact_id and ${people}, jsonb_each(s.before) k where k.key like 'tag\_%'),
    put as (insert into contact_tags (contact_id, tag_id) select m.contact_id, m.tag_id from marks m join contacts c on c.id = m.contact_id and c.deleted_at is null where m.had on conflict do nothing returning contact_id, tag_id),
    taken as (delete from contact_tags t using marks m where not m.had and t.contact_id = m.contact_id and t.tag_id = m.tag_id returning t.contact_id, t.tag_id),
    done as (select contact_id, tag_id, true as has from put union all select contact_id, tag_id, false from taken),
    items as (insert into change_items (set_id, contact_id, before, after)
      select ${undoingId}::int, contact_id, jsonb_object_agg('tag_' || tag_id, not has), jsonb_object_agg('tag_' || tag_id, has) from done group by contact_id returning 1)
    select (select count(*) from items) as changed, (select count(*) from stretch) as items, (select max(contact_id) from stretch) as last`,
  );
  const [row] = rows;
  return row && row.last !== null
    ? { changed: row.changed, leftAlone: row.items - row.changed, last: row.last }
    : undefined;
}

/**
 * Whether somebody, or something, has to do with a contact since it came in with a set: they were changed or
 * tagged, or a letter was meant for them. A condition on `contacts c`.
 */
export const hadToDoWithSince = (setId: number): SQL => sql`(
  exists (select 1 from change_items i join change_sets s on s.id = i.set_id where i.contact_id = c.id and i.set_id > ${setId} and s.undone_at is null and s.kind <> 'undo')
  or exists (select 1 from deliveries d where d.contact_id = c.id)
  or c.soft_since is not null)`;

/** Whom a set made, as a condition on `contacts c`. */
export const madeBy = (setId: number): SQL =>
  sql`c.id in (select contact_id from change_items where set_id = ${setId} and before is null)`;

/** Of these contacts, those with whom somebody has had to do since they came in with a set. */
export async function touchedSince(
  db: Db,
  setId: number,
  ids: readonly number[],
): Promise<Set<number>> {
  if (ids.length === 0) return new Set();
  const { rows } = await execute<{ id: number }>(
    db,
    sql`select c.id from contacts c where c.id = any(${sql.param(ids)}::int[]) and ${hadToDoWithSince(setId)}`,
  );
  return new Set(rows.map(({ id }) => id));
}

/** A change that was taken back holds again. */
export const markHolding = async (db: Db, id: number): Promise<void> => {
  await db.update(changeSets).set({ undoneAt: null }).where(eq(changeSets.id, id));
};

/** Drops what a change set remembers of single people once it is too old to be taken back; its line stays. Returns how many items went. */
export async function forgetItems(db: Db, before: Date, limit: number): Promise<number> {
  const { rows } = await execute<{ gone: number }>(
    db,
    sql`
    with old as (update change_sets set undoable = false where undoable and at < ${before} returning id),
    gone as (delete from change_items where (set_id, contact_id) in (
      select i.set_id, i.contact_id from change_items i join change_sets s on s.id = i.set_id where s.at < ${before} limit ${limit}) returning 1)
    select (select count(*) from gone) as gone from (select count(*) from old) o`,
  );
  return rows[0]?.gone ?? 0;
}
