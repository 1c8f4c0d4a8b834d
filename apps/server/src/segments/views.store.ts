import type { UserId } from '@palabra/core/office';
import type { Arrangement, Rule, ViewId } from '@palabra/core/segments';
import { and, eq, isNull, or, sql, type SQL } from 'drizzle-orm';
import type { Db } from '../platform/database.js';
import { users } from '../platform/sign-in/sign-in.table.js';
import { startViews, views } from './segments.table.js';

export type View = typeof views.$inferSelect;
export type ViewWithOwner = View & { readonly owner: string };

export interface ViewValues {
  readonly name: string;
  readonly sharedWithAll: boolean;
  readonly sharedWith: readonly UserId[];
  readonly arrangement: Arrangement;
  readonly rule: Rule | null;
}

/** Theirs, and those that are shared with them. */
const seenBy = (userId: UserId): SQL | undefined =>
  and(
    isNull(views.deletedAt),
    or(
      eq(views.ownerId, userId),
      views.sharedWithAll,
      sql`${views.sharedWith} @> ${JSON.stringify([userId])}::jsonb`,
    ),
  );

const withOwner = (db: Db) =>
  db
    .select({ view: views, owner: users.name })
    .from(views)
    .innerJoin(users, eq(users.id, views.ownerId));

export async function viewsOf(db: Db, userId: UserId): Promise<ViewWithOwner[]> {
  const rows = await withOwner(db).where(seenBy(userId)).orderBy(views.id).limit(500);
  return rows.map(({ view, owner }) => ({ ...view, owner }));
}

export async function viewFor(db: Db, id: ViewId, userId: UserId): Promise<View | undefined> {
  const [row] = await withOwner(db).where(and(eq(views.id, id), seenBy(userId)));
  return row?.view;
}

export async function addView(
  db: Db,
  ownerId: UserId,
  values: ViewValues,
  now: Date,
): Promise<ViewId> {
  const [row] = await db
    .insert(views)
    .values({ ...values, ownerId, createdAt: now, updatedAt: now })
    .returning({ id: views.id });
  if (!row) throw new Error('the view was not written');
  return row.id;
}

/** Undefined when another version is there now. */
export async function changeView(
  db: Db,
  id: ViewId,
  version: number,
  values: ViewValues,
  now: Date,
): Promise<number | undefined> {
  const [row] = await db
    .update(views)
    .set({ ...values, version: sql`version + 1`, updatedAt: now })
    .where(and(eq(views.id, id), eq(views.version, version), isNull(views.deletedAt)))
    .returning({ version: views.version });
  return row?.version;
}

/** False where they have no such view. */
export async function setViewDeleted(
  db: Db,
  id: ViewId,
  ownerId: UserId,
  at: Date | null,
): Promise<boolean> {
  const rows = await db
    .update(views)
    .set({ deletedAt: at })
    .where(and(eq(views.id, id), eq(views.ownerId, ownerId)))
    .returning({ id: views.id });
  return rows.length > 0;
}

export async function startOf(db: Db, userId: UserId): Promise<ViewId | undefined> {
  const [row] = await db.select().from(startViews).where(eq(startViews.userId, userId));
  return row?.viewId;
}

export async function setStart(db: Db, userId: UserId, viewId: ViewId | null): Promise<void> {
  if (viewId === null) await db.delete(startViews).where(eq(startViews.userId, userId));
  else
    await db
      .insert(startViews)
      .values({ userId, viewId })
      .onConflictDoUpdate({ target: startViews.userId, set: { viewId } });
}
