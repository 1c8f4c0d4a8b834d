// Column types that Drizzle does not bring along.
import { sql, type Name } from 'drizzle-orm';
import { customType } from 'drizzle-orm/pg-core';

/** Text that is compared byte by byte, the same on every server. */
export const keyText = customType<{ data: string; driverData: string }>({
  dataType: () => 'text collate "C"',
});

export const bytes = customType<{ data: Buffer; driverData: Buffer }>({ dataType: () => 'bytea' });

/** A column's name alone, as the database has it. */
export const columnName = ({ name }: { readonly name: string }): Name =>
  sql.identifier(name.replace(/[A-Z]/g, (letter) => `_${letter.toLowerCase()}`));
