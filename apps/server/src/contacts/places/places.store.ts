// Where towns and postcodes are, and people by them.
import { postcodeKey, searchKey, type GazetteerEntry } from '@palabra/core/contacts';
import { sql, type SQL } from 'drizzle-orm';
import { execute, type Db } from '../../platform/database.js';
import { contacts } from '../people/people.table.js';
import { placeCountries, places, placings } from './places.table.js';

export async function addPlaces(db: Db, entries: readonly GazetteerEntry[]): Promise<void> {
  if (entries.length === 0) return;
  await execute(
    db,
    sql`insert into ${places} (kind, name, key, region, region_key, country, lat, lon, people)
      select kind, name, key, region, "regionKey", country, lat, lon, people from jsonb_to_recordset(${JSON.stringify(entries)}::jsonb)
      as e(kind text, name text, key text, region text, "regionKey" text, country text, lat float8, lon float8, people int)`,
  );
}

/** Some of those up to a key, which were there before a file was loaded; whether there may be more. */
export async function dropSomeUpTo(db: Db, id: number, limit: number): Promise<boolean> {
  const { rows } = await execute(
    db,
    sql`delete from ${places} where id in (select id from ${places} where id <= ${id} order by id limit ${limit}) returning 1`,
  );
  return rows.length === limit;
}

/** How countries are called, by search key. */
export async function writeCountries(db: Db, codes: ReadonlyMap<string, string>): Promise<void> {
  const [keys, values] = [sql.param([...codes.keys()]), sql.param([...codes.values()])];
  await execute(
    db,
    sql`insert into ${placeCountries} (key, code) select key, code from unnest(${keys}::text[], ${values}::text[]) c(key, code)
      on conflict (key) do update set code = excluded.code`,
  );
}

/** Those above a key: what was read since. */
export async function dropPlacesAbove(db: Db, id: number): Promise<void> {
  await execute(db, sql`delete from ${places} where id > ${id}`);
}

export async function lastPlace(db: Db): Promise<number> {
  const { rows } = await execute<{ last: number | null }>(
    db,
    sql`select max(id) as last from ${places}`,
  );
  return rows[0]?.last ?? 0;
}

/** Places that are not of the file before, which go in a moment. */
const ofThisFile = sql`id > coalesce((select older from ${placings}), 0)`;

export async function countPlaces(db: Db): Promise<{ towns: number; postcodes: number }> {
  const { rows } = await execute<{ towns: number; postcodes: number }>(
    db,
    sql`select count(*) filter (where kind = 'town') as towns, count(*) filter (where kind = 'postcode') as postcodes from ${places} where ${ofThisFile}`,
  );
  return rows[0] ?? { towns: 0, postcodes: 0 };
}

export interface PlaceFound extends Record<string, unknown> {
  readonly id: number;
  readonly name: string;
  readonly region: string;
  readonly lat: number;
  readonly lon: number;
}

/** Places whose name or postcode begins so, the largest first. */
export async function placesBeginning(db: Db, text: string, limit: number): Promise<PlaceFound[]> {
  const [name, code] = [searchKey(text), postcodeKey(text)];
  if (name === '') return [];
  const begins = (key: string): SQL => sql`(key >= ${key} and key < ${`${key}\u{10ffff}`})`;
  const { rows } = await execute<PlaceFound>(
    db,
    sql`select id, name, region, lat, lon from ${places}
      where ${ofThisFile} and ((kind = 'town' and ${begins(name)}) or (kind = 'postcode' and ${begins(code)}))
      order by (key = ${name} or key = ${code}) desc, people desc, key, id limit ${limit}`,
  );
  return rows;
}

/** What somebody is found by in the gazetteer, of the search keys `keys`; null where they live nowhere. */
export const whereabouts = (keys: SQL): SQL =>
  sql`(case when ${keys} ?| array['postcode', 'town'] then replace(coalesce(${keys} ->> 'postcode', ''), ' ', '') || '|' || coalesce(${keys} ->> 'town', '') || '|' || coalesce(${keys} ->> 'region', '') || '|' || replace(coalesce(${keys} ->> 'country', ''), '.', '') end)`;

/**
 * A query of `whereabouts, lat, lon` for those of some people: by the postcode, else by the town, and in no other country than
 * theirs, where it is one that is known; of several, that in their region, then the largest. Each is looked up once, however
 * many live there.
 */
export const positionsOf = (people: SQL): SQL =>
  sql`select w.whereabouts, p.lat, p.lon from (select distinct whereabouts from (${people}) p where whereabouts is not null) w
    left join ${placeCountries} n on n.key = split_part(w.whereabouts, '|', 4)
    cross join lateral (
      select lat, lon from ${places} where (n.code is null or country = n.code) and (
        (kind = 'postcode' and split_part(w.whereabouts, '|', 1) <> '' and key = split_part(w.whereabouts, '|', 1))
        or (kind = 'town' and split_part(w.whereabouts, '|', 2) <> '' and key = split_part(w.whereabouts, '|', 2)))
      order by kind, (region_key <> '' and region_key = split_part(w.whereabouts, '|', 3)) desc, people desc, id limit 1) p`;

/** Looks up anew where people of a stretch of keys live; of whom the gazetteer knows nothing, nothing is known any more. */
export async function placePeople(db: Db, after: number, upTo: number): Promise<void> {
  const here = sql`c.id > ${after} and c.id <= ${upTo} and c.erased_at is null`;
  await execute(
    db,
    sql`with w as materialized (select c.id, ${whereabouts(sql`c.keys`)} as whereabouts from ${contacts} c where ${here}),
        p as materialized (${positionsOf(sql`select whereabouts from w`)})
      update ${contacts} c set lat = p.lat, lon = p.lon from w left join p on p.whereabouts = w.whereabouts
      where c.id = w.id and (c.lat, c.lon) is distinct from (p.lat, p.lon)`,
  );
}

export type Placing = typeof placings.$inferSelect;

export async function placing(db: Db): Promise<Placing | undefined> {
  return (await db.select().from(placings))[0];
}

/** The same, which nobody else goes on with until the transaction ends. */
export async function lockPlacing(db: Db): Promise<Placing | undefined> {
  return (await db.select().from(placings).for('update'))[0];
}

/** Everybody is looked up anew, as soon as the places up to a key are gone. */
export async function beginPlacing(db: Db, older: number): Promise<void> {
  await db
    .insert(placings)
    .values({ id: 1, older, cursor: 0 })
    .onConflictDoUpdate({ target: placings.id, set: { older, cursor: 0 } });
}

export const notePlaced = async (db: Db, cursor: number): Promise<void> => {
  await db.update(placings).set({ cursor });
};

export const endPlacing = async (db: Db): Promise<void> => {
  await db.delete(placings);
};
