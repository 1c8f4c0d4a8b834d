// Rules, letters and arrangements are kept as trees of JSON.
import { sql, type SQL } from 'drizzle-orm';
import type { AnyPgColumn } from 'drizzle-orm/pg-core';

/** Whether a key stands anywhere in a tree that is kept as JSON, as a name or as a text. */
export const mentions = (tree: AnyPgColumn, key: string): SQL =>
  sql`strpos(${tree}::text, ${`"${key}"`}) > 0`;
