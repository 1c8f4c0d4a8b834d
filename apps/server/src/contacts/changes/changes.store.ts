// Change sets: who changed what to how many, and what was before.
import type { ChangeKind } from '@palabra/contract/contacts';
import type { UserId } from '@palabra/core/office';
import {
  happeningsOf,
  tagMark,
  type HappeningKind,
  type LoggedChange,
  type ChangeSetId,
  type ContactId,
  type TagId,
} from '@palabra/core/contacts';
import { and, desc, eq, inArray, isNotNull, isNull, lt, or, sql, type SQL } from 'drizzle-orm';
import { execute, type Db } from '../../platform/database.js';
import { users } from '../../platform/sign-in/sign-in.table.js';
import {
  changeItems,
  changeSets,
  happenings,
  type ChangeTodo,
  type ThingKind,
} from './changes.table.js';
import { contactTags, contacts } from '../people/people.table.js';

export type ChangeSet = typeof changeSets.$inferSelect;
export type ChangeItem = typeof changeItems.$inferSelect;

/** A set with something to do stays open until that is done; any other is whole with the transaction that writes it. */
export async function openChangeSet(
  db: Db,
  set: {
    kind: ChangeKind;
    userId: UserId | null;
    at: Date;
    what: string;
    undoable?: boolean;
    leftAlone?: number;
    todo?: ChangeTodo;
    undoes?: ChangeSetId;
    thingKind?: ThingKind;
    thingId?: number;
    isOpen?: boolean;
  },
): Promise<ChangeSetId> {
  const { isOpen = set.todo !== undefined || set.undoes !== undefined, ...values } = set;
  const [row] = await db
    .insert(changeSets)
    .values({ ...values, finishedAt: isOpen ? null : set.at })
    .returning({ id: changeSets.id });
  if (!row) throw new Error('the change set was not written');
  return row.id;
}

/**
 * Writes down what a set did: what was before, for as long as it can be taken back, and what happened, for good. One
 * set may touch a contact twice (two rows of a file): then the first `before` and the last `after` stay. Counts into the
 * set those whom it had not touched yet, and returns how many they are.
 */
export async function remember(
  db: Db,
  setId: ChangeSetId,
  items: readonly Omit<ChangeItem, 'setId' | 'undone'>[],
): Promise<number> {
  if (items.length === 0) return 0;
  const happened = items.flatMap(({ contactId, before, after }) =>
    happeningsOf(before, after).map(({ kind, which }) => ({ contactId, kind, which })),
  );
  const { rows } = await execute<{ fresh: number }>(
    db,
    sql`
    with items as (
      insert into ${changeItems} (set_id, contact_id, before, after)
      select ${setId}::int, "contactId", nullif(before, 'null'), after from jsonb_to_recordset(${JSON.stringify(items)}::jsonb) as r("contactId" int, before jsonb, after jsonb)
      on conflict (set_id, contact_id) do update set
        before = case when change_items.before is null then null else excluded.before || change_items.before end, after = change_items.after || excluded.after
      returning xmax = 0 as is_fresh),
    happened as (
      insert into ${happenings} (set_id, contact_id, kind, which)
      select ${setId}::int, "contactId", kind, which from jsonb_to_recordset(${JSON.stringify(happened)}::jsonb) as r("contactId" int, kind text, which text)
      on conflict do nothing),
    counted as (update ${changeSets} set count = count + (select count(*) from items where is_fresh) where id = ${setId})
    select count(*) filter (where is_fresh) as fresh from items`,
  );
  return rows[0]?.fresh ?? 0;
}

export async function changeSetById(db: Db, id: ChangeSetId): Promise<ChangeSet | undefined> {
  const [row] = await db.select().from(changeSets).where(eq(changeSets.id, id));
  return row;
}

/** Another text after every change of people's data, also in the middle of a long one. */
export async function lastChange(db: Db): Promise<string> {
  const { rows } = await execute<{ state: string }>(
    db,
    sql`select concat_ws(' ', (select max(id) from ${changeSets}), (select count from ${changeSets} order by id desc limit 1),
      (select sum(count) from ${changeSets} where finished_at is null)) as state`,
  );
  return rows[0]?.state ?? '';
}

export async function lockChangeSet(db: Db, id: ChangeSetId): Promise<ChangeSet | undefined> {
  const [row] = await db.select().from(changeSets).where(eq(changeSets.id, id)).for('update');
  return row;
}

export interface StretchDone {
  /** To be counted into the set. */
  readonly changed: number;
  readonly leftAlone: number;
  /** The last contact key of the stretch. */
  readonly last: ContactId;
}

export const advance = async (
  db: Db,
  id: ChangeSetId,
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
export async function finishChangeSet(db: Db, id: ChangeSetId, at: Date): Promise<boolean> {
  const rows = await db
    .update(changeSets)
    .set({ finishedAt: at })
    .where(and(eq(changeSets.id, id), isNull(changeSets.finishedAt)))
    .returning({ id: changeSets.id });
  return rows.length > 0;
}

/** Changes of many and undoings that are under way; an import sees to its own set. */
export async function unfinishedChangeSets(db: Db): Promise<ChangeSetId[]> {
  const rows = await db
    .select({ id: changeSets.id })
    .from(changeSets)
    .where(
      and(
        isNull(changeSets.finishedAt),
        or(inArray(changeSets.kind, ['tagging', 'undo']), isNotNull(changeSets.todo)),
      ),
    );
  return rows.map(({ id }) => id);
}

/** Changes, latest first; of one person's doing when `userId` is given. */
export async function changeLog(
  db: Db,
  {
    userId,
    before,
    limit,
  }: { userId: UserId | undefined; before: ChangeSetId | undefined; limit: number },
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
export async function markUndone(db: Db, id: ChangeSetId, at: Date): Promise<boolean> {
  const { rows } = await execute(
    db,
    sql`update ${changeSets} set undone_at = ${at} where id = ${id} and undone_at is null returning id`,
  );
  return rows.length > 0;
}

/** The next people of a set of whom it was taken back, or was not. */
export async function itemsAfter(
  db: Db,
  setId: ChangeSetId,
  contactId: ContactId,
  limit: number,
  undone: boolean,
): Promise<ChangeItem[]> {
  return db
    .select()
    .from(changeItems)
    .where(sql`set_id = ${setId} and contact_id > ${contactId} and undone = ${undone}`)
    .orderBy(changeItems.contactId)
    .limit(limit);
}

/** The open deletion of a thing. */
export async function deletionOf(
  db: Db,
  kind: ThingKind,
  id: number,
): Promise<ChangeSetId | undefined> {
  const [row] = await db
    .select({ id: changeSets.id })
    .from(changeSets)
    .where(
      and(
        eq(changeSets.kind, 'deletion'),
        eq(changeSets.thingKind, kind),
        eq(changeSets.thingId, id),
        isNull(changeSets.undoneAt),
      ),
    )
    .orderBy(desc(changeSets.id))
    .limit(1);
  return row?.id;
}

/** Whom each of some sets changed, where that was one person whom the asker may see: a condition on `contacts c`. */
export async function onlyOnes(
  db: Db,
  ids: readonly ChangeSetId[],
  seen: SQL,
): Promise<
  { set_id: ChangeSetId; given_name: string; family_name: string; address: string | null }[]
> {
  const { rows } = await execute<{
    set_id: ChangeSetId;
    given_name: string;
    family_name: string;
    address: string | null;
  }>(
    db,
    sql`
    select s.id as set_id, c.given_name, c.family_name, c.address from ${changeSets} s
      cross join lateral (select h.contact_id from ${happenings} h where h.set_id = s.id limit 1) h
      join ${contacts} c on c.id = h.contact_id
    where s.id = any(${sql.param([...ids])}::int[]) and s.count = 1 and c.deleted_at is null and ${seen}`,
  );
  return rows;
}

/** What some sets kept of one contact: before and after. */
export async function keptOf(
  db: Db,
  contactId: ContactId,
  ids: readonly ChangeSetId[],
): Promise<ReadonlyMap<ChangeSetId, ChangeItem>> {
  if (ids.length === 0) return new Map();
  const rows = await db
    .select()
    .from(changeItems)
    .where(and(eq(changeItems.contactId, contactId), inArray(changeItems.setId, [...ids])));
  return new Map(rows.map((row) => [row.setId, row]));
}

/** The next people of an owner after a contact key, in the order of their keys. */
export async function ownedAfter(
  db: Db,
  owner: UserId,
  after: ContactId,
  limit: number,
): Promise<ContactId[]> {
  const { rows } = await execute<{ id: ContactId }>(
    db,
    sql`select c.id from ${contacts} c where c.owner_id = ${owner} and c.deleted_at is null and c.id > ${after} order by c.id limit ${limit}`,
  );
  return rows.map(({ id }) => id);
}

const taggingKind = (put: boolean): HappeningKind => (put ? 'tag put on' : 'tag taken off');

/** The keys of some people above one. */
export async function keysAfter(
  db: Db,
  people: SQL,
  after: ContactId,
  limit: number,
): Promise<ContactId[]> {
  const { rows } = await execute<{ id: ContactId }>(
    db,
    sql`select c.id from ${contacts} c where ${people} and c.id > ${after} order by c.id limit ${limit}`,
  );
  return rows.map(({ id }) => id);
}

/**
 * Puts a tag on (or takes it off) the people of one stretch of contact keys, and writes what changed.
 * Returns how many changed and the last key of the stretch, or undefined at the end.
 */
export async function tagStretch(
  db: Db,
  setId: ChangeSetId,
  people: SQL,
  tagId: TagId,
  put: boolean,
  after: ContactId,
  limit: number,
): Promise<StretchDone | undefined> {
  const stretch = sql`stretch as materialized (select c.id from ${contacts} c where ${people} and c.id > ${after} order by c.id limit ${limit})`;
  const change = put
    ? sql`changed as (insert into ${contactTags} (contact_id, tag_id, at) select id, ${tagId}::int, (select at from ${changeSets} where id = ${setId}) from stretch on conflict do nothing returning contact_id)`
    : sql`changed as (delete from ${contactTags} where tag_id = ${tagId} and contact_id in (select id from stretch) returning contact_id)`;
  const key = tagMark(tagId);
  const { rows } = await execute<{ changed: number; last: ContactId | null }>(
    db,
    sql`
    with ${stretch}, ${change}, happened as (
      insert into ${happenings} (set_id, contact_id, kind, which) select ${setId}::int, contact_id, ${taggingKind(put)}, ${String(tagId)} from changed
    ), items as (
      insert into ${changeItems} (set_id, contact_id, before, after)
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
 * Whether somebody, or something, has to do with a contact since it came in with a set: they were changed or
 * tagged, or what ties them to other capabilities holds. A condition on `contacts c`.
 */
export const hadToDoWithSince = (setId: ChangeSetId, ties: readonly SQL[]): SQL => sql`(
  ${changedSince(setId)} or c.soft_since is not null ${sql.join(ties.map((tie) => sql`or (${tie}) `))})`;

/** With whom something was done after a set, and not taken back. A condition on `contacts c`. */
export const changedSince = (setId: ChangeSetId): SQL =>
  sql`exists (select 1 from ${happenings} h join ${changeSets} s on s.id = h.set_id where h.contact_id = c.id and h.set_id > ${setId} and s.undone_at is null and s.kind <> 'undo')`;

/** Whom a set made, as a condition on `contacts c`. */
export const madeBy = (setId: ChangeSetId): SQL =>
  sql`c.id in (select contact_id from ${happenings} where set_id = ${setId} and kind = ${kindOf('came in')} and which = '')`;

/** Whom a set changed, as a condition on `contacts c`; known for good. */
export const changedBy = (setId: ChangeSetId): SQL =>
  sql`c.id in (select contact_id from ${happenings} where set_id = ${setId})`;

/** Whom an undoing left alone, because they had changed again since. */
export const leftAloneBy = (undoingId: ChangeSetId, undoneId: ChangeSetId): SQL => sql`c.id in (
  select contact_id from ${happenings} where set_id = ${undoneId} except select contact_id from ${happenings} where set_id = ${undoingId})`;

const kindOf = (kind: HappeningKind): HappeningKind => kind;

/** Of these contacts, those with whom somebody has had to do since they came in with a set. */
export async function touchedSince(
  db: Db,
  setId: ChangeSetId,
  ids: readonly ContactId[],
  ties: readonly SQL[],
): Promise<Set<ContactId>> {
  if (ids.length === 0) return new Set();
  const { rows } = await execute<{ id: ContactId }>(
    db,
    sql`select c.id from ${contacts} c where c.id = any(${sql.param(ids)}::int[]) and ${hadToDoWithSince(setId, ties)}`,
  );
  return new Set(rows.map(({ id }) => id));
}

/** The changes of a chain in which each takes the one before back, from what was done at first. */
const chain = (root: ChangeSetId): SQL => sql`with recursive chain as (
  select id from ${changeSets} where id = ${root}
  union all select s.id from ${changeSets} s join chain on s.undoes = chain.id)`;

/** From here on what was done at first holds, or does not; whatever took it back, or made it again, is over. */
export const turn = async (
  db: Db,
  root: ChangeSetId,
  undoneAt: Date | null,
  now: Date,
): Promise<void> => {
  await execute(
    db,
    sql`${chain(root)} update ${changeSets} s set undone_at = case when s.id = ${root} then ${undoneAt}::timestamptz else coalesce(s.undone_at, ${now}::timestamptz) end
      from chain where chain.id = s.id`,
  );
};

/** All that is remembered of some people by changes that take nothing back themselves, by person, in the order of the log. */
export async function logOf(
  db: Db,
  ids: readonly ContactId[],
): Promise<ReadonlyMap<ContactId, LoggedChange[]>> {
  const { rows } = await execute<{
    contact_id: ContactId;
    set: ChangeSetId;
    before: Record<string, unknown> | null;
    after: Record<string, unknown>;
    undone: boolean;
  }>(
    db,
    sql`select i.contact_id, i.set_id as set, i.before, i.after, i.undone
      from (select distinct h.contact_id, h.set_id from ${happenings} h where h.contact_id = any(${sql.param([...ids])}::int[])) h
      join ${changeItems} i on i.set_id = h.set_id and i.contact_id = h.contact_id
      join ${changeSets} s on s.id = i.set_id where s.undoes is null order by i.contact_id, i.set_id`,
  );
  const found = new Map<ContactId, LoggedChange[]>();
  for (const { contact_id, undone, ...one } of rows) {
    const log = found.get(contact_id);
    const change = { ...one, isUndone: undone };
    if (log) log.push(change);
    else found.set(contact_id, [change]);
  }
  return found;
}

export const markItems = async (
  db: Db,
  set: ChangeSetId,
  ids: readonly ContactId[],
  undone: boolean,
): Promise<void> => {
  if (ids.length === 0) return;
  await db
    .update(changeItems)
    .set({ undone })
    .where(and(eq(changeItems.setId, set), inArray(changeItems.contactId, [...ids])));
};

/** Drops what a change set remembers of single people once it is too old to be taken back; its line stays. Returns how many items went. */
export async function forgetItems(db: Db, before: Date, limit: number): Promise<number> {
  const { rows } = await execute<{ gone: number }>(
    db,
    sql`
    with old as (update ${changeSets} set undoable = false where undoable and at < ${before} returning id),
    gone as (delete from ${changeItems} where (set_id, contact_id) in (
      select i.set_id, i.contact_id from ${changeItems} i join ${changeSets} s on s.id = i.set_id where s.at < ${before} limit ${limit}) returning 1)
    select (select count(*) from gone) as gone from (select count(*) from old) o`,
  );
  return rows[0]?.gone ?? 0;
}
