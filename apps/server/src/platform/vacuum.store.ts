// What autovacuum does on a server: the embedded database has none.
import { sql } from 'drizzle-orm';
import { execute, type Db } from './database.js';

/**
 * The table that needs tidying most, or undefined: one where more than a tenth of the rows (and a thousand)
 * are dead or have changed since the planner last looked.
 */
export async function untidyTable(db: Db): Promise<string | undefined> {
  const { rows } = await execute<{ name: string }>(
    db,
    sql`
    select quote_ident(schemaname) || '.' || quote_ident(relname) as name from pg_stat_user_tables
    where n_dead_tup > 1000 + 0.1 * n_live_tup or n_mod_since_analyze > 1000 + 0.1 * n_live_tup
    order by n_dead_tup + n_mod_since_analyze desc limit 1`,
  );
  return rows[0]?.name;
}

/** How large a table is, and about how large it would be with nothing but its rows, in bytes: a row has a header of 24 and a pointer of 4. */
export async function roomOf(
  db: Db,
  table: string,
): Promise<{ readonly size: number; readonly needed: number }> {
  const { rows } = await execute<{ size: number; needed: number }>(
    db,
    sql`
    select pg_relation_size(c.oid) as size, c.reltuples * (28 + coalesce((select sum(s.avg_width * (1 - s.null_frac)) from pg_stats s
      where s.schemaname = 'public' and s.tablename = ${table}), 0)) as needed
    from pg_class c where c.oid = ${`public.${table}`}::regclass`,
  );
  return rows[0] ?? { size: 0, needed: 0 };
}

/** Writes a table anew, without the room that nobody uses; nobody can read it meanwhile. */
export const pack = async (db: Db, table: string): Promise<void> => {
  await db.execute(sql.raw(`vacuum full ${table}`));
  // Only this notes which pages indexes can answer for.
  await vacuum(db, table);
};

export const vacuum = async (db: Db, table: string): Promise<void> => {
  await db.execute(sql.raw(`vacuum (analyze) ${table}`));
};
