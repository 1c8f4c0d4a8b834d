import { pgTable, text, uuid } from 'drizzle-orm/pg-core';

/** One at a time per thing (`import 3`), across all processes. A dead worker's claim is free. */
export const claims = pgTable('claims', {
  thing: text().primaryKey(),
  worker: uuid().notNull(),
});
