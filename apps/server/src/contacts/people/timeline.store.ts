// What happened with one person: letters, responses and changes in one order.
import type { CampaignId } from '@palabra/core/campaigns';
import type { HappeningKind, ContactId } from '@palabra/core/contacts';
import type { TimelineEntry } from '@palabra/contract/contacts';
import type { Viewer } from '@palabra/core/office';
import { sql, type SQL } from 'drizzle-orm';
import { execute, type Db } from '../../platform/database.js';
import { users } from '../../platform/sign-in/sign-in.table.js';
import { changeSets, happenings } from '../changes/changes.table.js';
import { contacts } from './people.table.js';

export interface TimelineRow extends Record<string, unknown> {
  readonly kind: TimelineEntry['kind'];
  readonly key: string;
  readonly at: Date;
  readonly campaign_id: CampaignId | null;
  readonly campaign: string | null;
  readonly state: string | null;
  readonly detail: string | null;
  readonly who: string | null;
  /** Of a change: what happened, and of which tag or field. Of anything else: what its source says. */
  readonly more: unknown;
}

/** What happened to whom by a change, and of which tag or field. */
export type Happened = readonly (readonly [HappeningKind, string])[];

/** Where a page ended; several things may have happened at the same moment. */
export interface TimelineCursor {
  readonly at: Date;
  readonly key: string;
}

export interface TimelineSource {
  /** A query with the columns of a row, in their order, for one contact; `key` begins with a letter of its own. */
  readonly rows: (contactId: ContactId) => SQL;
  /** Looks up for the rows of one page what would take too long for all. */
  readonly complete?: (
    db: Db,
    contactId: ContactId,
    rows: readonly TimelineRow[],
    viewer: Viewer,
  ) => Promise<TimelineRow[]>;
}

export const changesOf: TimelineSource = {
  rows: (contactId) => sql`
  select 'changed' as kind, 'c' || s.id as key, s.at, null::int as campaign_id, null::text as campaign, null::text as state, s.what as detail, u.name as who,
    jsonb_agg(jsonb_build_array(h.kind, h.which)) as more
  from ${happenings} h join ${changeSets} s on s.id = h.set_id left join ${users} u on u.id = s.user_id
  where h.contact_id = ${contactId} group by s.id, u.name`,
};

export const cameIn: TimelineSource = {
  rows: (contactId) => sql`
  select 'came in' as kind, 'a' as key, c.created_at as at, null::int as campaign_id, null::text as campaign, null::text as state, c.permission_source as detail, null::text as who, null::jsonb as more
  from ${contacts} c where c.id = ${contactId}`,
};

/** The entries of all sources, latest first. */
export async function timeline(
  db: Db,
  sources: readonly TimelineSource[],
  contactId: ContactId,
  before: TimelineCursor | undefined,
  limit: number,
  viewer: Viewer,
): Promise<TimelineRow[]> {
  const entries = sql.join(
    sources.map(({ rows }) => rows(contactId)),
    sql` union all `,
  );
  const { rows } = await execute<TimelineRow>(
    db,
    sql`
    with entries as (${entries})
    select * from entries where at is not null ${before ? sql`and (at, key) < (${before.at}, ${before.key})` : sql``}
    order by at desc, key desc limit ${limit}`,
  );
  let page = rows;
  for (const { complete } of sources)
    if (complete) page = await complete(db, contactId, page, viewer);
  return page;
}
