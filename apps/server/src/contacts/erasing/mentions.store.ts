// Taking somebody's addresses out of what others wrote: texts and rules.
import { withoutAddressesIn } from '@palabra/core/contacts';
import { sql, type SQL } from 'drizzle-orm';
import type { PgColumn, PgTable } from 'drizzle-orm/pg-core';
import { execute, type Db } from '../../platform/database.js';
import { columnName } from '../../platform/trees.store.js';
import type { Whose } from './places.js';

/** Whether a text, or what JSON says, names one of some addresses; it may find more, and never less. */
export const namesOneOf = (column: SQL | PgColumn, addresses: readonly string[]): SQL =>
  addresses.length === 0
    ? sql`false`
    : // Most texts have no address at all, which is seen in no time.
      sql`strpos(${column}::text, '@') > 0 and exists (select 1 from unnest(${sql.param(addresses.map((one) => one.toLowerCase()))}::text[]) a(address) where strpos(lower(${column}::text), a.address) > 0)`;

/** Puts “erased” where one of their addresses stands in a column of texts or of JSON. */
export async function withoutMentions(
  tx: Db,
  table: PgTable,
  column: PgColumn,
  { addresses, isTheirs }: Whose,
): Promise<void> {
  if (addresses.length === 0) return;
  const name = columnName(column);
  const { rows } = await execute<{ place: string; value: unknown }>(
    tx,
    sql`select ctid::text as place, to_jsonb(${name}) as value from ${table} where ${namesOneOf(sql`${name}`, addresses)} for update`,
  );
  const isText = column.getSQLType() === 'text';
  for (const { place, value } of rows) {
    const without = withoutAddressesIn(value, isTheirs);
    if (without === value) continue;
    await execute(
      tx,
      sql`update ${table} set ${name} = ${isText ? sql`${String(without)}` : sql`${JSON.stringify(without)}::jsonb`} where ctid = ${place}::tid`,
    );
  }
}
