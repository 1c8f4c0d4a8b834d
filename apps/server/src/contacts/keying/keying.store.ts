// The keys that people's texts are compared by, made anew for everybody: what is written stays as it is.
import type { ContactId } from '@palabra/core/contacts';
import { eq, sql } from 'drizzle-orm';
import { execute, type Db } from '../../platform/database.js';
import { contacts } from '../people/people.table.js';
import type { ContactRow } from '../people/values.js';
import { keyings } from './keying.table.js';

export type Keying = typeof keyings.$inferSelect;

const one = eq(keyings.id, 1);

export async function keying(db: Db): Promise<Keying> {
  const [row] = await db.select().from(keyings).where(one);
  if (!row) throw new Error('it is not noted by what keys were made');
  return row;
}

/** The same, which nobody else goes on with until the transaction ends. */
export async function lockKeying(db: Db): Promise<Keying> {
  const [row] = await db.select().from(keyings).where(one).for('update');
  if (!row) throw new Error('it is not noted by what keys were made');
  return row;
}

export const noteKeying = async (db: Db, values: Partial<Keying>): Promise<void> => {
  await db.update(keyings).set(values).where(one);
};

/** The next people after a key, locked; nobody who was erased. */
export const peopleAfter = (db: Db, after: number, limit: number): Promise<ContactRow[]> =>
  db
    .select()
    .from(contacts)
    .where(sql`id > ${after} and erased_at is null`)
    .orderBy(contacts.id)
    .limit(limit)
    .for('no key update');

export interface Keys {
  readonly id: ContactId;
  readonly keys: Readonly<Record<string, string>>;
  readonly searchKey: string;
}

export async function writeKeys(db: Db, changed: readonly Keys[]): Promise<void> {
  if (changed.length === 0) return;
  await execute(
    db,
    sql`update ${contacts} c set keys = k.keys, search_key = k."searchKey"
      from jsonb_to_recordset(${JSON.stringify(changed)}::jsonb) as k(id int, keys jsonb, "searchKey" text) where c.id = k.id`,
  );
}
