// The addresses nothing may be sent to. Written before the answer goes out, never overwritten by a weaker reason.
import type { CampaignId } from '@palabra/core/campaigns';
import type { DoNotMailReason } from '@palabra/core/contacts';
import { seesEverybody, type Viewer, type UserId } from '@palabra/core/office';
import { eq, sql, type SQL } from 'drizzle-orm';
import { execute, type Db } from '../../platform/database.js';
import { contacts } from '../people/people.table.js';
import { doNotMail, droppedTopics } from './standing.table.js';

export type DoNotMailEntry = typeof doNotMail.$inferSelect;

const madeBy = (entry: DoNotMailEntry, viewer: Viewer): boolean =>
  seesEverybody(viewer.role) || entry.userId === viewer.userId;

/** What a person of the office wrote, they or a coordinator take off; what a reader did, only that reader. */
export const mayTakeOff = (entry: DoNotMailEntry, viewer: Viewer): boolean =>
  entry.reason === 'by hand' && madeBy(entry, viewer);

/** The note belongs to the entry, not to whoever has the address, too. */
export const noteFor = (entry: DoNotMailEntry, viewer: Viewer): string | null =>
  madeBy(entry, viewer) ? entry.note : null;

export async function putOnDoNotMail(
  db: Db,
  entry: {
    addressHash: Buffer;
    address: string | null;
    reason: DoNotMailReason;
    at: Date;
    campaignId?: CampaignId;
    note?: string;
    userId?: UserId;
  },
): Promise<boolean> {
  const rows = await db
    .insert(doNotMail)
    .values(entry)
    .onConflictDoNothing()
    .returning({ hash: doNotMail.addressHash });
  if (entry.reason !== 'hard bounce') {
    await spread(db, hasHash(entry.addressHash));
    await rateAnew(db, hasHash(entry.addressHash));
  }
  return rows.length > 0;
}

/** Leaving ends a rating, and coming back begins it again. `people` is a condition on `contacts c`. */
const rateAnew = async (db: Db, people: SQL): Promise<void> => {
  await execute(db, sql`update ${contacts} c set rating_due = true where ${people}`);
};

/** What was decided about the person, and not about the address, or about somebody who had it before. An entry is `d`. */
const isAboutThem = sql`d.reason not in ('hard bounce', 'erased')`;

/** Whoever has an address, as their first or a further one: a condition on `contacts c`. */
const hasHash = (hash: Buffer): SQL =>
  sql`(c.address_hash = ${hash} or (c.more_addresses is not null and c.more_hashes @> array[${hash}::bytea]))`;

/** All addresses of a contact `c`: `hash, address`. */
const reach = sql`(select c.address_hash as hash, c.address where c.address_hash is not null
  union all select hash, address from unnest(c.more_hashes, string_to_array(c.more_addresses, E'\\n')) m(hash, address))`;

/**
 * Leaving by one address is leaving with all: what a reader or the office decided about one address of some people (a
 * condition on `contacts c`) holds for their others. Only that an address is dead stays with the address.
 */
export async function spread(db: Db, people: SQL): Promise<void> {
  await execute(
    db,
    sql`
    insert into ${doNotMail} (address_hash, address, reason, at, campaign_id, note, user_id)
    select distinct on (r.hash) r.hash, r.address, w.reason, w.at, w.campaign_id, w.note, w.user_id
    from ${contacts} c cross join lateral ${reach} r cross join lateral (
      select d.* from ${reach} mine join ${doNotMail} d on d.address_hash = mine.hash where ${isAboutThem} order by d.at limit 1) w
    where ${people} and c.more_addresses is not null
    order by r.hash, w.at
    on conflict (address_hash) do update set reason = excluded.reason, at = excluded.at, campaign_id = excluded.campaign_id, note = excluded.note, user_id = excluded.user_id
      where do_not_mail.reason = 'hard bounce'`,
  );
}

/**
 * A person has another address: that they left, complained, were put there by hand, or dropped topics is about them
 * and goes with them, and stays on the old address, too. Only that an address is dead is about the address.
 */
export async function followAddress(
  db: Db,
  from: Buffer,
  to: Buffer,
  address: string | null,
): Promise<void> {
  await execute(
    db,
    sql`
    insert into ${doNotMail} (address_hash, address, reason, at, campaign_id, note, user_id)
    select ${to}, ${address}, reason, at, campaign_id, note, user_id from ${doNotMail} d where address_hash = ${from} and ${isAboutThem}
    on conflict (address_hash) do update set reason = excluded.reason, at = excluded.at, campaign_id = excluded.campaign_id, note = excluded.note, user_id = excluded.user_id
      where do_not_mail.reason = 'hard bounce'`,
  );
  await execute(
    db,
    sql`insert into ${droppedTopics} (address_hash, topic_id, at) select ${to}, topic_id, at from ${droppedTopics} where address_hash = ${from} on conflict do nothing`,
  );
}

/** Takes an address off, and with it the others of the same person that are there for the same reason. */
export const takeOffDoNotMail = async (db: Db, addressHash: Buffer): Promise<void> => {
  await rateAnew(db, hasHash(addressHash));
  await execute(
    db,
    sql`
    delete from ${doNotMail} d using ${doNotMail} mine where mine.address_hash = ${addressHash} and (d.address_hash = mine.address_hash
      or (d.reason = mine.reason and d.address_hash in (select r.hash from ${contacts} c cross join lateral ${reach} r where ${hasHash(addressHash)})))`,
  );
};

export async function doNotMailEntry(
  db: Db,
  addressHash: Buffer | null,
): Promise<DoNotMailEntry | undefined> {
  if (!addressHash) return undefined;
  const [row] = await db.select().from(doNotMail).where(eq(doNotMail.addressHash, addressHash));
  return row;
}

/** Why some addresses are on do not mail, by their hashes in hex; the others are not on it. */
export async function keptFromMail(
  db: Db,
  hashes: readonly string[],
): Promise<ReadonlyMap<string, DoNotMailReason>> {
  if (hashes.length === 0) return new Map();
  const { rows } = await execute<{ hash: string; reason: DoNotMailReason }>(
    db,
    sql`select asked.hash, d.reason from unnest(${sql.param([...hashes])}::text[]) asked(hash) join ${doNotMail} d on d.address_hash = decode(asked.hash, 'hex')`,
  );
  return new Map(rows.map(({ hash, reason }) => [hash, reason]));
}
