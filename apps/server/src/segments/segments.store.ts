import type { Role, UserId } from '@palabra/core/office';
import { searchKey } from '@palabra/core/contacts';
import type { Rule, SegmentId } from '@palabra/core/segments';
import { and, desc, eq, getTableColumns, isNull, or, sql, type SQL } from 'drizzle-orm';
import type { Use } from '@palabra/contract/wire';
import { allPools } from '../contacts/index.js';
import { allUsers } from '../platform/sign-in/sign-in.store.js';
import { execute, type Db } from '../platform/database.js';
import { mentions, rewriteTrees, type Rewritten, type Trees } from '../platform/trees.store.js';
import { segments, segmentVersions, views } from './segments.table.js';

export type Segment = typeof segments.$inferSelect;
export interface NamedSegment extends Segment {
  /** In the order of their keys. */
  readonly pools: readonly string[];
  readonly owner: string | null;
  /** Null of an owner who is gone. */
  readonly ownerRole: Role | null;
  readonly inForceByName: string | null;
}

/** How the pools are called that a segment sifts. */
const poolNames = (ids: readonly number[], names: ReadonlyMap<number, string>): string[] =>
  ids.length === 0 ? ['any pool'] : ids.flatMap((id) => names.get(id) ?? []);

/** What is known of a segment without its rules, which may be long. */
export type SegmentHead = Omit<NamedSegment, 'rule' | 'draftRule'> & { readonly hasDraft: boolean };

async function named<S extends Pick<Segment, 'ownerId' | 'poolIds' | 'inForceBy'>>(
  db: Db,
  rows: readonly S[],
): Promise<(S & Pick<NamedSegment, 'pools' | 'owner' | 'ownerRole' | 'inForceByName'>)[]> {
  const names = new Map((await allPools(db)).map(({ id, name }) => [id, name]));
  const people = new Map((await allUsers(db)).map((user) => [user.id, user]));
  return rows.map((segment) => {
    const owner = segment.ownerId === null ? undefined : people.get(segment.ownerId);
    return {
      ...segment,
      pools: poolNames(segment.poolIds, names),
      owner: owner?.name ?? null,
      ownerRole: owner?.role ?? null,
      inForceByName:
        segment.inForceBy === null ? null : (people.get(segment.inForceBy)?.name ?? null),
    };
  });
}

/** By name. */
export async function allSegments(db: Db): Promise<SegmentHead[]> {
  const { rule: _, draftRule, ...columns } = getTableColumns(segments);
  const found = await db
    .select({ ...columns, hasDraft: sql<boolean>`${draftRule} is not null` })
    .from(segments)
    .where(isNull(segments.deletedAt))
    .orderBy(segments.id);
  const rows = (await named(db, found)).map((segment) => ({
    segment,
    key: searchKey(segment.name),
  }));
  return rows
    .sort((a, b) => (a.key < b.key ? -1 : a.key > b.key ? 1 : a.segment.id - b.segment.id))
    .map(({ segment }) => segment);
}

export async function segmentById(db: Db, id: SegmentId): Promise<NamedSegment | undefined> {
  const rows = await db
    .select()
    .from(segments)
    .where(and(isNull(segments.deletedAt), eq(segments.id, id)));
  return (await named(db, rows))[0];
}

/** The rules in force of some segments. */
export async function rulesOf(db: Db, ids: readonly number[]): Promise<ReadonlyMap<number, Rule>> {
  if (ids.length === 0) return new Map();
  const rows = await db
    .select({ id: segments.id, rule: segments.rule })
    .from(segments)
    .where(
      and(isNull(segments.deletedAt), sql`${segments.id} = any(${sql.param([...ids])}::int[])`),
    );
  return new Map(rows.map(({ id, rule }) => [id, rule]));
}

/** How many bytes of rules and arrangements somebody keeps, and all of the office do. */
export async function kept(db: Db, owner: UserId): Promise<{ own: number; all: number }> {
  const { rows } = await execute<{ own: number; all: number }>(
    db,
    sql`
    select coalesce(sum(size) filter (where owner_id = ${owner}), 0)::float8 as own, coalesce(sum(size), 0)::float8 as all from (
      select owner_id, size from ${segments} where deleted_at is null
      union all select owner_id, size from ${views} where deleted_at is null) kept`,
  );
  return rows[0] ?? { own: 0, all: 0 };
}

/** Whether it is deleted or not. */
export async function anySegment(db: Db, id: SegmentId): Promise<Segment | undefined> {
  const [row] = await db.select().from(segments).where(eq(segments.id, id));
  return row;
}

export async function addSegment(
  db: Db,
  { now, ...values }: Omit<typeof segments.$inferInsert, 'createdAt' | 'updatedAt'> & { now: Date },
): Promise<SegmentId> {
  const [row] = await db
    .insert(segments)
    .values({ ...values, createdAt: now, updatedAt: now })
    .returning({ id: segments.id });
  if (!row) throw new Error('the segment was not written');
  return row.id;
}

/** Undefined when another version is there now. */
export async function changeSegment(
  db: Db,
  id: SegmentId,
  version: number,
  values: Partial<typeof segments.$inferInsert>,
  now: Date,
): Promise<Segment | undefined> {
  const [row] = await db
    .update(segments)
    .set({ ...values, version: sql`version + 1`, updatedAt: now })
    .where(and(eq(segments.id, id), eq(segments.version, version), isNull(segments.deletedAt)))
    .returning();
  return row;
}

/** So many rules from before are kept of a segment. */
const KEPT_RULES = 50;

/** Keeps the rule that is in force, before another one takes its place. */
export async function keepOlderRule(
  db: Db,
  { id, version, rule, poolIds, inForceSince, inForceBy }: Segment,
  userId: UserId,
  now: Date,
): Promise<void> {
  await db
    .insert(segmentVersions)
    .values({
      segmentId: id,
      version,
      rule,
      poolIds,
      since: inForceSince,
      madeBy: inForceBy,
      at: now,
      userId,
    })
    .onConflictDoNothing();
  // Nobody looks further back.
  await execute(
    db,
    sql`delete from ${segmentVersions} where segment_id = ${id} and version <= (select version from ${segmentVersions} where segment_id = ${id} order by version desc offset ${KEPT_RULES} limit 1)`,
  );
}

/** The latest first. */
export const olderRules = (
  db: Db,
  id: SegmentId,
): Promise<(typeof segmentVersions.$inferSelect)[]> =>
  db
    .select()
    .from(segmentVersions)
    .where(eq(segmentVersions.segmentId, id))
    .orderBy(desc(segmentVersions.version))
    .limit(200);

export const segmentTrees: Trees = {
  table: segments,
  tree: segments.rule,
  among: sql`deleted_at is null`,
};
export const draftTrees: Trees = {
  table: segments,
  tree: segments.draftRule,
  among: sql`deleted_at is null`,
};
export const viewTrees: Trees = { table: views, tree: views.rule, among: sql`deleted_at is null` };

/** Changes rules where `change` gives another one, and keeps the ones before. */
export async function rewriteSegments(
  db: Db,
  change: (rule: Rule) => Rule,
  now: Date,
): Promise<readonly Rewritten[]> {
  const written = await rewriteTrees(db, segmentTrees, change, now);
  for (const { thingId, before } of written)
    await execute(
      db,
      sql`insert into ${segmentVersions} (segment_id, version, rule, pool_ids, since, made_by, at)
        select id, version - 1, ${JSON.stringify(before)}::jsonb, pool_ids, in_force_since, in_force_by, ${now} from ${segments} where id = ${thingId} on conflict do nothing`,
    );
  return written;
}

/** The tags that a rule `r` names, each once. */
const tagsNamed = sql`(select distinct (t #>> '{}')::int as tag from jsonb_path_query(r, 'lax $.** ? (@.kind == "tag" || @.kind == "since").tags[*]') t)`;

export interface NamedTagRow extends Record<string, unknown> {
  readonly tag: number;
  readonly id: number;
  readonly name: string;
  readonly waits: boolean;
}

/** What a colleague has for themselves is not named. */
const segmentName = (userId: UserId): SQL =>
  sql`case when s.owner_id = ${userId} or s.sharing = 'all' or s.sharing = 'some' and s.shared_with @> array[${userId}::int] then s.name else 'a colleague’s segment' end`;

export const tagsOfSegments = (db: Db, userId: UserId): Promise<NamedTagRow[]> =>
  tagsOf(db, userId, sql`s.rule`);
export const tagsOfDrafts = (db: Db, userId: UserId): Promise<NamedTagRow[]> =>
  tagsOf(db, userId, sql`s.draft_rule`);

async function tagsOf(db: Db, userId: UserId, tree: SQL): Promise<NamedTagRow[]> {
  const { rows } = await execute<NamedTagRow>(
    db,
    sql`select t.tag, s.id, s.name, false as waits from (select s.id, ${segmentName(userId)} as name, ${tree} as r from ${segments} s where s.deleted_at is null and ${tree} is not null) s
      cross join lateral ${tagsNamed} t order by s.id`,
  );
  return rows;
}

/** What a colleague has for themselves is not named. */
export async function tagsOfViews(db: Db, userId: UserId): Promise<NamedTagRow[]> {
  const { rows } = await execute<NamedTagRow>(
    db,
    sql`select t.tag, v.id, case when v.own then v.name else 'a colleague’s view' end as name, false as waits
      from (select id, name, rule as r, owner_id = ${userId} or shared_with_all as own from ${views} where deleted_at is null and rule is not null) v
      cross join lateral ${tagsNamed} t order by v.id`,
  );
  return rows;
}

/** Segments whose rule or draft names a field. */
export async function segmentsAsking(db: Db, field: string, userId: UserId): Promise<Use[]> {
  const { rows } = await execute<{ id: number; name: string }>(
    db,
    sql`select s.id, ${segmentName(userId)} as name from ${segments} s
      where s.deleted_at is null and (strpos(s.rule::text, ${`"${field}"`}) > 0 or strpos(s.draft_rule::text, ${`"${field}"`}) > 0)
      order by s.id limit 200`,
  );
  return rows;
}

/** Views whose rule or arrangement names a field; what a colleague has for themselves is not named. */
export async function viewsShowing(db: Db, field: string, userId: UserId): Promise<Use[]> {
  const rows = await db
    .select()
    .from(views)
    .where(
      and(
        isNull(views.deletedAt),
        or(mentions(views.rule, field), mentions(views.arrangement, field)),
      ),
    )
    .orderBy(views.id)
    .limit(200);
  return rows.map(({ id, name, ownerId, sharedWithAll }) => ({
    id,
    name: ownerId === userId || sharedWithAll ? name : 'a colleague’s view',
  }));
}

export const setDeleted = async (
  db: Db,
  id: SegmentId,
  at: Date | null,
): Promise<string | undefined> => {
  const rows = await db
    .update(segments)
    .set({ deletedAt: at })
    .where(eq(segments.id, id))
    .returning({ name: segments.name });
  return rows[0]?.name;
};
