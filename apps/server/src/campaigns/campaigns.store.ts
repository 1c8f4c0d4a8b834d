import type { CampaignState, CampaignStatus, Tally } from '@palabra/core/campaigns';
import { noneHeldBack } from '@palabra/core/campaigns';
import { and, eq, inArray, isNull, sql } from 'drizzle-orm';
import { execute, type Db } from '../platform/database.js';
import { campaigns } from './campaigns.table.js';

export type Campaign = typeof campaigns.$inferSelect;

export interface CampaignListRow extends Record<string, unknown> {
  readonly id: number;
  readonly name: string;
  readonly status: CampaignStatus;
  readonly subject: unknown;
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
    select k.id, k.name, k.status, coalesce(to_jsonb(k.subject), l.content -> 'subject') as subject, k.send_at, k.started_at, k.updated_at, k.seen, k.tally
    from campaigns k left join letters l on l.id = k.letter_id
    where k.deleted_at is null
    order by k.status in ('sent', 'stopped'), coalesce(k.started_at, k.send_at, k.updated_at) desc, k.id desc limit 500`,
  );
  return rows;
}

export async function campaignById(db: Db, id: number): Promise<Campaign | undefined> {
  const [row] = await db
    .select()
    .from(campaigns)
    .where(and(eq(campaigns.id, id), isNull(campaigns.deletedAt)));
  return row;
}

/** For a decision that is written in the same transaction. */
export async function lockCampaign(db: Db, id: number): Promise<Campaign | undefined> {
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
): Promise<number> {
  const [row] = await db.insert(campaigns).values(values).returning({ id: campaigns.id });
  if (!row) throw new Error('the campaign was not written');
  return row.id;
}

/** Writes the sheet of a draft of the version seen. */
export async function changeSheet(
  db: Db,
  id: number,
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
        eq(campaigns.status, 'draft'),
        isNull(campaigns.deletedAt),
      ),
    )
    .returning();
  return row;
}

export const patchCampaign = async (
  db: Db,
  id: number,
  values: Partial<Campaign>,
): Promise<void> => {
  await db.update(campaigns).set(values).where(eq(campaigns.id, id));
};

/** The one place where a decided state becomes columns. */
export async function writeState(
  db: Db,
  id: number,
  state: CampaignState,
  now: Date,
): Promise<void> {
  const common = { status: state.status, version: sql`version + 1`, updatedAt: now } as const;
  const extra = (() => {
    switch (state.status) {
      case 'scheduled':
        return { sendAt: state.sendAt, seen: state.seen };
      case 'fixing':
        return { seen: state.seen, fixedUpTo: 0 };
      case 'differs':
        return { tally: state.now };
      case 'sending':
        return { startedAt: sql`coalesce(started_at, ${now})` };
      case 'stopped':
      case 'sent':
        return { finishedAt: now, trouble: null };
      case 'draft':
        return {
          seen: null,
          tally: null,
          fixedUpTo: 0,
          compiled: null,
          subject: null,
          fixedAt: null,
        };
      default:
        return {};
    }
  })();
  await db
    .update(campaigns)
    .set({ ...common, ...extra })
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
export const factsChanged = async (db: Db, ids: readonly number[]): Promise<void> => {
  if (ids.length === 0) return;
  await db
    .update(campaigns)
    .set({ factsVersion: sql`facts_version + 1` })
    .where(inArray(campaigns.id, [...new Set(ids)]));
};

export const deleteDraft = async (db: Db, id: number, at: Date | null): Promise<boolean> => {
  const rows = await db
    .update(campaigns)
    .set({ deletedAt: at })
    .where(and(eq(campaigns.id, id), eq(campaigns.status, 'draft')))
    .returning({ id: campaigns.id });
  return rows.length > 0;
};

export async function dueCampaigns(db: Db, now: Date): Promise<number[]> {
  const { rows } = await execute<{ id: number }>(
    db,
    sql`select id from campaigns where deleted_at is null and (status = 'fixing' or (status = 'scheduled' and send_at <= ${now}))`,
  );
  return rows.map(({ id }) => id);
}
