// What is remembered of changes and permissions of people who are erased, or ask what is held.
import type { ContactId } from '@palabra/core/contacts';
import { lines } from '@palabra/core/contacts';
import { inArray, sql } from 'drizzle-orm';
import { execute, type Db } from '../../platform/database.js';
import { users } from '../../platform/sign-in/sign-in.table.js';
import { changeItems, changeSets, happenings } from '../changes/changes.table.js';
import { permissions } from '../standing/standing.table.js';

export const forgetPermissions = async (tx: Db, ids: readonly ContactId[]): Promise<void> => {
  await tx.delete(permissions).where(inArray(permissions.contactId, [...ids]));
};

/** That a set changed so many people stays on the set. */
export async function forgetChanges(tx: Db, ids: readonly ContactId[]): Promise<void> {
  const people = sql`any(${sql.param([...ids])}::int[])`;
  // Every item has a happening, by which it is found.
  await execute(
    tx,
    sql`delete from ${changeItems} i using ${happenings} h where h.contact_id = ${people} and i.set_id = h.set_id and i.contact_id = h.contact_id`,
  );
  await execute(tx, sql`delete from ${happenings} where contact_id = ${people}`);
}

export interface ChangeRow extends Record<string, unknown> {
  readonly at: Date;
  readonly what: string;
  readonly by: string | null;
  readonly before: Readonly<Record<string, unknown>> | null;
  readonly after: Readonly<Record<string, unknown>> | null;
}

/** Everything that was changed about somebody, latest first; values for as long as they are kept. */
export async function changesOf(db: Db, id: ContactId, limit: number): Promise<ChangeRow[]> {
  const { rows } = await execute<ChangeRow>(
    db,
    sql`
    select s.at, s.what, u.name as by, i.before, i.after
    from (select distinct set_id from ${happenings} where contact_id = ${id}) h join ${changeSets} s on s.id = h.set_id
      left join ${users} u on u.id = s.user_id left join ${changeItems} i on i.set_id = s.id and i.contact_id = ${id}
    order by s.at desc, s.id desc limit ${limit}`,
  );
  return rows;
}

/** Addresses that changes remember. */
export async function formerAddresses(db: Db, ids: readonly ContactId[]): Promise<string[]> {
  const { rows } = await execute<{ values: Readonly<Record<string, unknown>> | null }>(
    db,
    sql`
    select v.values from ${changeItems} i join (select distinct set_id, contact_id from ${happenings} where contact_id = any(${sql.param([...ids])}::int[])) h
      on h.set_id = i.set_id and h.contact_id = i.contact_id cross join lateral (values (i.before), (i.after)) v(values)
    where v.values ?| array['address', 'more_addresses']`,
  );
  return rows.flatMap(({ values }) =>
    [values?.['address'], values?.['more_addresses']].flatMap((value) =>
      typeof value === 'string' ? lines(value) : [],
    ),
  );
}
