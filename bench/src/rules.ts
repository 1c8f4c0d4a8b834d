// Rule counts and first pages through core and the stores, beside the same asked in hand-written SQL.
import { idOf } from '@palabra/core/kernel';
import { compile, parseRule, type RuleContext } from '@palabra/core/segments';
import {
  allOf,
  count as countPeople,
  inPool,
  living,
  page as peoplePage,
} from '@palabra/server/contacts/people/people.store';
import { startedCampaigns } from '@palabra/server/campaigns/campaigns.store';
import { allFields } from '@palabra/server/contacts/fields/fields.store';
import { allTags } from '@palabra/server/contacts/vocabulary/vocabulary.store';
import { openDatabase } from '@palabra/server/platform/database';
import { bindRule } from '@palabra/server/segments/rule.store';
import { inTurn, pairRow, type Row } from './measure.js';
import { conditions, delivered, opened } from './requests.js';
import { dataDirOf } from './world.js';

const roundsAt = (contacts: number): number => (contacts > 300_000 ? 4 : 15);

/** Hand-written conditions on `contacts c` for those of `conditions`, with `$1`, `$2`. */
const byHand: Record<
  string,
  (value: Record<string, unknown>) => { readonly sql: string; readonly values: readonly unknown[] }
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
    values: [day(0), day(Number(value))],
  }),
  'came in, last days': ({ value }) => ({
    sql: 'c.created_at >= $1',
    values: [new Date(Date.now() - Number(value) * 86_400_000)],
  }),
  permission: () => ({ sql: "c.permission = 'asked'", values: [] }),
  'letter opened': ({ letters }) => ({
    sql: 'c.id in (select contact_id from deliveries where campaign_id = any($1) and first_opened_at is not null)',
    values: [(letters as { campaigns: number[] }).campaigns],
  }),
  'letter delivered': ({ letters }) => ({
    sql: "c.id in (select contact_id from deliveries where campaign_id = any($1) and state = 'accepted')",
    values: [(letters as { campaigns: number[] }).campaigns],
  }),
};

const day = (ahead: number): string =>
  new Date(Date.now() + ahead * 86_400_000).toISOString().slice(0, 10);

export async function rules(contacts: number): Promise<Row[]> {
  const database = await openDatabase({
    dataDir: dataDirOf(contacts),
    databaseUrl: undefined,
    fsync: true,
  });
  const { db, pool } = database;
  try {
    const context: RuleContext = {
      fields: await allFields(db),
      tags: await allTags(db),
      topics: [],
      campaigns: await startedCampaigns(db, false),
      segments: [],
      today: day(0),
      timeZone: 'Europe/Lisbon',
    };
    const rows: Row[] = [];
    for (const [name, condition] of Object.entries({
      ...conditions,
      'letter opened': opened,
      'letter delivered': delivered,
    })) {
      const ours = (round: number) => {
        const rule = parseRule({ v: 1, root: { of: 'all', items: [condition(round)] } }, context);
        if (!rule.ok) throw new Error(rule.error);
        return allOf(
          living,
          inPool(idOf(1)),
          bindRule(compile(rule.value.root, context), context.timeZone),
        );
      };
      const theirs = (round: number) =>
        byHand[name]?.(condition(round) as Record<string, unknown>) ?? { sql: 'false', values: [] };
      const where = (sql: string): string =>
        `from contacts c where c.deleted_at is null and c.pool_id = 1 and ${sql}`;
      const count = await inTurn(
        roundsAt(contacts),
        (round) => countPeople(db, ours(round)),
        (round) =>
          pool.query(`select count(*) ${where(theirs(round).sql)}`, [...theirs(round).values]),
      );
      rows.push(pairRow(`rule “${name}”, count`, count, '≤ 1.2'));
      const page = await inTurn(
        roundsAt(contacts),
        (round) => peoplePage(db, ours(round), 50, { pool: idOf(1) }),
        (round) =>
          pool.query(
            `with found as materialized (select c.id, c.search_key ${where(theirs(round).sql)} order by c.search_key, c.id limit 50)
             select c.id, c.given_name, c.family_name, c.address, c.town, (select array_agg(tag_id) from contact_tags t where t.contact_id = c.id), (select reason from do_not_mail d where d.address_hash = c.address_hash)
             from found join contacts c on c.id = found.id order by found.search_key, found.id`,
            [...theirs(round).values],
          ),
      );
      rows.push(pairRow(`rule “${name}”, first page`, page, '≤ 1.2'));
    }
    return rows;
  } finally {
    await database.close();
  }
}
