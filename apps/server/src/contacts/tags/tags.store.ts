// Tags as things of their own: on how many they are, how that went, and how one goes away.
import {
  tagKey,
  tagMark,
  type AlikeTags,
  type ChangeSetId,
  type ContactId,
  type TagId,
} from '@palabra/core/contacts';
import type { TagUseKind } from '@palabra/contract/contacts';
import { and, eq, isNotNull, isNull, lt, sql, type SQL } from 'drizzle-orm';
import { execute, type Db } from '../../platform/database.js';
import type { Rewritten } from '../../platform/trees.store.js';
import { changeItems, changeSets, happenings, rewrittenTrees } from '../changes/changes.table.js';
import type { StretchDone } from '../changes/changes.store.js';
import { contacts, contactTags } from '../people/people.table.js';
import { tags, tagsToldApart } from '../vocabulary/vocabulary.table.js';
import type { Tag } from '../vocabulary/vocabulary.store.js';

/** On how many of some people each tag is; `among` is a condition on `contacts c`, undefined for everybody. */
export async function tagCounts(db: Db, among?: SQL): Promise<ReadonlyMap<number, number>> {
  const { rows } = await execute<{ tag_id: TagId; count: number }>(
    db,
    among
      ? sql`select t.tag_id, count(*) as count from ${contactTags} t join ${contacts} c on c.id = t.contact_id where ${among} group by t.tag_id`
      : sql`select tag_id, count(*) as count from ${contactTags} group by tag_id`,
  );
  return new Map(rows.map(({ tag_id, count }) => [tag_id, count]));
}

export interface TagMonth {
  readonly tag: number;
  /** `YYYY-MM`, where the office is. */
  readonly month: string;
  /** Put on, less taken off. */
  readonly net: number;
  readonly last_put_on: Date | null;
}

/** How far happenings have been read, by their key. */
export interface HappeningCursor {
  readonly set_id: number;
  readonly kind: string;
  readonly which: string;
  readonly contact_id: number;
}
export const fromTheBeginning: HappeningCursor = { set_id: 0, kind: '', which: '', contact_id: 0 };

/** What was put on and taken off, by month, in the next so many happenings; `last` is undefined at the end. */
export async function tagMonthsAfter(
  db: Db,
  timeZone: string,
  cursor: HappeningCursor,
  limit: number,
  among?: SQL,
): Promise<{ months: readonly TagMonth[]; last: HappeningCursor | undefined }> {
  const { rows } = await execute<{
    months: (Omit<TagMonth, 'last_put_on'> & { readonly last_put_on: string | null })[] | null;
    last: HappeningCursor | null;
  }>(
    db,
    sql`
    with stretch as materialized (select set_id, kind, which, contact_id from ${happenings}
      where (set_id, kind, which, contact_id) > (${cursor.set_id}, ${cursor.kind}, ${cursor.which}, ${cursor.contact_id})
      order by set_id, kind, which, contact_id limit ${limit}),
    counted as (select h.set_id, h.which, h.kind = 'tag put on' as is_put, count(*)::int as count from stretch h
      ${among ? sql`join ${contacts} c on c.id = h.contact_id and ${among}` : sql``}
      where h.kind in ('tag put on', 'tag taken off') group by 1, 2, 3),
    months as (select n.which::int as tag, to_char(s.at at time zone ${timeZone}, 'YYYY-MM') as month,
        sum(case when n.is_put then n.count else -n.count end)::int as net, max(case when n.is_put then s.at end) as last_put_on
      from counted n join ${changeSets} s on s.id = n.set_id group by 1, 2)
    select (select jsonb_agg(m) from months m) as months,
      (select to_jsonb(l) from (select * from stretch order by set_id desc, kind desc, which desc, contact_id desc limit 1) l) as last`,
  );
  return {
    months: (rows[0]?.months ?? []).map((one) => ({
      ...one,
      last_put_on: one.last_put_on === null ? null : new Date(one.last_put_on),
    })),
    last: rows[0]?.last ?? undefined,
  };
}

/** Tags that are there, locked in the order of their keys, so that two who lock the same ones do not wait for each other. */
export async function lockTags(db: Db, ids: readonly TagId[]): Promise<Tag[]> {
  const { rows } = await execute<{ id: TagId }>(
    db,
    sql`select id from ${tags} where id = any(${sql.param([...ids])}::int[]) order by id for update`,
  );
  const found: Tag[] = [];
  for (const { id } of rows) found.push(...(await db.select().from(tags).where(eq(tags.id, id))));
  return found;
}

export const changeTag = async (
  db: Db,
  id: TagId,
  { name, ...rest }: Pick<Tag, 'name' | 'colour' | 'purpose'>,
): Promise<void> => {
  await db
    .update(tags)
    .set({ ...rest, name, nameKey: tagKey(name), version: sql`${tags.version} + 1` })
    .where(eq(tags.id, id));
};

export const setTagDeleted = async (db: Db, id: TagId, at: Date | null): Promise<void> => {
  await db
    .update(tags)
    .set({ deletedAt: at, version: sql`${tags.version} + 1` })
    .where(eq(tags.id, id));
};

/** Another tag that is there and reads the same. */
export async function sameNamed(db: Db, name: string, but: TagId): Promise<Tag | undefined> {
  const [tag] = await db
    .select()
    .from(tags)
    .where(and(eq(tags.nameKey, tagKey(name)), isNull(tags.deletedAt), sql`${tags.id} <> ${but}`));
  return tag;
}

export async function toldApart(db: Db): Promise<ReadonlySet<string>> {
  const rows = await db.select().from(tagsToldApart);
  return new Set(rows.map(({ one, other }) => `${one} ${other}`));
}

export const tellApart = async (db: Db, { one, other }: AlikeTags, are: boolean): Promise<void> => {
  if (are) await db.insert(tagsToldApart).values({ one, other }).onConflictDoNothing();
  else
    await db
      .delete(tagsToldApart)
      .where(and(eq(tagsToldApart.one, one), eq(tagsToldApart.other, other)));
};

type RewrittenBy = Rewritten & { readonly kind: TagUseKind };

/** What a set wrote over, instead of what it wrote over before. */
export async function keepRewritten(
  db: Db,
  setId: ChangeSetId,
  written: readonly RewrittenBy[],
): Promise<void> {
  await db.delete(rewrittenTrees).where(eq(rewrittenTrees.setId, setId));
  if (written.length > 0)
    await db.insert(rewrittenTrees).values(written.map((one) => ({ setId, ...one })));
}

export const rewrittenBy = async (db: Db, setId: ChangeSetId): Promise<RewrittenBy[]> => {
  const rows = await db.select().from(rewrittenTrees).where(eq(rewrittenTrees.setId, setId));
  return rows.map(({ setId: _, ...one }) => one);
};

/**
 * Takes a tag off the next people who have it, and puts another on them in its place; writes what was before and what
 * happened. Undefined at the end.
 */
export async function tagGoesStretch(
  db: Db,
  setId: ChangeSetId,
  { tagGone, into }: { readonly tagGone: TagId; readonly into: TagId | null },
  after: ContactId,
  limit: number,
): Promise<StretchDone | undefined> {
  const gone = tagMark(tagGone);
  const other = into === null ? '' : tagMark(into);
  const { rows } = await execute<{ changed: number; last: ContactId | null }>(
    db,
    sql`
    with stretch as materialized (select contact_id, at from ${contactTags} where tag_id = ${tagGone} and contact_id > ${after} order by contact_id limit ${limit}),
    put as (insert into ${contactTags} (contact_id, tag_id, at) select contact_id, ${into}::int, at from stretch where ${into}::int is not null on conflict do nothing returning contact_id),
    taken as (delete from ${contactTags} where tag_id = ${tagGone} and contact_id in (select contact_id from stretch) returning contact_id),
    done as (select t.contact_id, p.contact_id is not null as is_put from taken t left join put p on p.contact_id = t.contact_id),
    items as (insert into ${changeItems} (set_id, contact_id, before, after)
      select ${setId}::int, contact_id,
        jsonb_build_object(${gone}::text, true) || case when is_put then jsonb_build_object(${other}::text, false) else '{}' end,
        jsonb_build_object(${gone}::text, false) || case when is_put then jsonb_build_object(${other}::text, true) else '{}' end
      from done on conflict do nothing),
    happened as (insert into ${happenings} (set_id, contact_id, kind, which)
      select ${setId}::int, contact_id, 'tag taken off', ${String(tagGone)}::text from done
      union all select ${setId}::int, contact_id, 'tag put on', ${String(into ?? '')}::text from done where is_put on conflict do nothing)
    select (select count(*) from done) as changed, (select max(contact_id) from stretch) as last`,
  );
  const [row] = rows;
  return row && row.last !== null
    ? { changed: row.changed, leftAlone: 0, last: row.last }
    : undefined;
}

/** Tags that can't be brought back any more, and what was kept for that. */
export async function purgeTags(db: Db, before: Date): Promise<void> {
  await execute(
    db,
    sql`delete from ${rewrittenTrees} r using ${changeSets} s where s.id = r.set_id and s.at < ${before}`,
  );
  const gone = await db
    .delete(tags)
    .where(and(isNotNull(tags.deletedAt), lt(tags.deletedAt, before)))
    .returning({ id: tags.id });
  const ids = sql.param(gone.map(({ id }) => id));
  if (gone.length === 0) return;
  await execute(
    db,
    sql`delete from ${tagsToldApart} where one = any(${ids}::int[]) or other = any(${ids}::int[])`,
  );
  await execute(db, sql`delete from ${contactTags} where tag_id = any(${ids}::int[])`);
}
