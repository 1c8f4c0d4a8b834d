// Rules, letters, sheets and arrangements are kept as trees of JSON.
import { sql, type Name, type SQL } from 'drizzle-orm';
import type { AnyPgColumn, PgTable } from 'drizzle-orm/pg-core';
import { execute, type Db } from './database.js';

/** A column's name alone, as the database has it. */
export const columnName = ({ name }: { readonly name: string }): Name =>
  sql.identifier(name.replace(/[A-Z]/g, (letter) => `_${letter.toLowerCase()}`));

/** Whether a key stands anywhere in a tree that is kept as JSON, as a name or as a text. */
export const mentions = (tree: AnyPgColumn, key: string): SQL =>
  sql`strpos(${tree}::text, ${`"${key}"`}) > 0`;

/** A table of things with a version, and its column of trees. */
export interface Trees {
  readonly table: PgTable;
  readonly tree: AnyPgColumn;
  /** Which of them are looked at. */
  readonly among: SQL;
}

/** One tree that was written over. */
export interface Rewritten {
  readonly thingId: number;
  readonly before: unknown;
  readonly after: unknown;
}

/** Changes trees where `change` gives another one; says which. */
export async function rewriteTrees<T>(
  db: Db,
  { table, tree, among }: Trees,
  change: (tree: T) => T,
  now: Date,
): Promise<Rewritten[]> {
  const column = columnName(tree);
  const { rows } = await execute<{ id: number; tree: T }>(
    db,
    sql`select id, ${column} as tree from ${table} where ${column} is not null and ${among} order by id for update`,
  );
  const written: Rewritten[] = [];
  for (const { id, tree: before } of rows) {
    const after = change(before);
    if (after === before) continue;
    await execute(
      db,
      sql`update ${table} set ${column} = ${JSON.stringify(after)}::jsonb, version = version + 1, updated_at = ${now} where id = ${id}`,
    );
    written.push({ thingId: id, before, after });
  }
  return written;
}

/** Writes a tree back, unless it was changed since. */
export async function writeTreeBack(
  db: Db,
  { table, tree, among }: Trees,
  { thingId, before, after }: Rewritten,
  now: Date,
): Promise<void> {
  const column = columnName(tree);
  await execute(
    db,
    sql`update ${table} set ${column} = ${JSON.stringify(before)}::jsonb, version = version + 1, updated_at = ${now}
      where id = ${thingId} and ${column} = ${JSON.stringify(after)}::jsonb and ${among}`,
  );
}
