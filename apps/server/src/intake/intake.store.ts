import type { UserId } from '@palabra/core/office';
import type { ContactId, ChangeSetId, TagId } from '@palabra/core/contacts';
import type { ImportId, ImportState, KnownColumn, RowOutcome } from '@palabra/core/intake';
import { and, desc, eq, inArray, isNull, lt, ne, or, sql, type SQL } from 'drizzle-orm';
import { alias } from 'drizzle-orm/pg-core';
import { changeSets } from '../contacts/changes/changes.table.js';
import { execute, type Db } from '../platform/database.js';
import { dropFile } from '../platform/files/files.store.js';
import { users } from '../platform/sign-in/sign-in.table.js';
import { importRows, imports, importShapes } from './intake.table.js';

export type Import = typeof imports.$inferSelect;
export type ImportRow = typeof importRows.$inferInsert;

export async function addImport(
  db: Db,
  values: Omit<typeof imports.$inferInsert, 'id'>,
): Promise<ImportId> {
  const [row] = await db.insert(imports).values(values).returning({ id: imports.id });
  if (!row) throw new Error('the import was not written');
  return row.id;
}

/** An import with who brought it, and what became of it when it was taken back. */
export interface ImportLine {
  readonly row: Import;
  readonly by: string;
  readonly undoing: {
    readonly id: ChangeSetId;
    readonly count: number;
    readonly leftAlone: number;
    readonly finishedAt: Date | null;
  } | null;
}

const undoings = alias(changeSets, 'undoings');

const lines = (db: Db) =>
  db
    .select({
      row: imports,
      by: users.name,
      undoing: {
        id: undoings.id,
        count: undoings.count,
        leftAlone: undoings.leftAlone,
        finishedAt: undoings.finishedAt,
      },
    })
    .from(imports)
    .innerJoin(users, eq(users.id, imports.userId))
    // One that was taken back itself is over: the import holds again.
    .leftJoin(undoings, and(eq(undoings.undoes, imports.changeSetId), isNull(undoings.undoneAt)));

/** One import, of one user's own when `userId` is given. */
export async function importById(
  db: Db,
  id: ImportId,
  userId?: UserId,
): Promise<ImportLine | undefined> {
  const [line] = await lines(db).where(
    and(eq(imports.id, id), userId === undefined ? undefined : eq(imports.userId, userId)),
  );
  return line;
}

export const lastImports = (db: Db, limit: number, userId?: UserId): Promise<ImportLine[]> =>
  lines(db)
    .where(
      and(
        ne(imports.state, 'thrown away'),
        userId === undefined ? undefined : eq(imports.userId, userId),
      ),
    )
    .orderBy(desc(imports.id))
    .limit(limit);

/** Moves from one state to another; false when it was not in that state any more. */
export async function moveImport(
  db: Db,
  id: ImportId,
  from: ImportState,
  values: Partial<Import>,
): Promise<boolean> {
  const rows = await db
    .update(imports)
    .set(values)
    .where(and(eq(imports.id, id), eq(imports.state, from)))
    .returning({ id: imports.id });
  return rows.length > 0;
}

/** Writes what is said of a file that is not begun, and wants it looked at anew, unless that would see the same; of one version, where it is given. */
export async function saidOf(
  db: Db,
  id: ImportId,
  values: Partial<Import>,
  { version, isLookedAtAnew = true }: { version?: number; isLookedAtAnew?: boolean } = {},
): Promise<boolean> {
  const rows = await db
    .update(imports)
    .set({
      ...values,
      planVersion: sql`${imports.planVersion} + 1`,
      ...(isLookedAtAnew ? { lookWanted: sql`${imports.lookWanted} + 1` } : {}),
    })
    .where(
      and(
        eq(imports.id, id),
        eq(imports.state, 'uploaded'),
        version === undefined ? undefined : eq(imports.planVersion, version),
      ),
    )
    .returning({ id: imports.id });
  return rows.length > 0;
}

/** The same for what is done to single rows. */
export async function wantLook(db: Db, id: ImportId): Promise<boolean> {
  const rows = await db
    .update(imports)
    .set({ lookWanted: sql`${imports.lookWanted} + 1` })
    .where(and(eq(imports.id, id), eq(imports.state, 'uploaded')))
    .returning({ id: imports.id });
  return rows.length > 0;
}

/** Begins one version; false when it was begun, or another was said meanwhile. */
export async function begin(
  db: Db,
  id: ImportId,
  version: number,
  values: Pick<Import, 'permissionAt' | 'changeSetId' | 'startedAt'>,
): Promise<boolean> {
  const rows = await db
    .update(imports)
    .set({ ...values, state: 'running' })
    .where(and(eq(imports.id, id), eq(imports.state, 'uploaded'), eq(imports.planVersion, version)))
    .returning({ id: imports.id });
  return rows.length > 0;
}

export async function lockImport(db: Db, id: ImportId): Promise<Import | undefined> {
  const [row] = await db.select().from(imports).where(eq(imports.id, id)).for('update');
  return row;
}

/** Files that came long ago and were never brought in, or were thrown away a while ago. */
export async function forgottenImports(
  db: Db,
  before: { readonly came: Date; readonly thrown: Date },
): Promise<ImportId[]> {
  const rows = await db
    .select({ id: imports.id })
    .from(imports)
    .where(
      or(
        and(eq(imports.state, 'uploaded'), lt(imports.createdAt, before.came)),
        and(eq(imports.state, 'thrown away'), lt(imports.finishedAt, before.thrown)),
      ),
    );
  return rows.map(({ id }) => id);
}

/** Takes a file that was never brought in out of the list; false when it was begun meanwhile. */
export async function dropImport(db: Db, id: ImportId): Promise<Import | undefined> {
  const [row] = await db
    .delete(imports)
    .where(and(eq(imports.id, id), inArray(imports.state, ['uploaded', 'thrown away'])))
    .returning();
  return row;
}

/** Takes files away that no import has any more. */
export async function dropUnused(db: Db, ids: readonly (string | null)[]): Promise<void> {
  for (const id of new Set(ids)) {
    if (id === null) continue;
    const [other] = await db
      .select({ id: imports.id })
      .from(imports)
      .where(or(eq(imports.fileId, id), eq(imports.originalId, id)))
      .limit(1);
    if (!other) await dropFile(db, id);
  }
}

export async function runningImports(db: Db): Promise<ImportId[]> {
  const rows = await db
    .select({ id: imports.id })
    .from(imports)
    .where(eq(imports.state, 'running'));
  return rows.map(({ id }) => id);
}

export const addRows = async (db: Db, rows: readonly ImportRow[]): Promise<void> => {
  if (rows.length === 0) return;
  await execute(
    db,
    sql`
    insert into ${importRows} (import_id, row, line, outcome, contact_id, reason, cells)
    select "importId", row, line, outcome, "contactId", reason, cells
    from jsonb_to_recordset(${JSON.stringify(rows)}::jsonb) as r("importId" int, row int, line int, outcome text, "contactId" int, reason text, cells jsonb)`,
  );
};

/** By which outcome people are counted whom earlier rows of the file named. */
export async function outcomesSoFar(
  db: Db,
  id: ImportId,
  contactIds: readonly ContactId[],
): Promise<Map<ContactId, RowOutcome>> {
  if (contactIds.length === 0) return new Map();
  const { rows } = await execute<{ contact_id: ContactId; outcome: RowOutcome }>(
    db,
    // Each person is looked up by themselves: asked for all at once, a server's planner reads the whole import.
    sql`
    select asked.contact_id, asked.outcome from (
      select contact_id, outcome from unnest(${sql.param(contactIds)}::int[]) c(contact_id), unnest(array['new', 'changed', 'unchanged', 'elsewhere']) o(outcome)) asked
    where exists (select 1 from ${importRows} r where r.import_id = ${id} and r.outcome = asked.outcome and r.contact_id = asked.contact_id offset 0)`,
  );
  return new Map(rows.map((row) => [row.contact_id, row.outcome]));
}

/** People whom a later row changed count as changed; returns how many. */
export async function countAsChanged(
  db: Db,
  id: ImportId,
  contactIds: readonly ContactId[],
): Promise<number> {
  if (contactIds.length === 0) return 0;
  const { rows } = await execute(
    db,
    sql`update ${importRows} set outcome = 'changed' where import_id = ${id} and outcome = 'unchanged' and contact_id = any(${sql.param(contactIds)}::int[]) returning 1`,
  );
  return rows.length;
}

export async function countOutcomes(
  db: Db,
  id: ImportId,
  outcomes: Readonly<Record<RowOutcome, number>>,
  more: { readonly cursor: number; readonly doubted: number; readonly tagsMade: readonly TagId[] },
): Promise<void> {
  await db
    .update(imports)
    .set({
      cursor: more.cursor,
      doubtedCount: sql`${imports.doubtedCount} + ${more.doubted}`,
      tagsMade: sql`${imports.tagsMade} || ${JSON.stringify(more.tagsMade)}::jsonb`,
      newCount: sql`${imports.newCount} + ${outcomes.new}`,
      changedCount: sql`${imports.changedCount} + ${outcomes.changed}`,
      unchangedCount: sql`${imports.unchangedCount} + ${outcomes.unchanged}`,
      refusedCount: sql`${imports.refusedCount} + ${outcomes.refused}`,
      elsewhereCount: sql`${imports.elsewhereCount} + ${outcomes.elsewhere}`,
      againCount: sql`${imports.againCount} + ${outcomes.again}`,
      outCount: sql`${imports.outCount} + ${outcomes.out}`,
    })
    .where(eq(imports.id, id));
}

export interface Refusal extends Record<string, unknown> {
  readonly row: number;
  readonly reason: string;
}

export interface Refused extends Refusal {
  readonly line: number | null;
  readonly is_in: boolean;
  readonly cells: string[];
}

/** Rows with something wrong, with the beginning of their cells: whole they stand in the file. */
export async function rowsToLookAt(
  db: Db,
  id: ImportId,
  after: number,
  limit: number,
): Promise<Refused[]> {
  const { rows } = await execute<Refused>(
    db,
    sql`
    select row, line, reason, outcome <> 'refused' as is_in,
      (select coalesce(jsonb_agg(left(cell, 201) order by at), '[]') from jsonb_array_elements_text(cells) with ordinality as kept(cell, at) where at <= 50) as cells
    from ${importRows} where import_id = ${id} and reason is not null and row > ${after} order by row limit ${limit}`,
  );
  return rows;
}

export async function reasons(
  db: Db,
  id: ImportId,
  after: number,
  limit: number,
): Promise<Refusal[]> {
  const { rows } = await execute<Refusal>(
    db,
    sql`select row, reason from ${importRows} where import_id = ${id} and reason is not null and row > ${after} order by row limit ${limit}`,
  );
  return rows;
}

/** People of one outcome; each has one, however many rows they are on. */
export const importedPeople = (id: ImportId, outcome: string): SQL =>
  sql`c.id in (select contact_id from ${importRows} where import_id = ${id} and outcome = ${outcome})`;
export const allImportedPeople = (id: ImportId): SQL =>
  sql`c.id in (select contact_id from ${importRows} where import_id = ${id} and outcome in ('new', 'changed', 'unchanged'))`;

/** Whether a row was refused for just this reason. */
export async function hasReason(db: Db, id: ImportId, reason: string): Promise<boolean> {
  const { rows } = await execute(
    db,
    sql`select 1 from ${importRows} where import_id = ${id} and outcome = 'refused' and reason = ${reason} limit 1`,
  );
  return rows.length > 0;
}

/** What was said of the last file of a shape. */
export async function shapeOfKey(
  db: Db,
  key: string,
): Promise<typeof importShapes.$inferSelect | undefined> {
  const [row] = await db.select().from(importShapes).where(eq(importShapes.key, key));
  return row;
}

export const keepShape = async (
  db: Db,
  key: string,
  columns: readonly KnownColumn[],
  usedAt: Date,
): Promise<void> => {
  await db
    .insert(importShapes)
    .values({ key, columns, usedAt })
    .onConflictDoUpdate({ target: importShapes.key, set: { columns, usedAt } });
};
