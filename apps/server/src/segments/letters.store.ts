// What became of letters, as rules ask for it: one place says which deliveries a deed means, for everybody and for one.
import type { ContactId } from '@palabra/core/contacts';
import { tried } from '@palabra/core/delivery';
import {
  isRecent,
  type KeptDeed,
  type LetterDeed,
  type LetterFact,
  type RecentDeed,
  type Reference,
} from '@palabra/core/segments';
import { sql, type SQL } from 'drizzle-orm';
import { deliveries, latestFirst } from '../delivery/delivery.table.js';
import { execute, type Db } from '../platform/database.js';

type Asked = Extract<Reference, { of: 'letters' | 'their letters' }>;

const wasTried = sql.raw(`d.state in (${tried.map((state) => `'${state}'`).join(', ')})`);

/** Conditions on `deliveries d`. */
const so: { readonly [D in LetterDeed]: (machines: boolean) => SQL } = {
  sent: () => wasTried,
  delivered: () => sql`d.state = 'accepted'`,
  'not opened': (machines) =>
    machines
      ? sql`d.state = 'accepted' and d.first_opened_at is null and d.machine_opens = 0`
      : sql`d.state = 'accepted' and d.first_opened_at is null`,
  opened: (machines) =>
    machines
      ? sql`(d.first_opened_at is not null or d.machine_opens > 0)`
      : sql`d.first_opened_at is not null`,
  clicked: (machines) =>
    machines
      ? sql`(d.first_clicked_at is not null or d.machine_clicks > 0)`
      : sql`d.first_clicked_at is not null`,
  bounced: () => sql`d.state = 'bounced'`,
  replied: () => sql`d.replied_at is not null`,
  left: () => sql`d.left_at is not null`,
};

/** One of some links was clicked. */
function clickedOneOf(links: NonNullable<Asked['links']>, machines: boolean): SQL {
  const byCampaign = new Map<number, number[]>();
  for (const [campaign, link] of links)
    byCampaign.set(campaign, [...(byCampaign.get(campaign) ?? []), link]);
  if (byCampaign.size === 0) return sql`false`;
  const each = [...byCampaign].map(([campaign, numbers]) => {
    const wanted = sql`${sql.param(numbers)}::smallint[]`;
    const own = sql`d.links && ${wanted}`;
    return sql`d.campaign_id = ${campaign} and ${machines ? sql`(${own} or d.machine_links && ${wanted})` : own}`;
  });
  return sql`(${sql.join(each, sql` or `)})`;
}

const isSo = ({ did, machines, links }: Asked): SQL =>
  links ? sql`${so[did](machines)} and ${clickedOneOf(links, machines)}` : so[did](machines);

interface Stretch {
  readonly after: number;
  readonly upTo: number;
}

const among = (within: Stretch | undefined): SQL =>
  within ? sql` and d.contact_id > ${within.after} and d.contact_id <= ${within.upTo}` : sql``;

/** Rows of `contact_id`, one for each letter of some campaigns that is so. */
export function lettersOf(
  asked: Extract<Asked, { of: 'letters' }>,
  within: Stretch | undefined,
): SQL {
  const of = (is: SQL): SQL =>
    sql`select d.contact_id from ${deliveries} d where d.campaign_id = any(${sql.param(asked.campaigns)}::int[]) and ${is}${among(within)}`;
  // What arrived was opened or not: of each there is an index that says all.
  if (asked.did === 'delivered')
    return sql`(${of(so['not opened'](false))} union all ${of(sql`d.state = 'accepted' and d.first_opened_at is not null`)}) letters`;
  return sql`(${of(isSo(asked))}) letters`;
}

/** Who opened a letter that came back, or of which nobody knows whether it arrived; they are few. What is kept with them counts it among the opened ones. */
const otherwise = sql`select d.contact_id from ${deliveries} d where d.state <> 'accepted' and d.first_opened_at is not null`;
/** The same of letters that were tried. Each kind is read by its index. */
const triedOtherwise = sql.join(
  [
    sql`d.state = 'bounced'`,
    sql`d.state in ('gave up', 'uncertain')`,
    sql`d.state in ('waiting', 'deferred', 'handing over') and ${wasTried}`,
  ].map((is) => sql`select d.contact_id from ${deliveries} d where ${is}`),
  sql` union all `,
);
const kept: { readonly [D in KeptDeed]: SQL } = {
  sent: sql`c.delivered_count`,
  delivered: sql`c.delivered_count`,
  'not opened': sql`(c.delivered_count - c.opened_count)`,
  opened: sql`c.opened_count`,
  clicked: sql`c.clicked_count`,
};

/** Of how many letters it was so for `contacts c`, of all that ever went out. For nearly everybody that follows from what is kept with them. */
export function lettersSoFar(did: KeptDeed): SQL {
  if (did !== 'sent' && did !== 'not opened') return kept[did];
  return sql`(case when c.id in (${did === 'sent' ? triedOtherwise : otherwise}) then (select count(*) from ${deliveries} d where d.contact_id = c.id and ${so[did](false)}) else ${kept[did]} end)`;
}

/** The bits of what is kept of the last letters to `contacts c`. */
const recent: { readonly [D in RecentDeed]: SQL } = {
  sent: sql`c.recent_letters`,
  delivered: sql`c.recent_accepted`,
  'not opened': sql`(c.recent_accepted & ~c.recent_opened)`,
  opened: sql`c.recent_opened`,
  clicked: sql`c.recent_clicked`,
  bounced: sql`c.recent_bounced`,
};
/** Who has a letter that is on its way: what is kept with them does not tell of it. */
const onTheWay = sql.join(
  [sql`d.state = 'uncertain'`, sql`d.state in ('deferred', 'handing over')`].map(
    (is) => sql`select d.contact_id from ${deliveries} d where ${is}`,
  ),
  sql` union all `,
);

/** How many of the last so many letters that `contacts c` was sent are so, or are not. Most of it is kept with them; where it is not, their letters are looked at. */
export function theirLetters(asked: Extract<Asked, { of: 'their letters' }>): SQL {
  const { did, are, count, machines, links } = asked;
  const looked = sql`(select count(*) filter (where ${are === 'so' ? isSo(asked) : sql`not (${isSo(asked)})`}) from (select d.* from ${deliveries} d
    where d.contact_id = c.id and ${wasTried} order by ${latestFirst} limit ${count}) d)`;
  if (machines || links || !isRecent(did)) return looked;
  const bits = are === 'so' ? recent[did] : sql`(c.recent_letters & ~${recent[did]})`;
  return sql`(case when c.recent_letters is null or c.rating_due or c.id in (${onTheWay}) then ${looked}
    else bit_count((${bits} & ${2 ** count - 1}::bigint)::bit(64)) end)`;
}

interface Row extends Record<string, unknown> {
  readonly campaign: number;
  readonly sent: Date | null;
  readonly was_tried: boolean;
  readonly delivered: boolean;
  readonly opened: Date | null;
  readonly clicked: Date | null;
  readonly bounced: Date | null;
  readonly came_back: boolean;
  readonly replied: Date | null;
  readonly left: Date | null;
  readonly machine_opened: boolean;
  readonly machine_clicked: boolean;
  readonly links: number[];
  readonly machine_links: number[];
}

const time = (at: Date | null): number | null => at?.getTime() ?? null;

/** The letters that were meant for one person. */
export async function lettersTo(db: Db, id: ContactId): Promise<LetterFact[]> {
  const { rows } = await execute<Row>(
    db,
    sql`select d.campaign_id as campaign, coalesce(d.first_tried_at, d.accepted_at) as sent, ${wasTried} as was_tried,
        ${so.delivered(false)} as delivered, d.first_opened_at as opened, d.first_clicked_at as clicked,
        d.bounced_at as bounced, ${so.bounced(false)} as came_back, d.replied_at as replied, d.left_at as left,
        d.machine_opens > 0 as machine_opened, d.machine_clicks > 0 as machine_clicked, d.links, d.machine_links
      from ${deliveries} d where d.contact_id = ${id} order by d.campaign_id`,
  );
  return rows.map((row) => ({
    campaign: row.campaign,
    sent: row.was_tried ? (time(row.sent) ?? 0) : null,
    delivered: row.delivered,
    opened: time(row.opened),
    clicked: time(row.clicked),
    bounced: row.came_back ? (time(row.bounced) ?? time(row.sent) ?? 0) : null,
    replied: time(row.replied),
    left: time(row.left),
    machineOpened: row.machine_opened,
    machineClicked: row.machine_clicked,
    links: row.links,
    machineLinks: row.machine_links,
  }));
}
