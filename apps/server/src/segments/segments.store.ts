import type { UserId } from '@palabra/core/office';
import { searchKey, type PoolId } from '@palabra/core/contacts';
import type { Rule, SegmentId } from '@palabra/core/segments';
import { and, eq, isNull, or, sql } from 'drizzle-orm';
import type { Use } from '@palabra/contract/wire';
import { pools } from '../contacts/vocabulary/vocabulary.table.js';
import { execute, type Db } from '../platform/database.js';
import { mentions, rewriteTrees, type Rewritten, type Trees } from '../platform/trees.store.js';
import { segments, segmentVersions, views } from './segments.table.js';

export type Segment = typeof segments.$inferSelect;
export type SegmentWithPool = Segment & { readonly pool: string };

export async function allSegments(db: Db): Promise<SegmentWithPool[]> {
  const rows = await db
    .select({ segment: segments, pool: pools.name })
    .from(segments)
    .innerJoin(pools, eq(pools.id, segments.poolId))
    .where(isNull(segments.deletedAt))
    .orderBy(segments.id);
  const named = rows.map(({ segment, pool }) => ({
    ...segment,
    pool,
    key: searchKey(segment.name),
  }));
  return named.sort((a, b) => (a.key < b.key ? -1 : a.key > b.key ? 1 : a.id - b.id));
}

export async function segmentById(db: Db, id: SegmentId): Promise<SegmentWithPool | undefined> {
  const [row] = await db
    .select({ segment: segments, pool: pools.name })
    .from(segments)
    .innerJoin(pools, eq(pools.id, segments.poolId))
    .where(and(eq(segments.id, id), isNull(segments.deletedAt)));
  return row && { ...row.segment, pool: row.pool };
}

export async function addSegment(
  db: Db,
  segment: { name: string; description: string; poolId: PoolId; rule: Rule; now: Date },
): Promise<SegmentId> {
  const { now, ...values } = segment;
  const [row] = await db
    .insert(segments)
    .values({ ...values, createdAt: now, updatedAt: now })
    .returning({ id: segments.id });
  if (!row) throw new Error('the segment was not written');
  return row.id;
}

/** Keeps the rule that is replaced; undefined when another version is there now. */
export async function changeSegment(
  db: Db,
  id: SegmentId,
  version: number,
  values: { name: string; description: string; poolId: PoolId; rule: Rule },
  userId: UserId,
  now: Date,
): Promise<Segment | undefined> {
  const [before] = await db.select().from(segments).where(eq(segments.id, id));
  const [row] = await db
    .update(segments)
    .set({ ...values, version: sql`version + 1`, updatedAt: now })
    .where(and(eq(segments.id, id), eq(segments.version, version), isNull(segments.deletedAt)))
    .returning();
  if (row && before && JSON.stringify(before.rule) !== JSON.stringify(row.rule)) {
    await db
      .insert(segmentVersions)
      .values({ segmentId: id, version, rule: before.rule, at: now, userId });
  }
  return row;
}

export const segmentTrees: Trees = {
  table: segments,
  tree: segments.rule,
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
      sql`insert into ${segmentVersions} (segment_id, version, rule, at)
        select id, version - 1, ${JSON.stringify(before)}::jsonb, ${now} from ${segments} where id = ${thingId} on conflict do nothing`,
    );
  return written;
}

/** The tags that a rule `r` names, each once. */
const tagsNamed = sql`(select distinct (t #>> '{}')::int as tag from jsonb_path_query(r, 'lax $.** ? (@.kind == "tag").tags[*]') t)`;

export interface NamedTagRow extends Record<string, unknown> {
  readonly tag: number;
  readonly id: number;
  readonly name: string;
  readonly waits: boolean;
}

export async function tagsOfSegments(db: Db): Promise<NamedTagRow[]> {
  const { rows } = await execute<NamedTagRow>(
    db,
    sql`select t.tag, s.id, s.name, false as waits from (select id, name, rule as r from ${segments} where deleted_at is null) s
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

/** Segments whose rule names a field. */
export const segmentsAsking = (db: Db, field: string): Promise<Use[]> =>
  db
    .select({ id: segments.id, name: segments.name })
    .from(segments)
    .where(and(isNull(segments.deletedAt), mentions(segments.rule, field)))
    .orderBy(segments.id)
    .limit(200);

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
