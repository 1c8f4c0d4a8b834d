// What imports keep of people: the files, which rows were whose, and the cells of refused rows.
import type { ContactId } from '@palabra/core/contacts';
import { rowOutcomes, type ImportId } from '@palabra/core/intake';
import { and, asc, eq, gt, inArray, ne, sql } from 'drizzle-orm';
import { execute, type Db } from '../platform/database.js';
import { importLooks, importMends, importRows, imports } from './intake.table.js';
import { dropUnused, type Import } from './intake.store.js';

const ids = (people: readonly ContactId[]) => sql`any(${sql.param([...people])}::int[])`;

/** On which rows of which files some people came. Each file is asked by outcome, as its rows are indexed. */
const rowsOfPeople = (people: readonly ContactId[]) => sql`(
  select i.id, r.row from ${imports} i cross join unnest(${sql.param([...rowOutcomes])}::text[]) o(outcome)
    join ${importRows} r on r.import_id = i.id and r.outcome = o.outcome and r.contact_id = ${ids(people)})`;

export async function filesWith(
  db: Db,
  people: readonly ContactId[],
): Promise<{ name: string; at: Date; rows: string }[]> {
  const { rows } = await execute<{ name: string; at: Date; rows: string }>(
    db,
    sql`
    select i.file_name as name, i.created_at as at, string_agg(f.row::text, ', ' order by f.row) as rows
    from ${rowsOfPeople(people)} f join ${imports} i on i.id = f.id group by i.id order by i.created_at desc`,
  );
  return rows;
}

/** The rows of one file on which some people came. */
export async function rowsIn(
  db: Db,
  id: ImportId,
  people: readonly ContactId[],
): Promise<ReadonlySet<number>> {
  const { rows } = await execute<{ row: number }>(
    db,
    sql`
    select row from ${rowsOfPeople(people)} f where id = ${id}
    union select row from ${importLooks} where import_id = ${id} and contact_id = ${ids(people)}`,
  );
  return new Set(rows.map(({ row }) => row));
}

export async function importAfter(db: Db, id: number): Promise<Import | undefined> {
  const [row] = await db
    .select()
    .from(imports)
    .where(gt(imports.id, sql`${id}`))
    .orderBy(asc(imports.id))
    .limit(1);
  return row;
}

export async function importWith(
  db: Db,
  id: number,
  people: readonly ContactId[],
): Promise<ImportId | undefined> {
  const { rows } = await execute<{ id: ImportId }>(
    db,
    sql`select min(id) as id from ${rowsOfPeople(people)} f where id > ${id} having min(id) is not null`,
  );
  return rows[0]?.id;
}

/** The beginning of a refused row's cells, and why it was refused, which may name an address. */
export async function refusedAfter(
  db: Db,
  id: ImportId,
  after: number,
  limit: number,
): Promise<{ row: number; reason: string | null; cells: string[] | null }[]> {
  const { rows } = await execute<{ row: number; reason: string | null; cells: string[] | null }>(
    db,
    sql`select row, reason, cells from ${importRows} where import_id = ${id} and reason is not null and row > ${after} order by row limit ${limit}`,
  );
  return rows;
}

export const forgetRefused = async (
  db: Db,
  id: ImportId,
  rows: readonly number[],
  reason: string,
): Promise<void> => {
  if (rows.length > 0)
    await execute(
      db,
      sql`update ${importRows} set cells = null, reason = case when outcome = 'refused' then ${reason} end where import_id = ${id} and row = any(${sql.param([...rows])}::int[])`,
    );
};

/** What was kept of the rows of some people for looking at it. */
export const forgetCells = async (
  db: Db,
  id: ImportId,
  people: readonly ContactId[],
): Promise<void> => {
  await execute(
    db,
    sql`update ${importRows} set cells = null, reason = null where import_id = ${id} and outcome = any(${sql.param([...rowOutcomes])}::text[]) and contact_id = ${ids(people)} and reason is not null`,
  );
};

/** What was typed into cells by hand. */
export const mendsAfter = (
  db: Db,
  id: ImportId,
  after: number,
  limit: number,
): Promise<{ row: number; cells: Record<number, string> }[]> =>
  db
    .select({ row: importMends.row, cells: importMends.cells })
    .from(importMends)
    .where(and(eq(importMends.importId, id), gt(importMends.row, after)))
    .orderBy(asc(importMends.row))
    .limit(limit);

/** Takes away what was done to rows by hand, and what they would have done: that is looked at again. */
export async function forgetMends(db: Db, id: ImportId, rows: readonly number[]): Promise<void> {
  if (rows.length === 0) return;
  await db
    .delete(importMends)
    .where(and(eq(importMends.importId, id), inArray(importMends.row, [...rows])));
  await forgetLooks(db, id);
}

/** Takes away what the rows would do: it may name whoever is like somebody in the file. It is looked at again. */
export async function forgetLooks(db: Db, id: ImportId): Promise<void> {
  await db.delete(importLooks).where(eq(importLooks.importId, id));
  await db
    .update(imports)
    .set({ lookWanted: sql`${imports.lookWanted} + 1`, lookVersion: null, look: null })
    .where(eq(imports.id, id));
}

/** Puts another file in the place of an import's, unless it has a third by now, or is being read; the old one goes when no import has it. False when it was too late. */
export async function takeFile(
  tx: Db,
  { id, fileId, originalId }: Pick<Import, 'id' | 'fileId' | 'originalId'>,
  by: 'running' | undefined,
  values: Pick<
    Import,
    'fileId' | 'originalId' | 'sheets' | 'encoding' | 'guesses' | 'beginning' | 'sample'
  >,
): Promise<boolean> {
  const moved = await tx
    .update(imports)
    .set(values)
    .where(
      and(
        eq(imports.id, id),
        eq(imports.fileId, fileId),
        by === 'running' ? undefined : ne(imports.state, 'running'),
      ),
    )
    .returning({ id: imports.id });
  if (moved.length === 0) return false;
  await dropUnused(tx, [fileId, originalId]);
  return true;
}
