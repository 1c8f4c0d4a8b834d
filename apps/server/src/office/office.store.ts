import { and, eq, sql } from 'drizzle-orm';
import { execute, type Db } from '../platform/database.js';
import { offices } from './office.table.js';

export type Office = typeof offices.$inferSelect;

export async function findOffice(db: Db): Promise<Office | undefined> {
  const [office] = await db.select().from(offices).limit(1);
  return office;
}

/** Whether the database answers. */
export async function answers(db: Db): Promise<boolean> {
  const { rows } = await execute(db, sql`select 1 as one`);
  return rows.length === 1;
}

/** The office; there is one as soon as anybody can sign in. */
export async function theOffice(db: Db): Promise<Office> {
  const office = await findOffice(db);
  if (!office) throw new Error('the office is not set up');
  return office;
}

/** False when somebody else has just set the office up. */
export async function addOffice(
  db: Db,
  office: Omit<typeof offices.$inferInsert, 'id'>,
): Promise<boolean> {
  const rows = await db
    .insert(offices)
    .values({ id: 1, ...office })
    .onConflictDoNothing()
    .returning({ id: offices.id });
  return rows.length > 0;
}

/** What the mail server said it takes; a fact about it, no change of the office's settings. False while there is no office. */
export async function keepMailTakesUtf8(db: Db, mailTakesUtf8: boolean): Promise<boolean> {
  const rows = await db.update(offices).set({ mailTakesUtf8 }).returning({ id: offices.id });
  return rows.length > 0;
}

export async function changeOffice(
  db: Db,
  version: number,
  values: Partial<Office>,
): Promise<Office | undefined> {
  const [office] = await db
    .update(offices)
    .set({ ...values, version: sql`version + 1` })
    .where(and(eq(offices.id, 1), eq(offices.version, version)))
    .returning();
  return office;
}
