import type { CampaignState, CampaignStatus, Tally, CampaignId } from '@palabra/core/campaigns';
import { editable, isOver, noneHeldBack } from '@palabra/core/campaigns';
import { and, eq, gt, inArray, isNull, ne, sql, type SQL } from 'drizzle-orm';
import type { PgUpdateSetSource } from 'drizzle-orm/pg-core';
import { execute, type Db } from '../platform/database.js';
import type { Trees } from '../platform/trees.store.js';
import { campaigns } from './campaigns.table.js';
import { isIn, mayTake } from './status.store.js';
import { letters } from '../letters/letters.table.js';
import type { LetterId } from '@palabra/core/letters';
import type { CampaignInRule, SegmentId } from '@palabra/core/segments';

export type Campaign = typeof campaigns.$inferSelect;

export interface CampaignListRow extends Record<string, unknown> {
  readonly id: CampaignId;
  readonly name: string;
  readonly status: CampaignStatus;
  readonly subject: readonly unknown[] | null;
  readonly send_at: Date | null;
  readonly started_at: Date | null;
  readonly updated_at: Date;
  readonly seen: Tally | null;
  readonly tally: Tally | null;
}

/** Drafts and what is under way first, then the latest sends. */
export async function allCampaigns(db: Db): Promise<CampaignListRow[]> {
  const { rows } = await execute<CampaignListRow>(
    db,
    sql`
    select k.id, k.name, k.status, coalesce(k.compiled -> 'subject', l.content -> 'subject') as subject, k.send_at, k.started_at, k.updated_at, k.seen, k.tally
    from ${campaigns} k left join ${letters} l on l.id = k.letter_id
    where k.deleted_at is null
    order by ${isIn(isOver, 'k')}, coalesce(k.started_at, k.send_at, k.updated_at) desc, k.id desc limit 500`,
  );
  return rows;
}

export async function campaignById(db: Db, id: CampaignId): Promise<Campaign | undefined> {
  const [row] = await db
    .select()
    .from(campaigns)
    .where(and(eq(campaigns.id, id), isNull(campaigns.deletedAt)));
  return row;
}

/** For a decision that is written in the same transaction. */
export async function lockCampaign(db: Db, id: CampaignId): Promise<Campaign | undefined> {
  const [row] = await db
    .select()
    .from(campaigns)
    .where(and(eq(campaigns.id, id), isNull(campaigns.deletedAt)))
    .for('update');
  return row;
}

export async function addCampaign(
  db: Db,
  values: Omit<typeof campaigns.$inferInsert, 'id'>,
): Promise<CampaignId> {
  const [row] = await db.insert(campaigns).values(values).returning({ id: campaigns.id });
  if (!row) throw new Error('the campaign was not written');
  return row.id;
}

/** Writes the sheet of a draft of the version seen. */
export async function changeSheet(
  db: Db,
  id: CampaignId,
  version: number,
  values: Partial<Campaign>,
  now: Date,
): Promise<Campaign | undefined> {
  const [row] = await db
    .update(campaigns)
    .set({ ...values, version: sql`version + 1`, updatedAt: now })
    .where(
      and(
        eq(campaigns.id, id),
        eq(campaigns.version, version),
        isIn(editable, 'campaigns'),
        isNull(campaigns.deletedAt),
      ),
    )
    .returning();
  return row;
}

/** What the work on a campaign keeps with it; its status is not among that. */
type Kept = Pick<
  Campaign,
  'compiled' | 'whoUsed' | 'subject' | 'fixedUpTo' | 'fixedAt' | 'tally' | 'trouble'
>;

export const keepWithCampaign = async (
  db: Db,
  id: CampaignId,
  values: Partial<Kept>,
): Promise<void> => {
  await db.update(campaigns).set(values).where(eq(campaigns.id, id));
};

/** What a status brings with it. */
const columnsOf: {
  readonly [S in CampaignStatus]: (
    state: Extract<CampaignState, { status: S }>,
    now: Date,
  ) => PgUpdateSetSource<typeof campaigns>;
} = {
  draft: () => ({
    // Whoever meant at once still means it.
    sendAt: sql`case when at_once then null else send_at end`,
    atOnce: false,
    seen: null,
    tally: null,
    fixedUpTo: 0,
    compiled: null,
    subject: null,
    fixedAt: null,
  }),
  scheduled: ({ sendAt, seen }) => ({ sendAt, seen, atOnce: sql`send_at is null` }),
  fixing: ({ seen }) => ({ seen, fixedUpTo: 0 }),
  differs: (state) => ({ tally: state.now }),
  sending: (_, now) => ({ startedAt: sql`coalesce(started_at, ${now})` }),
  paused: () => ({}),
  stopped: (_, now) => ({ finishedAt: now, trouble: null }),
  sent: (_, now) => ({ finishedAt: now, trouble: null }),
};

/** The one place where a decided state becomes columns. */
export async function writeState(
  db: Db,
  id: CampaignId,
  state: CampaignState,
  now: Date,
): Promise<void> {
  const columns = columnsOf[state.status] as (
    state: CampaignState,
    now: Date,
  ) => PgUpdateSetSource<typeof campaigns>;
  await db
    .update(campaigns)
    .set({
      status: state.status,
      version: sql`version + 1`,
      updatedAt: now,
      ...columns(state, now),
    })
    .where(eq(campaigns.id, id));
}

/** Columns as the union that core decides on. */
export function stateOf(row: Campaign): CampaignState {
  const nothing: Tally = { matched: 0, heldBack: noneHeldBack, receives: 0 };
  const seen = row.seen ?? nothing;
  switch (row.status) {
    case 'draft':
      return { status: 'draft' };
    case 'scheduled':
      return { status: 'scheduled', sendAt: row.sendAt ?? row.updatedAt, seen };
    case 'fixing':
      return { status: 'fixing', seen, wasScheduled: row.sendAt !== null };
    case 'differs':
      return { status: 'differs', seen, now: row.tally ?? nothing };
    default:
      return { status: row.status };
  }
}

/** Says that figures counted before are old; in the transaction that changes the rows. */
export const factsChanged = async (db: Db, ids: readonly CampaignId[]): Promise<void> => {
  if (ids.length === 0) return;
  await db
    .update(campaigns)
    .set({ factsVersion: sql`facts_version + 1` })
    .where(inArray(campaigns.id, [...new Set(ids)]));
};

export const deleteDraft = async (
  db: Db,
  id: CampaignId,
  at: Date | null,
): Promise<string | undefined> => {
  const rows = await db
    .update(campaigns)
    .set({ deletedAt: at })
    .where(and(eq(campaigns.id, id), isIn(editable, 'campaigns')))
    .returning({ name: campaigns.name });
  return rows[0]?.name;
};

export async function dueCampaigns(db: Db, now: Date): Promise<CampaignId[]> {
  const { rows } = await execute<{ id: CampaignId }>(
    db,
    sql`select id from ${campaigns} where deleted_at is null and (${mayTake('fixed')} or (${mayTake('begin')} and send_at <= ${now}))`,
  );
  return rows.map(({ id }) => id);
}

/** More uses of one thing than these are not listed. */
const USES_LISTED = 20;

interface UseRow extends Record<string, unknown> {
  readonly of: number;
  readonly id: CampaignId;
  readonly name: string;
  readonly waits: boolean;
}

/** The latest campaigns that use each of some things; `uses` says which thing, as `of`, of which campaign `k`. */
async function usesOf(db: Db, uses: SQL): Promise<Map<number, UseRow[]>> {
  const { rows } = await execute<UseRow>(
    db,
    sql`
    select u.of, u.id, u.name, u.waits from (
      select u.*, row_number() over (partition by u.of order by u.id desc) as place from (${uses}) u) u
    where u.place <= ${USES_LISTED} order by u.of, u.id desc`,
  );
  const found = new Map<number, UseRow[]>();
  for (const row of rows) found.set(row.of, [...(found.get(row.of) ?? []), row]);
  return found;
}

const use = sql`k.id, k.name, ${isIn((status) => status === 'scheduled', 'k')} as waits`;

export const usesOfLetters = (db: Db, ids: readonly LetterId[]): Promise<Map<number, UseRow[]>> =>
  usesOf(
    db,
    sql`select k.letter_id as of, ${use} from ${campaigns} k
      where k.deleted_at is null and k.letter_id = any(${sql.param([...ids])}::int[])`,
  );

/** Campaigns that name segments, with when they began to go out; those still to go first, then the latest. */
export async function usesOfSegments(
  db: Db,
  ids: readonly SegmentId[],
): Promise<Map<number, (UseRow & { readonly startedAt: Date | null })[]>> {
  const { rows } = await execute<UseRow & { readonly of: number; readonly started: Date | null }>(
    db,
    sql`select * from (
      select u.*, row_number() over (partition by u.of order by (u.started is null) desc, u.started desc, u.id desc) as place from (
        select distinct (r ->> 'id')::int as of, ${use}, k.started_at as started from ${campaigns} k
        cross join lateral jsonb_array_elements((k.who -> 'to') || (k.who -> 'notTo')) r
        where k.deleted_at is null and r ->> 'kind' = 'segment' and (r ->> 'id')::int = any(${sql.param([...ids])}::int[])) u) u
      where u.place <= ${USES_LISTED} order by u.of, u.place`,
  );
  const found = new Map<number, (UseRow & { readonly startedAt: Date | null })[]>();
  for (const { started, ...row } of rows)
    found.set(row.of, [...(found.get(row.of) ?? []), { ...row, startedAt: started }]);
  return found;
}

/** Campaigns whose first letter was handed over, the latest first; their links only when they are wanted. */
export async function startedCampaigns(db: Db, withLinks: boolean): Promise<CampaignInRule[]> {
  const links = withLinks
    ? sql`(select coalesce(array_agg(coalesce(l ->> 'url', '') order by place), '{}') from jsonb_array_elements(k.compiled -> 'links') with ordinality x(l, place))`
    : sql`'{}'::text[]`;
  const { rows } = await execute<{ id: number; name: string; at: Date; links: string[] }>(
    db,
    sql`select k.id, k.name, k.started_at as at, ${links} as links from ${campaigns} k
      where k.started_at is not null and k.deleted_at is null order by k.started_at desc, k.id desc`,
  );
  return rows.map((row) => ({ ...row, at: row.at.getTime() }));
}

/** Which tags stand on the sheets of campaigns that did not go out yet. */
export async function tagsOnSheets(
  db: Db,
): Promise<{ tag: number; id: number; name: string; waits: boolean }[]> {
  const { rows } = await execute<{ tag: number; id: number; name: string; waits: boolean }>(
    db,
    sql`select distinct (r ->> 'id')::int as tag, k.id, k.name, k.status <> 'draft' as waits from ${campaigns} k
      cross join lateral jsonb_array_elements((k.who -> 'to') || (k.who -> 'notTo')) r
      where k.deleted_at is null and k.fixed_at is null and r ->> 'kind' = 'tag' order by k.id`,
  );
  return rows;
}

/** Sheets that are still written. */
export const draftTrees: Trees = {
  table: campaigns,
  tree: campaigns.who,
  among: sql`deleted_at is null and status = 'draft'`,
};

/** Other campaigns whose letters of this kind went out since. */
export async function sentLetterSince(
  db: Db,
  letterId: LetterId,
  but: CampaignId,
  since: Date,
): Promise<CampaignId[]> {
  const rows = await db
    .select({ id: campaigns.id })
    .from(campaigns)
    .where(
      and(
        eq(campaigns.letterId, letterId),
        ne(campaigns.id, but),
        gt(campaigns.startedAt, since),
        isNull(campaigns.deletedAt),
      ),
    )
    .limit(20);
  return rows.map(({ id }) => id);
}
