import { eq, lte } from 'drizzle-orm';
import type { Db } from '../platform/database.js';
import { notes } from './delivery.table.js';

export type OfficeNote = typeof notes.$inferSelect;

export async function addNote(
  db: Db,
  note: Omit<typeof notes.$inferInsert, 'id'>,
): Promise<number> {
  const [row] = await db.insert(notes).values(note).returning({ id: notes.id });
  if (!row) throw new Error('the note was not written');
  return row.id;
}

export async function noteById(db: Db, id: number): Promise<OfficeNote | undefined> {
  const [row] = await db.select().from(notes).where(eq(notes.id, id));
  return row;
}

export async function dueNotes(db: Db, now: Date): Promise<number[]> {
  const rows = await db
    .select({ id: notes.id })
    .from(notes)
    .where(lte(notes.nextAt, now))
    .orderBy(notes.nextAt)
    .limit(20);
  return rows.map(({ id }) => id);
}

export const tryNoteLater = async (
  db: Db,
  id: number,
  attempts: number,
  nextAt: Date,
): Promise<void> => {
  await db.update(notes).set({ attempts, nextAt }).where(eq(notes.id, id));
};

export const dropNote = async (db: Db, id: number): Promise<void> => {
  await db.delete(notes).where(eq(notes.id, id));
};
