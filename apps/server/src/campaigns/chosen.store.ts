import type { ChosenId } from '@palabra/core/campaigns';
import type { ContactId } from '@palabra/core/contacts';
import { desc, eq, sql } from 'drizzle-orm';
import type { Db } from '../platform/database.js';
import { chosenPeople } from './campaigns.table.js';

export type Chosen = typeof chosenPeople.$inferSelect;

export async function addChosen(
  db: Db,
  values: typeof chosenPeople.$inferInsert,
): Promise<ChosenId> {
  const [row] = await db.insert(chosenPeople).values(values).returning({ id: chosenPeople.id });
  if (!row) throw new Error('the people were not kept');
  return row.id;
}

export async function chosenById(db: Db, id: ChosenId): Promise<Chosen | undefined> {
  const [row] = await db.select().from(chosenPeople).where(eq(chosenPeople.id, id));
  return row;
}

/** Where somebody was chosen by hand, latest first. */
export const chosenWith = (db: Db, people: readonly ContactId[]): Promise<Chosen[]> =>
  db
    .select()
    .from(chosenPeople)
    .where(sql`${chosenPeople.ids} && ${sql.param([...people])}::int[]`)
    .orderBy(desc(chosenPeople.id));
