// Who a campaign reaches, as SQL: the people matched, and for each the one reason for holding back.
import type { TagId } from '@palabra/core/contacts';
import { heldBackReasons, reasonOfPart, type HeldBackReason } from '@palabra/core/campaigns';
import { numberOfPart, resultNumbers } from '@palabra/core/results';
import { sql, type SQL } from 'drizzle-orm';
import { execute, type Db } from '../platform/database.js';
import { offices } from '../office/office.table.js';
import { doNotMail, droppedTopics } from '../contacts/standing/standing.table.js';
import { pools } from '../contacts/vocabulary/vocabulary.table.js';
import { tagged } from '../contacts/index.js';
import { contacts } from '../contacts/people/people.table.js';

/** “Who”, bound: conditions on `contacts c`. */
export interface BoundWho {
  readonly to: SQL;
  /** The same, entry by entry. */
  readonly toEach: readonly SQL[];
  readonly notTo: SQL;
  /** Several pools may hold the same address; within one it is unique. */
  readonly severalPools: boolean;
  /** The kind of letter, where the campaign names one. */
  readonly topic: number | null;
}

/** A tag on a campaign's sheet means the office's own people who have it. */
export const taggedInHouse = (tagId: TagId): SQL =>
  sql`c.pool_id = (select id from ${pools} where kind = 'house') and ${tagged(tagId)}`;

export const anyOf = (conditions: readonly SQL[]): SQL =>
  conditions.length === 0
    ? sql`false`
    : sql`(${sql.join(
        conditions.map((one) => sql`(${one})`),
        sql` or `,
      )})`;

type Asked = Pick<BoundWho, 'notTo' | 'topic'>;

/** When each reason applies, as a condition on `contacts c`; undefined where the campaign can't meet it. */
const applies: {
  readonly [R in Exclude<HeldBackReason, 'same address'>]: (asked: Asked) => SQL | undefined;
} = {
  'left out': ({ notTo }) => notTo,
  'no address': () => sql`c.address_key is null`,
  'do not mail': () =>
    sql`exists (select 1 from ${doNotMail} d where d.address_hash = c.address_hash)`,
  'dropped topic': ({ topic }) =>
    topic === null
      ? undefined
      : sql`exists (select 1 from ${droppedTopics} t where t.address_hash = c.address_hash and t.topic_id = ${topic})`,
  'soft bounces': () =>
    sql`c.soft_bounces >= (select coalesce(min(nullif(soft_bounce_limit, 0)), 32767) from ${offices})`,
  'unread bounces': () =>
    sql`c.unread_bounces >= (select coalesce(min(nullif(unread_bounce_limit, 0)), 32767) from ${offices})`,
  'beyond ascii': () =>
    sql`octet_length(c.address_key) <> char_length(c.address_key) and not (select coalesce(bool_or(mail_takes_utf8), false) from ${offices})`,
  'no permission': () =>
    sql`c.permission = 'unknown' and not (select coalesce(bool_or(mail_unknown), false) from ${offices})`,
};

/** The first that applies. Who shares an address with another is found out behind all of these. */
const firstReason = (asked: Asked): SQL =>
  sql`case ${sql.join(
    heldBackReasons.flatMap((reason) => {
      const condition = reason === 'same address' ? undefined : applies[reason](asked);
      return condition ? [sql`when ${condition} then ${sql.raw(`'${reason}'`)}`] : [];
    }),
    sql` `,
  )} end`;

/** House before the others, then the lowest key. */
const rank = (alias: 'c' | 'p'): SQL =>
  sql`(${sql.raw(alias)}.pool_id <> (select id from ${pools} where kind = 'house'), ${sql.raw(alias)}.id)`;

/** Rows (id, address, address_hash, reason) of everybody matched; `stretch` limits it to a range of contact keys. */
export function judged(who: BoundWho, stretch: SQL = sql`true`): SQL {
  const { to, severalPools } = who;
  const first = sql`select c.id, c.pool_id, c.address, c.address_hash, ${firstReason(who)} as reason from ${contacts} c where c.deleted_at is null and ${to} and ${stretch}`;
  if (!severalPools) return first;
  // In the house an address is unique and comes first: only people of the other pools can have an earlier twin.
  return sql`select p.id, p.pool_id, p.address, p.address_hash, case when p.reason is null and p.pool_id <> (select id from ${pools} where kind = 'house') and exists (
      select 1 from ${contacts} c where c.address_hash = p.address_hash and ${rank('c')} < ${rank('p')}
        and c.deleted_at is null and ${to} and ${firstReason(who)} is null
    ) then 'same address' else p.reason end as reason from (${first}) p`;
}

export async function countReasons(
  db: Db,
  who: BoundWho,
): Promise<{ reason: HeldBackReason | null; count: number }[]> {
  const { rows } = await execute<{ reason: HeldBackReason | null; count: number }>(
    db,
    // Behind “offset 0” the planner expects few reasons and counts them as they come; else it sorts everybody by theirs.
    sql`select reason, count(*) as count from (${judged(who)} offset 0) j group by reason`,
  );
  return rows;
}

/** Who is in more than one entry. */
export const inSeveral = ({ toEach }: Pick<BoundWho, 'toEach'>): SQL =>
  toEach.length < 2
    ? sql`false`
    : sql`(${sql.join(
        toEach.map((one) => sql`case when ${one} then 1 else 0 end`),
        sql` + `,
      )}) > 1`;

/** People of one line of a tally that is not written yet. */
export function draftPeople(who: BoundWho, part: string): SQL | undefined {
  if (part === 'matched') return who.to;
  if (part === 'in-several') return inSeveral(who);
  const reason = reasonOfPart(part);
  if (part !== 'receives' && part !== 'held-back' && !reason) return undefined;
  const wanted = reason
    ? sql`j.reason = ${reason}`
    : part === 'receives'
      ? sql`j.reason is null`
      : sql`j.reason is not null`;
  return sql`c.id in (select j.id from (${judged(who)}) j where ${wanted})`;
}

/** Signs of a link's words that are shown in a heading. */
const SHOWN = 60;
function clipped(text: string): string {
  const signs = Array.from(text);
  return signs.length > SHOWN ? `${signs.slice(0, SHOWN).join('').trimEnd()} …` : text;
}

const tallyWords: Readonly<Record<string, string>> = {
  matched: 'matched for',
  'in-several': 'in several groups of',
  'held-back': 'held back from',
  receives: 'who receive',
};

/** What heads the list behind a number, before the campaign's name; `links` are those of its letter. */
export function partWords(part: string, links: readonly { readonly label: string }[]): string {
  const reason = reasonOfPart(part);
  if (reason) return `held back (${reason}) from`;
  const link = links[Number(/^link-(\d{1,4})$/.exec(part)?.[1])];
  if (link) return `who clicked “${clipped(link.label)}” in`;
  const number = numberOfPart(part);
  return (number && resultNumbers[number].heads) ?? tallyWords[part] ?? 'in';
}
