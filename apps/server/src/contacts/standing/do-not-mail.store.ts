// The addresses nothing may be sent to. Written before the answer goes out, never overwritten by a weaker reason.
import type { CampaignId } from '@palabra/core/campaigns';
import type { ContactId, DoNotMailReason } from '@palabra/core/contacts';
import { seesEverybody, type Viewer, type UserId } from '@palabra/core/office';
import { eq, sql, type SQL } from 'drizzle-orm';
import { execute, type Db } from '../../platform/database.js';
import { contacts } from '../people/people.table.js';
import { cameBack, doNotMail, droppedTopics } from './standing.table.js';

export type DoNotMailEntry = typeof doNotMail.$inferSelect;

const madeBy = (entry: DoNotMailEntry, viewer: Viewer): boolean =>
  seesEverybody(viewer.role) || entry.userId === viewer.userId;

/** What a person of the office wrote, they or a coordinator take off; what a reader did, only that reader. */
export const mayTakeOff = (entry: DoNotMailEntry, viewer: Viewer): boolean =>
  entry.reason === 'by hand' && madeBy(entry, viewer);

/** The note belongs to the entry, not to whoever has the address, too. */
export const noteFor = (entry: DoNotMailEntry, viewer: Viewer): string | null =>
  madeBy(entry, viewer) ? entry.note : null;

/** Which of two reasons stands on an address, and which one beneath it: what the reader said outweighs what the office did. */
const STRENGTHS: Readonly<Record<DoNotMailReason, number>> = {
  erased: 4,
  left: 3,
  complained: 3,
  'by hand': 2,
  'hard bounce': 1,
};
const strength = (reason: SQL): SQL =>
  sql`case ${reason} ${sql.join(
    Object.entries(STRENGTHS).map(([one, level]) => sql.raw(`when '${one}' then ${level}`)),
    sql` `,
  )} else 0 end`;

/** Writes entries, a query of `address_hash, address, reason, at, campaign_id, note, user_id, spread_from`, an address once. None is lost: a weaker one stands beneath. */
async function write(db: Db, entries: SQL): Promise<void> {
  const [was, is] = [strength(sql`d.reason`), strength(sql`excluded.reason`)];
  const stronger = sql`${is} > ${was}`;
  const taken = (column: string): SQL =>
    sql
      .raw(column)
      .append(
        sql` = case when ${stronger} then excluded.${sql.raw(column)} else d.${sql.raw(column)} end`,
      );
  // Two people of the office who said the same have to agree that it goes, or somebody who may speak for both.
  const isOfSeveral = sql`d.reason = 'by hand' and excluded.reason = 'by hand' and d.user_id is distinct from excluded.user_id`;
  await execute(
    db,
    sql`
    insert into ${doNotMail} as d (address_hash, address, reason, at, campaign_id, note, user_id, spread_from) ${entries}
    on conflict (address_hash) do update set
      ${sql.join(['reason', 'at', 'campaign_id', 'note', 'spread_from'].map(taken), sql`, `)},
      user_id = case when ${stronger} then excluded.user_id when ${isOfSeveral} then null else d.user_id end,
      beneath = case when ${stronger} then d.reason
        when ${is} < ${was} and ${is} > ${strength(sql`coalesce(d.beneath, '')`)} then excluded.reason else d.beneath end
    where ${is} <> ${was} or ${isOfSeveral}`,
  );
}

/** Says whether nothing as strong stood there before. */
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
  const { addressHash, address, reason, at, campaignId, note, userId } = entry;
  const before = await doNotMailEntry(db, addressHash);
  await write(
    db,
    sql`values (${addressHash}::bytea, ${address}::text, ${reason}::text, ${at}::timestamptz, ${campaignId ?? null}::int, ${note ?? null}::text, ${userId ?? null}::int, null::bytea)`,
  );
  if (reason !== 'hard bounce') {
    await spread(db, hasHash(addressHash));
    await rateAnew(db, hasHash(addressHash));
  }
  return !before || STRENGTHS[before.reason] < STRENGTHS[reason];
}

/**
 * What the reader of a letter says holds for the person behind it, with all addresses that they have by now, whatever
 * address the letter once went to. `entry` names that one.
 */
export async function putPersonOnDoNotMail(
  db: Db,
  contact: ContactId,
  entry: Parameters<typeof putOnDoNotMail>[1] & { readonly reason: 'left' | 'complained' },
): Promise<boolean> {
  const isNew = await putOnDoNotMail(db, entry);
  await write(
    db,
    sql`select distinct on (r.hash) r.hash, r.address, ${entry.reason}::text, ${entry.at}::timestamptz, ${entry.campaignId ?? null}::int, null::text, null::int, ${entry.addressHash}::bytea
      from ${contacts} c cross join lateral ${reach} r where c.id = ${contact} and r.hash <> ${entry.addressHash}::bytea order by r.hash`,
  );
  await rateAnew(db, sql`c.id = ${contact}`);
  return isNew;
}

/** The addresses that somebody has now, and one that they had, each once. */
export async function addressesOf(
  db: Db,
  contact: ContactId,
  also: Buffer,
): Promise<readonly Buffer[]> {
  const { rows } = await execute<{ hash: Buffer }>(
    db,
    sql`select ${also}::bytea as hash union select r.hash from ${contacts} c cross join lateral ${reach} r where c.id = ${contact}`,
  );
  return rows.map(({ hash }) => hash);
}

/** Leaving ends a rating, and coming back begins it again. `people` is a condition on `contacts c`. */
const rateAnew = async (db: Db, people: SQL): Promise<void> => {
  await execute(db, sql`update ${contacts} c set rating_due = true where ${people}`);
};

/** What was decided about the person, and not about the address, or about somebody who had it before: by the reader, and by the office. An entry is `d`. */
const aboutThem = [sql`d.reason in ('left', 'complained')`, sql`d.reason = 'by hand'`] as const;
const saidAbout = sql`coalesce(d.spread_from, d.address_hash)`;
/** Whoever reads an address said later that they want letters there. */
const cameBackSince = (hash: SQL): SQL =>
  sql`(d.reason <> 'by hand' and exists (select 1 from ${cameBack} b where b.address_hash = ${hash} and b.at > d.at))`;

/** Whoever has an address, as their first or a further one: a condition on `contacts c`. */
const hasHash = (hash: Buffer): SQL =>
  sql`(c.address_hash = ${hash} or (c.more_addresses is not null and c.more_hashes @> array[${hash}::bytea]))`;

/** All addresses of a contact `c`: `hash, address`. */
const reach = sql`(select c.address_hash as hash, c.address where c.address_hash is not null
  union all select hash, address from unnest(c.more_hashes, string_to_array(c.more_addresses, E'\\n')) m(hash, address))`;

/** Of the earliest entry. */
const first = (column: SQL): SQL => sql`(array_agg(${column} order by d.at))[1]`;

/**
 * Leaving by one address is leaving with all: what a reader or the office decided about one address of some people (a
 * condition on `contacts c`) holds for their others. Only that an address is dead stays with the address.
 */
export async function spread(db: Db, people: SQL): Promise<void> {
  for (const isMeant of aboutThem)
    await write(
      db,
      sql`
      select r.hash, ${first(sql`r.address`)}, ${first(sql`d.reason`)}, min(d.at), ${first(sql`d.campaign_id`)}, ${first(sql`d.note`)},
        case when count(distinct coalesce(d.user_id, 0)) = 1 then min(d.user_id) end, ${first(saidAbout)}
      from ${contacts} c cross join lateral ${reach} r cross join lateral ${reach} mine join ${doNotMail} d on d.address_hash = mine.hash
      where ${people} and c.more_addresses is not null and r.hash <> mine.hash and ${isMeant} and not ${cameBackSince(sql`r.hash`)}
      group by r.hash`,
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
  for (const isMeant of aboutThem)
    await write(
      db,
      sql`select ${to}::bytea, ${address}::text, d.reason, d.at, d.campaign_id, d.note, d.user_id, ${saidAbout}
        from ${doNotMail} d where d.address_hash = ${from} and ${isMeant} and ${saidAbout} <> ${to}::bytea and not ${cameBackSince(sql`${to}::bytea`)}`,
    );
  await execute(
    db,
    sql`insert into ${droppedTopics} (address_hash, topic_id, at) select ${to}, topic_id, at from ${droppedTopics} where address_hash = ${from} on conflict do nothing`,
  );
}

/**
 * Takes an address off: what the office said, with all addresses that it was spread to; what a reader did, for that address
 * and those to which it was spread from there, but never for another one that it came from. What stood beneath comes forth.
 */
export async function takeOffDoNotMail(db: Db, addressHash: Buffer, now: Date): Promise<void> {
  const { rows } = await execute<{ hash: Buffer; reason: DoNotMailReason }>(
    db,
    sql`
    select d.address_hash as hash, d.reason from ${doNotMail} d, ${doNotMail} mine where mine.address_hash = ${addressHash} and d.reason = mine.reason and (
      d.address_hash = mine.address_hash or mine.reason <> 'by hand' and d.spread_from = mine.address_hash
      or mine.reason = 'by hand' and d.user_id is not distinct from mine.user_id
        and ${saidAbout} = coalesce(mine.spread_from, mine.address_hash)) for update of d`,
  );
  const hashes = sql`any(${sql.param(rows.map(({ hash }) => hash))}::bytea[])`;
  await rateAnew(
    db,
    sql`(c.address_hash = ${hashes} or c.more_addresses is not null and c.more_hashes && ${sql.param(rows.map(({ hash }) => hash))}::bytea[])`,
  );
  await execute(
    db,
    sql`update ${doNotMail} set reason = beneath, beneath = null, user_id = null, note = null, spread_from = null where address_hash = ${hashes} and beneath is not null`,
  );
  // What came forth just now has nothing beneath it any more, and another reason.
  await execute(
    db,
    sql`delete from ${doNotMail} where address_hash = ${hashes} and reason = ${rows[0]?.reason ?? ''}`,
  );
  if (rows.some(({ reason }) => reason !== 'by hand'))
    await execute(
      db,
      sql`insert into ${cameBack} (address_hash, at) values (${addressHash}, ${now}) on conflict (address_hash) do update set at = excluded.at`,
    );
}

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
