// Lists of people, paged by key, and the sums over them. Conditions are on `contacts c`.
import {
  automaticTag,
  isBuiltIn,
  searchKey,
  searchWords,
  tagKey,
  type Dialling,
  type Field,
  type DoNotMailReason,
  type FieldValue,
  type Standing,
  type ContactId,
  type PoolId,
  type TagId,
} from '@palabra/core/contacts';
import { sql, type SQL } from 'drizzle-orm';
import { execute, type Db } from '../../platform/database.js';
import { offices } from '../../office/office.table.js';
import { doNotMail } from '../standing/standing.table.js';
import { automaticallyTagged, automaticTagsOf } from './automatic.store.js';
import { contactTags, contacts, PHONE_DIGITS } from './people.table.js';

/** Conditions on `contacts c`, to be put together. */
export const allOf = (...conditions: readonly SQL[]): SQL => sql.join([...conditions], sql` and `);
export const nobody = sql`false`;
/** Everybody but these. */
export const notIn = (people: SQL): SQL => sql`not (${people})`;
export const living = sql`c.deleted_at is null`;
export const gone = sql`c.deleted_at is not null`;
/** Nobody knows where they live. */
export const withoutPosition = sql`c.lat is null`;
export const inPool = (id: PoolId): SQL => sql`c.pool_id = ${id}`;
export const tagged = (id: TagId): SQL => {
  const automatic = automaticTag(id);
  return automatic === undefined
    ? sql`c.id in (select contact_id from ${contactTags} where tag_id = ${id})`
    : automaticallyTagged[automatic];
};
/** Who has one of some tags of the office’s. */
const taggedAny = (ids: readonly TagId[]): SQL =>
  sql`c.id in (select contact_id from ${contactTags} where tag_id = any(${sql.param(ids)}::int[]))`;
export const hasOwn = (key: string): SQL => sql`c.fields ? ${key}`;
export const theseOnes = (ids: readonly ContactId[]): SQL =>
  sql`c.id = any(${sql.param(ids)}::int[])`;

export interface Cursor {
  readonly key: string;
  readonly id: ContactId;
}

export interface PersonLine extends Record<string, unknown> {
  readonly id: ContactId;
  readonly search_key: string;
  readonly given_name: string;
  readonly family_name: string;
  readonly address: string | null;
  readonly town: string | null;
  readonly tags: number[] | null;
  readonly automatic: number[];
  readonly do_not_mail: DoNotMailReason | null;
  readonly last_response: Date | null;
  readonly version: number;
  readonly values: Readonly<Record<string, FieldValue>>;
}

const like = (text: string): string => text.replace(/[\\%_]/g, '\\$&');

/** Telephone numbers as they are looked for: their digits alone. */
const numbered = sql`(c.phone is not null or c.more_phones is not null)`;
const digits = sql.raw(PHONE_DIGITS);

/**
 * Every word must occur in the name, an address, a telephone number or a tag’s name, or begin the external number; short
 * ones at the beginning only, because nearly everybody contains them. What has no chance is not looked for, so that
 * the indexes answer.
 */
export function matchesSearch(
  text: string,
  tags: readonly { readonly id: TagId; readonly nameKey: string }[],
  home?: Dialling,
): SQL[] {
  return searchWords(text, searchKey).map(({ word, anywhere, ascii }) => {
    const pattern = anywhere ? `%${like(word)}%` : `${like(word)}%`;
    // How it is dialled from abroad, or at home: what is kept has the one form or the other.
    const number = /^[+\d()/.-]{3,}$/.test(word) ? word.replace(/\D/g, '') : '';
    const atHome =
      home && number.startsWith(home.code) && word.startsWith('+')
        ? number.slice(home.code.length)
        : number;
    const own = tagKey(word);
    const called =
      anywhere && own !== ''
        ? tags.filter(({ id, nameKey }) => automaticTag(id) === undefined && nameKey.includes(own))
        : [];
    const ways = [
      sql`c.search_key like ${pattern}`,
      ...(anywhere ? [] : [sql`c.search_key like ${`% ${pattern}`}`]),
      sql`c.address_key like ${pattern}`,
      ...(ascii === undefined ? [] : [sql`c.address_key like ${`%${like(ascii)}%`}`]),
      ...(atHome.length >= 3 ? [sql`(${numbered} and ${digits} like ${`%${atHome}%`})`] : []),
      sql`(c.external_number is not null and (c.keys ->> 'external_number') collate "C" like ${`${like(word)}%`})`,
      ...(anywhere
        ? [
            sql`(c.more_addresses is not null and c.keys ->> 'more_addresses' like ${`%${like(word)}%`})`,
            sql`(c.street is not null and c.keys ->> 'street' like ${pattern})`,
          ]
        : // A house number, or a short word of a street, is a whole one.
          [
            sql`(c.street is not null and ' ' || (c.keys ->> 'street') || ' ' like ${`% ${like(word)} %`})`,
          ]),
      ...(called.length > 0 ? [taggedAny(called.map(({ id }) => id))] : []),
    ];
    return sql`(${sql.join(ways, sql` or `)})`;
  });
}

/** What a table shows at first. */
const usual = sql`jsonb_build_object('town', c.town, 'last_response', greatest(c.last_opened_at, c.last_clicked_at))`;

const columns = (
  values = usual,
): SQL => sql`c.id, c.version, c.search_key, c.given_name, c.family_name, c.address, c.town, ${values} as values,
  (select array_agg(ct.tag_id order by ct.tag_id) from ${contactTags} ct where ct.contact_id = c.id) as tags, ${automaticTagsOf} as automatic,
  (select d.reason from ${doNotMail} d where d.address_hash = c.address_hash) as do_not_mail,
  greatest(c.last_opened_at, c.last_clicked_at) as last_response`;

/** How far a list is looked through by name before its people are found another way: in one pool, or in all, where what marks them mostly lies in other tables. */
const STRETCH = { pool: 3000, anywhere: 500 };

interface Paging {
  /** How many come before the page. */
  readonly from?: number;
  /** The order, where it is not by name. */
  readonly order?: SQL;
  /** Values of further columns, as one JSON object. */
  readonly values?: SQL;
  /** The one pool that all of the people are in, where that is so. */
  readonly pool?: PoolId;
}

export const byNameAndKey = sql`order by c.search_key, c.id`;

/** A page found by looking through the people in their order, or undefined when a stretch of them can't fill one. */
async function nearPage(
  db: Db,
  people: SQL,
  limit: number,
  { from = 0, pool, values }: Paging,
): Promise<PersonLine[] | undefined> {
  const [among, stretch] =
    pool === undefined ? [living, STRETCH.anywhere] : [allOf(living, inPool(pool)), STRETCH.pool];
  if (from + limit > stretch) return undefined;
  const { rows } = await execute<PersonLine>(
    db,
    sql`
    with found as materialized (
      select c.id, c.search_key from (select c.* from ${contacts} c where ${among} ${byNameAndKey} limit ${stretch}) c where ${people} ${byNameAndKey} limit ${limit} offset ${from})
    select ${columns(values)} from found join ${contacts} c on c.id = found.id order by found.search_key, found.id`,
  );
  return rows.length === limit ? rows : undefined;
}

/** A page found by what marks the people, then sorted. */
async function wholePage(
  db: Db,
  people: SQL,
  limit: number,
  { from = 0, values }: Paging,
): Promise<PersonLine[]> {
  const { rows } = await execute<PersonLine>(
    db,
    sql`
    with everybody as materialized (select c.id, c.search_key from ${contacts} c where ${people}),
      found as materialized (select c.id, c.search_key from everybody c ${byNameAndKey} limit ${limit} offset ${from})
    select ${columns(values)} from found join ${contacts} c on c.id = found.id order by found.search_key, found.id`,
  );
  return rows;
}

/** A page where it is known how many are looked through, because it is far down a list or its people are named: the planner weighs which of the two is cheaper. */
export async function weighedPage(
  db: Db,
  people: SQL,
  limit: number,
  { from = 0, values }: Paging = {},
): Promise<PersonLine[]> {
  const { rows } = await execute<PersonLine>(
    db,
    sql`
    with found as materialized (select c.id, c.search_key from ${contacts} c where ${people} ${byNameAndKey} limit ${limit} offset ${from})
    select ${columns(values)} from found join ${contacts} c on c.id = found.id order by found.search_key, found.id`,
  );
  return rows;
}

/** A page in another order than by name. */
async function sortedPage(
  db: Db,
  people: SQL,
  limit: number,
  order: SQL,
  { from = 0, values }: Paging,
): Promise<PersonLine[]> {
  const { rows } = await execute<PersonLine>(
    db,
    sql`
    with found as materialized (select c.id, row_number() over () as place
      from (select c.id from ${contacts} c where ${people} ${order} limit ${limit} offset ${from}) c)
    select ${columns(values)} from found join ${contacts} c on c.id = found.id order by found.place`,
  );
  return rows;
}

/**
 * One page. By name, frequent people are found by looking through all in their order, which ends as soon as the page is
 * full; rare ones by what marks them, then sorted. Which of the two is cheap can't be told beforehand, so the first
 * is tried on a stretch of them. Tags and the like are fetched for the page only.
 */
export async function page(
  db: Db,
  people: SQL,
  limit: number,
  paging: Paging = {},
): Promise<PersonLine[]> {
  const { from = 0, order } = paging;
  if (order) return sortedPage(db, people, limit, order, paging);
  if (from + limit > STRETCH.pool) return weighedPage(db, people, limit, paging);
  return (await nearPage(db, people, limit, paging)) ?? wholePage(db, people, limit, paging);
}

export async function countBefore(db: Db, people: SQL, cursor: Cursor): Promise<number> {
  const { rows } = await execute<{ count: number }>(
    db,
    sql`select count(*) as count from ${contacts} c where ${people} and (c.search_key, c.id) < (${cursor.key}, ${cursor.id})`,
  );
  return rows[0]?.count ?? 0;
}

export async function count(db: Db, people: SQL): Promise<number> {
  const { rows } = await execute<{ count: number }>(
    db,
    sql`select count(*) as count from ${contacts} c where ${people}`,
  );
  return rows[0]?.count ?? 0;
}

/** Like `count`, for conditions that do not themselves leave out the deleted. */
export const countLiving = (db: Db, people: SQL): Promise<number> =>
  count(db, allOf(living, people));

/** The keys of some people in the order of a list, by name where it has none. */
export async function keysInOrder(
  db: Db,
  people: SQL,
  order: SQL = byNameAndKey,
): Promise<readonly ContactId[]> {
  const { rows } = await execute<{ ids: ContactId[] | null }>(
    db,
    sql`select array_agg(id) as ids from (select c.id from ${contacts} c where ${people} ${order}) c`,
  );
  return rows[0]?.ids ?? [];
}

/** The lines of people by their keys, by name. */
export async function linesOf(
  db: Db,
  ids: readonly ContactId[],
  values?: SQL,
): Promise<PersonLine[]> {
  if (ids.length === 0) return [];
  const { rows } = await execute<PersonLine>(
    db,
    sql`select ${columns(values)} from ${contacts} c where ${theseOnes(ids)} and ${living} order by c.search_key, c.id`,
  );
  return rows;
}

/** The lines of those of some keys who are among some people, in the order of the keys. */
export async function linesInOrder(
  db: Db,
  people: SQL,
  ids: readonly ContactId[],
  values?: SQL,
): Promise<PersonLine[]> {
  if (ids.length === 0) return [];
  const { rows } = await execute<PersonLine>(
    db,
    sql`select ${columns(values)} from unnest(${sql.param(ids)}::int[]) with ordinality asked(id, place) join ${contacts} c on c.id = asked.id
      where ${people} order by asked.place`,
  );
  return rows;
}

export async function lastKey(db: Db): Promise<number> {
  const { rows } = await execute<{ last: number | null }>(
    db,
    sql`select max(id) as last from ${contacts}`,
  );
  return rows[0]?.last ?? 0;
}

const standingBy = (onDoNotMail: SQL): SQL => sql`case when c.address_key is null then 'no address'
  when ${onDoNotMail} then 'do not mail'
  when c.permission = 'unknown' and not (select coalesce(bool_or(mail_unknown), false) from ${offices}) then 'no permission'
  else 'may be mailed' end`;
/** How each of `contacts c` stands to being mailed. */
export const standing = standingBy(
  sql`exists (select 1 from ${doNotMail} d where d.address_hash = c.address_hash)`,
);
/** The same, where nearly everybody is asked: do not mail is read once. */
export const standingOfMany = standingBy(
  sql`c.address_hash in (select d.address_hash from ${doNotMail} d)`,
);

export const standsAs = (wanted: Standing): SQL => sql`(${standing}) = ${wanted}`;

/** Letters to them were refused for good so often in a row, and nobody could read why. */
export const refusedOften = (times: number): SQL => sql`c.unread_bounces >= ${times}`;

export interface MailableCounts extends Record<string, unknown> {
  readonly total: number;
  readonly no_address: number;
  readonly do_not_mail: number;
  readonly no_permission: number;
}

/** How many may be mailed, each person on one line only, in the order of a campaign's tally. */
export async function mailable(db: Db, people: SQL): Promise<MailableCounts> {
  // Only of what the index of standings holds, so that people themselves are not looked at.
  const { rows } = await execute<MailableCounts>(
    db,
    sql`
    select count(*) as total,
      count(*) filter (where c.address_hash is null) as no_address,
      count(*) filter (where c.address_hash is not null and d.address_hash is not null) as do_not_mail,
      count(*) filter (where c.address_hash is not null and d.address_hash is null and c.permission = 'unknown'
        and not (select coalesce(bool_or(mail_unknown), false) from ${offices})) as no_permission
    from ${contacts} c left join ${doNotMail} d on d.address_hash = c.address_hash
    where ${people}`,
  );
  return rows[0] ?? { total: 0, no_address: 0, do_not_mail: 0, no_permission: 0 };
}

export async function tagsAmong(db: Db, people: SQL): Promise<{ id: TagId; count: number }[]> {
  const { rows } = await execute<{ id: TagId; count: number }>(
    db,
    sql`
    select ct.tag_id as id, count(*) as count from ${contactTags} ct
    where ct.contact_id in (select c.id from ${contacts} c where ${people})
    group by ct.tag_id order by count(*) desc, ct.tag_id`,
  );
  return rows;
}

/** The neighbours of one person in a list, and how many come before. */
export async function placeOf(
  db: Db,
  people: SQL,
  cursor: Cursor,
): Promise<{ before: number; previous: ContactId | null; next: ContactId | null }> {
  const neighbour = async (comparison: SQL, direction: SQL): Promise<ContactId | null> => {
    const { rows } = await execute<{ id: ContactId }>(
      db,
      sql`
      select c.id from ${contacts} c where ${people} and (c.search_key, c.id) ${comparison} (${cursor.key}, ${cursor.id})
      order by c.search_key ${direction}, c.id ${direction} limit 1`,
    );
    return rows[0]?.id ?? null;
  };
  return {
    before: await countBefore(db, people, cursor),
    previous: await neighbour(sql`<`, sql`desc`),
    next: await neighbour(sql`>`, sql`asc`),
  };
}

/** The same in another order than by name, for which everybody in the list is looked at. */
export async function placeIn(
  db: Db,
  people: SQL,
  id: ContactId,
  order: SQL,
): Promise<{ before: number; previous: ContactId | null; next: ContactId | null }> {
  const { rows } = await execute<{
    place: number;
    previous: ContactId | null;
    next: ContactId | null;
  }>(
    db,
    sql`
    select place, previous, next from (
      select c.id, row_number() over o as place, lag(c.id) over o as previous, lead(c.id) over o as next
      from ${contacts} c where ${people} window o as (${order})) p
    where p.id = ${id}`,
  );
  const [row] = rows;
  return {
    before: (row?.place ?? 1) - 1,
    previous: row?.previous ?? null,
    next: row?.next ?? null,
  };
}

/** What occurs in a field among some people, each choice by itself, the most frequent first. */
export async function occurring(
  db: Db,
  { key, type }: Field,
  people: SQL,
  limit: number,
): Promise<{ value: string; count: number }[]> {
  const own = key === 'owner' ? sql`c.owner_id::text` : sql.raw(`c.${key}`);
  const value = isBuiltIn(key) ? own : sql`c.fields ->> ${key}`;
  const each = type === 'choices' ? sql`unnest(string_to_array(${value}, ','))` : value;
  const { rows } = await execute<{ value: string; count: number }>(
    db,
    sql`
    select value, count(*) as count from (select ${each} as value from ${contacts} c where ${living} and ${people}) v
    where value <> '' group by value order by count(*) desc, value limit ${limit}`,
  );
  return rows;
}
