// The bin: people who were deleted, for as long as they can be brought back.
import { markedTag, type ContactId, type TagId } from '@palabra/core/contacts';
import { sql, type SQL } from 'drizzle-orm';
import { execute, type Db } from '../../platform/database.js';
import { users } from '../../platform/sign-in/sign-in.table.js';
import { changeItems, changeSets } from '../changes/changes.table.js';
import { contacts } from '../people/people.table.js';

export interface BinLine extends Record<string, unknown> {
  readonly id: ContactId;
  readonly given_name: string;
  readonly family_name: string;
  readonly address: string | null;
  readonly deleted_at: Date;
  /** By which change, and who made it. */
  readonly what: string | null;
  readonly by: string | null;
}

/** Latest first. `people` is a condition on `contacts c`. */
export async function inBin(
  db: Db,
  people: SQL,
  since: Date,
  { from, limit }: { readonly from: number; readonly limit: number },
): Promise<BinLine[]> {
  const { rows } = await execute<BinLine>(
    db,
    sql`
    with found as materialized (select c.id, c.deleted_at from ${contacts} c
      where c.deleted_at >= ${since} and c.erased_at is null and ${people} order by c.deleted_at desc, c.id desc limit ${limit} offset ${from})
    select c.id, c.given_name, c.family_name, c.address, c.deleted_at, s.what, u.name as by
    from found join ${contacts} c on c.id = found.id
    left join lateral (select s.* from ${changeItems} i join ${changeSets} s on s.id = i.set_id
      where i.contact_id = c.id and i.after ->> 'deleted' = 'true' order by s.id desc limit 1) s on true
    left join ${users} u on u.id = s.user_id
    order by found.deleted_at desc, found.id desc`,
  );
  return rows;
}

export async function countInBin(db: Db, people: SQL, since: Date): Promise<number> {
  const { rows } = await execute<{ count: number }>(
    db,
    sql`select count(*) as count from ${contacts} c where c.deleted_at >= ${since} and c.erased_at is null and ${people}`,
  );
  return rows[0]?.count ?? 0;
}

/** The tags that somebody had when they were deleted last. */
export async function tagsWhenDeleted(db: Db, id: ContactId): Promise<TagId[]> {
  const { rows } = await execute<{ before: Record<string, unknown> | null }>(
    db,
    sql`select before from ${changeItems} where contact_id = ${id} and after ->> 'deleted' = 'true' order by set_id desc limit 1`,
  );
  return Object.entries(rows[0]?.before ?? {}).flatMap(([key, had]) => {
    const tag = markedTag(key);
    return tag !== undefined && had === true ? [tag] : [];
  });
}
