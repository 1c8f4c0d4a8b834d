// What happened with one person: letters, responses and changes in one order.
import type { CampaignId } from '@palabra/core/campaigns';
import type { HappeningKind, ContactId } from '@palabra/core/contacts';
import { sql, type SQL } from 'drizzle-orm';
import { execute, type Db } from '../../platform/database.js';
import { users } from '../../platform/sign-in/sign-in.table.js';
import { changeSets, happenings } from '../changes/changes.table.js';
import { contacts } from './people.table.js';

export interface TimelineRow extends Record<string, unknown> {
  readonly kind: string;
  readonly key: string;
  readonly at: Date;
  readonly campaign_id: CampaignId | null;
  readonly campaign: string | null;
  readonly detail: string | null;
  readonly machine: string | null;
  readonly who: string | null;
  /** Of a change: what happened, and of which tag or field. */
  readonly happened: readonly (readonly [HappeningKind, string])[] | null;
}

/** Where a page ended; several things may have happened at the same moment. */
export interface TimelineCursor {
  readonly at: Date;
  readonly key: string;
}

/** A query with the columns of a row, in their order, for one contact; `key` is a letter of its own and a number. */
export type TimelineSource = (contactId: ContactId) => SQL;

export const changesOf: TimelineSource = (contactId) => sql`
  select 'changed' as kind, 'c' || s.id as key, s.at, null::int as campaign_id, null::text as campaign, s.what as detail, null::text as machine, u.name as who,
    jsonb_agg(jsonb_build_array(h.kind, h.which)) as happened
  from ${happenings} h join ${changeSets} s on s.id = h.set_id left join ${users} u on u.id = s.user_id
  where h.contact_id = ${contactId} group by s.id, u.name`;

export const cameIn: TimelineSource = (contactId) => sql`
  select 'came in', 'a', c.created_at, null, null, c.permission_source, null, null, null from ${contacts} c where c.id = ${contactId}`;

/** The entries of all sources, latest first. */
export async function timeline(
  db: Db,
  sources: readonly TimelineSource[],
  contactId: ContactId,
  before: TimelineCursor | undefined,
  limit: number,
): Promise<TimelineRow[]> {
  const entries = sql.join(
    sources.map((source) => source(contactId)),
    sql` union all `,
  );
  const { rows } = await execute<TimelineRow>(
    db,
    sql`
    with entries as (${entries})
    select * from entries where at is not null ${before ? sql`and (at, key) < (${before.at}, ${before.key})` : sql``}
    order by at desc, key desc limit ${limit}`,
  );
  return rows;
}
