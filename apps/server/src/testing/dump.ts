// Everything a database holds, as text: what is not in it is nowhere.
import { sql } from 'drizzle-orm';
import { execute, type Db } from '../platform/database.js';

/** All rows of all tables, the queue's too; bytes read as UTF-8. A line for each row, which begins with the table's name. */
export async function dumped(db: Db): Promise<string> {
  const { rows: tables } = await execute<{ schema: string; name: string }>(
    db,
    sql`select table_schema as schema, table_name as name from information_schema.tables where table_schema not in ('pg_catalog', 'information_schema') and table_type = 'BASE TABLE' order by 1, 2`,
  );
  const lines: string[] = [];
  for (const { schema, name } of tables) {
    const { rows } = await execute<{ row: string }>(
      db,
      sql`select to_jsonb(t)::text as row from ${sql.identifier(schema)}.${sql.identifier(name)} t`,
    );
    for (const { row } of rows)
      lines.push(
        `${name} ${row.replace(/\\\\x([0-9a-f]+)/g, (_, hex: string) => Buffer.from(hex, 'hex').toString('utf8'))}`,
      );
  }
  return lines.join('\n');
}
