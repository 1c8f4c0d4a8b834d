// Column types that Drizzle does not bring along.
import { customType } from 'drizzle-orm/pg-core';

/** Text that is compared byte by byte, the same on every server. */
export const keyText = customType<{ data: string; driverData: string }>({
  dataType: () => 'text collate "C"',
});

export const bytes = customType<{ data: Buffer; driverData: Buffer }>({ dataType: () => 'bytea' });
