// What each row of a file would do, and what somebody did to single rows by hand.
import type { ContactId, PoolId } from '@palabra/core/contacts';
import {
  isWhole,
  type ImportId,
  type LookCounts,
  type LookPart,
  type Mend,
  type RowOutcome,
} from '@palabra/core/intake';
import type { LookRow } from '@palabra/contract/intake';
import { and, eq, ne, sql, type SQL } from 'drizzle-orm';
import { contacts } from '../contacts/people/people.table.js';
import { execute, type Db } from '../platform/database.js';
import { importLooks, importMends, imports } from './intake.table.js';

export type Look = typeof importLooks.$inferInsert;

export async function addLooks(db: Db, rows: readonly Look[]): Promise<void> {
  if (rows.length === 0) return;
  await execute(
    db,
    sql`
    insert into ${importLooks} (import_id, version, row, line, outcome, contact_id, same_as, is_look, is_mended, cells, problems, was)
    select "importId", version, row, line, outcome, "contactId", "sameAs", "isLook", "isMended", cells, problems, was
    from jsonb_to_recordset(${JSON.stringify(rows)}::jsonb) as r("importId" int, version int, row int, line int, outcome text, "contactId" int, "sameAs" int, "isLook" boolean, "isMended" boolean, cells jsonb, problems jsonb, was jsonb)
    on conflict (import_id, version, row) do update set outcome = excluded.outcome, contact_id = excluded.contact_id, same_as = excluded.same_as,
      is_look = excluded.is_look, is_mended = excluded.is_mended, cells = excluded.cells, problems = excluded.problems, was = excluded.was`,
  );
}

/** Rows whose people a later row changes count as changed. */
export const lookAsChanged = async (
  db: Db,
  id: ImportId,
  version: number,
  rows: readonly number[],
): Promise<void> => {
  if (rows.length > 0)
    await execute(
      db,
      sql`update ${importLooks} set outcome = 'changed' where import_id = ${id} and version = ${version} and row = any(${sql.param([...rows])}::int[])`,
    );
};

export const dropLooks = async (db: Db, id: ImportId, but?: number): Promise<void> => {
  await db
    .delete(importLooks)
    .where(
      and(
        eq(importLooks.importId, id),
        but === undefined ? undefined : ne(importLooks.version, but),
      ),
    );
};

/** How far the look at a version is. False when another version is the latest by now, or the file is being brought in. */
export async function markLook(
  db: Db,
  id: ImportId,
  version: number,
  values: { readonly cursor: number; readonly done?: LookCounts },
): Promise<boolean> {
  const rows = await db
    .update(imports)
    .set({
      lookCursor: values.cursor,
      ...(values.done ? { look: values.done, lookVersion: version } : {}),
    })
    .where(and(eq(imports.id, id), eq(imports.lookWanted, version), eq(imports.state, 'uploaded')))
    .returning({ id: imports.id });
  return rows.length > 0;
}

/** Files whose latest state nobody has looked at. */
export async function unlookedImports(db: Db): Promise<ImportId[]> {
  const rows = await db
    .select({ id: imports.id })
    .from(imports)
    .where(
      and(
        eq(imports.state, 'uploaded'),
        sql`${imports.lookVersion} is distinct from ${imports.lookWanted}`,
      ),
    );
  return rows.map(({ id }) => id);
}

/** To whoever does not see everybody, rows of colleagues' people are new like any other. */
const partOf = (part: LookPart, seesAll: boolean): SQL =>
  part === 'look'
    ? sql`(is_look or is_mended)`
    : part === 'new' && !seesAll
      ? sql`outcome in ('new', 'elsewhere')`
      : sql`outcome = ${part}`;

export async function lookPage(
  db: Db,
  id: ImportId,
  version: number,
  part: LookPart,
  seesAll: boolean,
  { from, limit }: { readonly from: number; readonly limit: number },
): Promise<LookRow[]> {
  const { rows } = await execute<{
    row: number;
    line: number;
    outcome: RowOutcome;
    contact_id: number | null;
    same_as: number | null;
    is_look: boolean;
    is_mended: boolean;
    cells: string[];
    problems: LookRow['problems'] | null;
    was: Record<string, string> | null;
  }>(
    db,
    sql`
    select row, line, outcome, contact_id, same_as, is_look, is_mended, cells, problems, was from ${importLooks}
    where import_id = ${id} and version = ${version} and ${partOf(part, seesAll)} order by row offset ${from} limit ${limit}`,
  );
  return rows.map((one) => ({
    row: one.row,
    line: one.line,
    outcome: one.outcome === 'elsewhere' && !seesAll ? 'new' : one.outcome,
    contact:
      seesAll || one.outcome === 'changed' || one.outcome === 'unchanged' ? one.contact_id : null,
    sameAs: one.same_as,
    isLook: one.is_look,
    isMended: one.is_mended,
    cells: one.cells,
    problems: one.problems ?? [],
    was: one.was ?? {},
  }));
}

/** A row as the look knows it, if it was kept whole. */
export async function wholeRow(
  db: Db,
  id: ImportId,
  version: number,
  row: number,
): Promise<{ readonly row: number; readonly line: number; readonly cells: string[] } | undefined> {
  const [found] = await db
    .select({ row: importLooks.row, line: importLooks.line, cells: importLooks.cells })
    .from(importLooks)
    .where(
      and(eq(importLooks.importId, id), eq(importLooks.version, version), eq(importLooks.row, row)),
    );
  return found && found.cells.length > 0 && isWhole(found.cells) ? found : undefined;
}

export async function hasMends(db: Db, id: ImportId): Promise<boolean> {
  const rows = await db
    .select({ row: importMends.row })
    .from(importMends)
    .where(eq(importMends.importId, id))
    .limit(1);
  return rows.length > 0;
}

export async function mendsBetween(
  db: Db,
  id: ImportId,
  first: number,
  last: number,
): Promise<Map<number, Mend>> {
  const rows = await db
    .select()
    .from(importMends)
    .where(and(eq(importMends.importId, id), sql`${importMends.row} between ${first} and ${last}`));
  return new Map(rows.map((one) => [one.row, one]));
}

export const mendOf = async (
  db: Db,
  id: ImportId,
  row: number,
): Promise<typeof importMends.$inferSelect | undefined> =>
  (
    await db
      .select()
      .from(importMends)
      .where(and(eq(importMends.importId, id), eq(importMends.row, row)))
  )[0];

export const putMend = async (db: Db, mend: typeof importMends.$inferSelect): Promise<void> => {
  const { importId, row, ...rest } = mend;
  await db
    .insert(importMends)
    .values({ importId, row, ...rest })
    .onConflictDoUpdate({ target: [importMends.importId, importMends.row], set: rest });
};

export const dropMends = async (db: Db, id: ImportId, row?: number): Promise<void> => {
  await db
    .delete(importMends)
    .where(
      and(eq(importMends.importId, id), row === undefined ? undefined : eq(importMends.row, row)),
    );
};

/** Leaves out, or takes as they are, all rows with something wrong that came by now. */
export async function decideLooks(
  db: Db,
  id: ImportId,
  version: number,
  how: 'out' | 'seen',
): Promise<void> {
  await execute(
    db,
    sql`
    insert into ${importMends} (import_id, row, is_out, is_seen)
    select import_id, row, ${how === 'out'}, ${how === 'seen'} from ${importLooks} where import_id = ${id} and version = ${version} and is_look
    on conflict (import_id, row) do update set is_out = ${importMends}.is_out or excluded.is_out, is_seen = ${importMends}.is_seen or excluded.is_seen`,
  );
}

export interface Alike extends Record<string, unknown> {
  readonly row: number;
  readonly id: ContactId;
  readonly address: string | null;
}

/** People of a pool with just these names and postcodes; of each row the first. */
export async function alikePeople(
  db: Db,
  poolId: PoolId,
  asked: readonly { readonly row: number; readonly name: string; readonly postcode: string }[],
  among: SQL,
): Promise<Alike[]> {
  if (asked.length === 0) return [];
  const { rows } = await execute<Alike>(
    db,
    sql`
    select asked.row, c.id, c.address from jsonb_to_recordset(${JSON.stringify(asked)}::jsonb) as asked(row int, name text, postcode text)
    cross join lateral (select c.id, c.address from ${contacts} c where c.pool_id = ${poolId} and c.search_key = asked.name collate "C" and c.deleted_at is null
      and c.keys ->> 'postcode' = asked.postcode and (${among}) order by c.id limit 1) c`,
  );
  return rows;
}
