// What people agreed to, over time.
import type { ChangeSetId, ContactId, PermissionKind } from '@palabra/core/contacts';
import { sql } from 'drizzle-orm';
import { execute, type Db } from '../../platform/database.js';
import { users } from '../../platform/sign-in/sign-in.table.js';
import { changeSets } from '../changes/changes.table.js';
import { contacts } from '../people/people.table.js';
import { permissions } from './standing.table.js';

/** Writes down what some people agree to now, as a change set made it; of one that touches somebody twice the last. */
export async function rememberPermissions(
  db: Db,
  set: ChangeSetId,
  ids: readonly ContactId[],
  now: Date,
): Promise<void> {
  if (ids.length === 0) return;
  await execute(
    db,
    sql`
    insert into ${permissions} (contact_id, set_id, at, kind, agreed_at, source, wording)
    select id, ${set}::int, ${now}::timestamptz, permission, permission_at, permission_source, permission_wording
    from ${contacts} where id = any(${sql.param([...ids])}::int[])
    on conflict (contact_id, set_id) do update set kind = excluded.kind, agreed_at = excluded.agreed_at, source = excluded.source, wording = excluded.wording`,
  );
}

export interface PermissionRow extends Record<string, unknown> {
  readonly kind: PermissionKind;
  readonly at: Date;
  readonly agreed_at: Date | null;
  readonly source: string | null;
  readonly wording: string | null;
  readonly what: string | null;
  readonly by: string | null;
}

/** Latest first. */
export async function permissionsOf(
  db: Db,
  id: ContactId,
  limit: number,
): Promise<PermissionRow[]> {
  const { rows } = await execute<PermissionRow>(
    db,
    sql`
    select p.kind, p.at, p.agreed_at, p.source, p.wording, s.what, u.name as by
    from ${permissions} p left join ${changeSets} s on s.id = p.set_id left join ${users} u on u.id = s.user_id
    where p.contact_id = ${id} order by p.at desc, p.set_id desc limit ${limit}`,
  );
  return rows;
}
