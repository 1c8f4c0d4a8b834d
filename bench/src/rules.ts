// Rule counts and first pages through core and the stores, beside the same asked in hand-written SQL.
import { idOf } from '@palabra/core/kernel';
import {
  compile,
  KeySet,
  parseRule,
  queryOf,
  weightOf,
  type RuleContext,
} from '@palabra/core/segments';
import {
  allOf,
  inPool,
  living,
  page as peoplePage,
  weighedPage,
} from '@palabra/server/contacts/people/people.store';
import { startedCampaigns } from '@palabra/server/campaigns/campaigns.store';
import { allFields } from '@palabra/server/contacts/fields/fields.store';
import { allTopics } from '@palabra/server/contacts/vocabulary/topics.store';
import { allTags } from '@palabra/server/contacts/vocabulary/vocabulary.store';
import { openDatabase } from '@palabra/server/platform/database';
import { Foreground } from '@palabra/server/platform/stride';
import { HeldService } from '@palabra/server/segments/held.service';
import { inSet } from '@palabra/server/segments/held.store';
import { bindQuery, bindRule } from '@palabra/server/segments/rule.store';
import { sql } from 'drizzle-orm';
import { inTurn, pairRow, type Row, type Times } from './measure.js';
import { asked, conditions } from './requests.js';
import { dataDirOf, startWorld } from './world.js';

const roundsAt = (contacts: number): number => (contacts > 300_000 ? 4 : 15);
const FIRST = 8;
const seen = allOf(living, inPool(idOf(1)));

type Known = Pick<RuleContext, 'campaigns'>;
interface Hand {
  readonly sql: string;
  readonly values?: readonly unknown[];
}
type Value = Record<string, unknown>;

const tried =
  "state in ('handing over', 'accepted', 'deferred', 'bounced', 'gave up', 'uncertain')";
/** Who has a letter of some campaigns that is so. */
const letterOf =
  (so: string) =>
  (_: Value, campaigns: readonly number[]): Hand => ({
    sql: `c.id in (select contact_id from deliveries where campaign_id = any($1) and ${so})`,
    values: [campaigns],
  });
const without =
  (hand: (value: Value, campaigns: readonly number[]) => Hand) =>
  (...given: Parameters<typeof hand>): Hand => ({
    ...hand(...given),
    sql: `not ${hand(...given).sql}`,
  });
const threeOf =
  (so: string) =>
  (_: Value, campaigns: readonly number[]): Hand => ({
    sql: `c.id in (select contact_id from deliveries where campaign_id = any($1) and ${so} group by contact_id having count(*) >= 3)`,
    values: [campaigns],
  });
const since = (value: Value, { campaigns }: Known): Date =>
  new Date(campaigns.find(({ id }) => id === value['campaign'])?.at ?? 0);

/** Conditions on `contacts c` as somebody would write them by hand, with `$1`, `$2`; and the campaigns that are looked at. */
const byHand: Record<
  keyof typeof conditions | keyof typeof asked,
  (value: Value, campaigns: readonly number[], known: Known) => Hand
> = {
  'tag has': ({ tags }) => ({
    sql: 'c.id in (select contact_id from contact_tags where tag_id = $1)',
    values: [(tags as number[])[0]],
  }),
  'tag has any of': ({ tags }) => ({
    sql: 'c.id in (select contact_id from contact_tags where tag_id = any($1))',
    values: [tags],
  }),
  'text is': ({ value }) => ({
    sql: 'c.keys @> $1',
    values: [JSON.stringify({ town: String(value).toLowerCase() })],
  }),
  'text contains': ({ value }) => ({
    sql: "c.keys ->> 'town' like $1",
    values: [`%${String(value)}%`],
  }),
  'own choice is': ({ value }) => ({
    sql: "c.fields ->> 'own_3' = any($1)",
    values: [value],
  }),
  'own number more': ({ value }) => ({
    sql: "(c.fields ->> 'own_6')::numeric > $1",
    values: [value],
  }),
  'own date in the next days': ({ value }) => ({
    sql: "c.fields ->> 'own_4' between $1 and $2",
    values: [day(0), day((value as { count: number }).count)],
  }),
  'came in, last days': ({ value }) => ({
    sql: "c.created_at >= $1::date::timestamp at time zone 'Europe/Lisbon'",
    values: [day(-(value as { count: number }).count)],
  }),
  permission: () => ({ sql: "c.permission = 'asked'" }),
  'on do not mail': () => ({
    sql: "c.address_hash in (select address_hash from do_not_mail where reason = 'left')",
  }),
  'has dropped a topic': ({ topics }) => ({
    sql: 'c.address_hash in (select address_hash from dropped_topics where topic_id = any($1))',
    values: [topics],
  }),
  'letter sent': letterOf(tried),
  'letter not sent': without(letterOf(tried)),
  'letter delivered': letterOf("state = 'accepted'"),
  'letter got, not opened': letterOf("state = 'accepted' and first_opened_at is null"),
  'letter opened': letterOf('first_opened_at is not null'),
  'none of the last 3 opened': without(letterOf('first_opened_at is not null')),
  'at least 3 of the last 5 opened': threeOf('first_opened_at is not null'),
  'at least 3 of the last 5 delivered': threeOf("state = 'accepted'"),
  'any letter ever delivered': () => ({
    sql: "c.id in (select contact_id from deliveries where state = 'accepted')",
  }),
  'no letter ever opened': () => ({
    sql: 'not c.id in (select contact_id from deliveries where first_opened_at is not null)',
  }),
  'the last 3 that they were sent, none opened': () => ({
    sql: `not c.id in (select contact_id from (select contact_id, first_opened_at,
      row_number() over (partition by contact_id order by first_tried_at desc) as place from deliveries where ${tried}) d
      where place <= 3 and first_opened_at is not null)`,
  }),
  'letter clicked': letterOf('first_clicked_at is not null'),
  bounced: () => ({ sql: "c.id in (select contact_id from deliveries where state = 'bounced')" }),
  'came in since a campaign': (value, _, known) => ({
    sql: 'c.created_at >= $1',
    values: [since(value, known)],
  }),
  'tagged since a campaign': (value, _, known) => ({
    sql: 'c.id in (select contact_id from contact_tags where at >= $1)',
    values: [since(value, known)],
  }),
  'within 25 km': () => ({
    sql: `2 * 6371.0088 * asin(sqrt(power(sin(radians(c.lat - 38.72) / 2), 2)
      + cos(radians(38.72)) * cos(radians(c.lat)) * power(sin(radians(c.lon + 9.14) / 2), 2))) <= 25`,
  }),
};

/** The campaigns that a condition looks at. */
function lookedAt({ letters }: Value, { campaigns }: Known): readonly number[] {
  const { campaigns: these, count } = (letters ?? {}) as { campaigns?: number[]; count?: number };
  return these ?? campaigns.slice(0, count).map(({ id }) => id);
}

const day = (ahead: number): string =>
  new Date(Date.now() + ahead * 86_400_000).toISOString().slice(0, 10);

interface Pair {
  readonly ours: Times;
  readonly theirs: Times;
}

export async function rules(contacts: number, databaseUrl: string | undefined): Promise<Row[]> {
  // It is made first where it is not there.
  await (await startWorld(contacts)).stop();
  const all = await measured(contacts, undefined);
  if (databaseUrl !== undefined) await (await startWorld(contacts, databaseUrl)).stop();
  const onServer = databaseUrl === undefined ? undefined : await measured(contacts, databaseUrl);
  return [...all].map(([work, pair]) => {
    const there = onServer?.get(work);
    const row = pairRow(work, pair, '≤ 1.2');
    if (!there) return row;
    const { ours, against, ratio } = pairRow(work, there, '');
    return { ...row, onServer: `${ours} against ${against}: ${ratio}` };
  });
}

async function measured(
  contacts: number,
  databaseUrl: string | undefined,
): Promise<ReadonlyMap<string, Pair>> {
  const database = await openDatabase({
    dataDir: dataDirOf(contacts),
    databaseUrl,
    fsync: true,
  });
  const { db, pool } = database;
  try {
    const context: RuleContext = {
      fields: await allFields(db),
      tags: await allTags(db),
      topics: await allTopics(db),
      campaigns: await startedCampaigns(db, false),
      segments: [],
      today: day(0),
      timeZone: 'Europe/Lisbon',
    };
    const held = new HeldService(database, new Foreground());
    const everybody = { bind: () => seen, weight: 1 };
    const never = new AbortController().signal;
    const found = new Map<string, Pair>();
    for (const [name, condition] of Object.entries({ ...conditions, ...asked })) {
      const ours = (round: number) => {
        const rule = parseRule({ v: 1, root: { of: 'all', items: [condition(round)] } }, context);
        if (!rule.ok) throw new Error(rule.error);
        return {
          weight: weightOf(rule.value.root, context),
          query: queryOf(compile(rule.value.root, context)),
          rule: bindRule(compile(rule.value.root, context), context.timeZone),
        };
      };
      const theirs = (round: number) => {
        const value = condition(round) as Value;
        const { sql: text, values = [] } = byHand[name as keyof typeof byHand](
          value,
          lookedAt(value, context),
          context,
        );
        return { text, values };
      };
      const where = (text: string): string =>
        `from contacts c where c.deleted_at is null and c.pool_id = 1 and ${text}`;
      let times = 0;
      // What was asked before would be known: each time it is asked as something else.
      const look = async (round: number): Promise<number> => {
        const { rule, query, weight } = ours(round);
        const another = sql`(${rule} and ${++times}::int > 0)`;
        const [all = KeySet.empty, some = KeySet.empty] =
          (await held.of(
            [
              everybody,
              {
                bind: () => another,
                query: query && {
                  sql: bindQuery(query.query, context.timeZone),
                  isNot: query.isNot,
                },
                weight,
              },
            ],
            never,
          )) ?? [];
        const keys = all.and(some);
        await weighedPage(db, allOf(seen, inSet(keys)), FIRST);
        return keys.size;
      };
      const lookByHand = async (round: number): Promise<number> => {
        const { text, values } = theirs(round);
        const { rows } = await pool.query<{ count: number }>(
          `with found as materialized (select c.id, c.search_key ${where(text)})
           select (select count(*) from found) as count, (select array_agg(id) from (select id from found order by search_key, id limit ${FIRST}) f) as first`,
          [...values],
        );
        return Number(rows[0]?.count);
      };
      const [own, other] = [await look(0), await lookByHand(0)];
      if (own !== other) throw new Error(`“${name}” finds ${own}, by hand ${other}`);
      found.set(
        `rule “${name}”, count and first people`,
        await inTurn(roundsAt(contacts), look, lookByHand),
      );
      const page = await inTurn(
        roundsAt(contacts),
        async (round) => {
          const { rule, weight } = ours(round);
          const among = await held.among({ bind: () => rule, weight });
          return peoplePage(db, allOf(seen, among), 50, { pool: idOf(1) });
        },
        (round) =>
          pool.query(
            `with found as materialized (select c.id, c.search_key ${where(theirs(round).text)} order by c.search_key, c.id limit 50)
             select c.id, c.given_name, c.family_name, c.address, c.town, (select array_agg(tag_id) from contact_tags t where t.contact_id = c.id), (select reason from do_not_mail d where d.address_hash = c.address_hash)
             from found join contacts c on c.id = found.id order by found.search_key, found.id`,
            [...theirs(round).values],
          ),
      );
      found.set(`rule “${name}”, a page of the list`, page);
    }
    return found;
  } finally {
    await database.close();
  }
}
