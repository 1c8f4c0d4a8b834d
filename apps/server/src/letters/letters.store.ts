import type { UserId } from '@palabra/core/office';
import type { LetterContent, LetterId } from '@palabra/core/letters';
import { and, eq, isNull, sql } from 'drizzle-orm';
import { execute, type Db } from '../platform/database.js';
import type { Use } from '@palabra/contract/wire';
import { mentions } from '../platform/trees.store.js';
import { letters, letterVersions } from './letters.table.js';

export type Letter = typeof letters.$inferSelect;

export interface LetterLineRow extends Record<string, unknown> {
  readonly id: LetterId;
  readonly name: string;
  readonly subject: LetterContent['subject'];
  readonly updated_at: Date;
}

export async function allLetters(db: Db): Promise<LetterLineRow[]> {
  const { rows } = await execute<LetterLineRow>(
    db,
    sql`
    select l.id, l.name, l.content -> 'subject' as subject, l.updated_at from ${letters} l where l.deleted_at is null order by l.updated_at desc, l.id desc limit 500`,
  );
  return rows;
}

/** Letters that name a personal field. */
export const lettersNaming = (db: Db, field: string): Promise<Use[]> =>
  db
    .select({ id: letters.id, name: letters.name })
    .from(letters)
    .where(and(isNull(letters.deletedAt), mentions(letters.content, field)))
    .orderBy(letters.id)
    .limit(200);

export async function letterById(db: Db, id: LetterId): Promise<Letter | undefined> {
  const [row] = await db
    .select()
    .from(letters)
    .where(and(eq(letters.id, id), isNull(letters.deletedAt)));
  return row;
}

export async function addLetter(
  db: Db,
  name: string,
  content: LetterContent,
  now: Date,
): Promise<LetterId> {
  const [row] = await db
    .insert(letters)
    .values({ name, content, createdAt: now, updatedAt: now })
    .returning({ id: letters.id });
  if (!row) throw new Error('the letter was not written');
  return row.id;
}

/** Letters are saved as they are made; states within this time of each other by one person share a kept version. */
const SAME_SITTING_MS = 120_000;

export async function changeLetter(
  db: Db,
  id: LetterId,
  version: number,
  name: string,
  content: LetterContent,
  userId: UserId,
  now: Date,
): Promise<Letter | undefined> {
  const before = await letterById(db, id);
  const [row] = await db
    .update(letters)
    .set({ name, content, version: sql`version + 1`, updatedAt: now })
    .where(and(eq(letters.id, id), eq(letters.version, version), isNull(letters.deletedAt)))
    .returning();
  if (!row || !before) return undefined;
  const { rows } = await execute<{ at: Date; user_id: number | null }>(
    db,
    sql`select at, user_id from ${letterVersions} where letter_id = ${id} order by version desc limit 1`,
  );
  const [last] = rows;
  if (!last || last.user_id !== userId || now.getTime() - last.at.getTime() > SAME_SITTING_MS) {
    await db
      .insert(letterVersions)
      .values({ letterId: id, version, content: before.content, at: now, userId });
  }
  return row;
}

export const setLetterDeleted = async (
  db: Db,
  id: LetterId,
  at: Date | null,
): Promise<string | undefined> => {
  const rows = await db
    .update(letters)
    .set({ deletedAt: at })
    .where(eq(letters.id, id))
    .returning({ name: letters.name });
  return rows[0]?.name;
};
