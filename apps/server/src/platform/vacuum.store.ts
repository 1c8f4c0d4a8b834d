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

export const vacuum = async (db: Db, table: string): Promise<void> => {
  await db.execute(sql.raw(`vacuum (analyze) ${table}`));
};
