// Where towns and postcodes are, and people by them.
import { postcodeKey, searchKey, type GazetteerEntry } from '@palabra/core/contacts';
import { sql, type SQL } from 'drizzle-orm';
import { execute, type Db } from '../../platform/database.js';
import { contacts } from '../people/people.table.js';
import { places } from './places.table.js';

export async function addPlaces(db: Db, entries: readonly GazetteerEntry[]): Promise<void> {
  if (entries.length === 0) return;
  await execute(
    db,
    sql`insert into ${places} (kind, name, key, region, region_key, country, lat, lon, people)
      select kind, name, key, region, "regionKey", country, lat, lon, people from jsonb_to_recordset(${JSON.stringify(entries)}::jsonb)
      as e(kind text, name text, key text, region text, "regionKey" text, country text, lat float8, lon float8, people int)`,
  );
}

/** Those below a key: what was there before a file was loaded. */
export async function dropPlacesUpTo(db: Db, id: number): Promise<void> {
  await execute(db, sql`delete from ${places} where id <= ${id}`);
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

export async function countPlaces(db: Db): Promise<{ towns: number; postcodes: number }> {
  const { rows } = await execute<{ towns: number; postcodes: number }>(
    db,
    sql`select count(*) filter (where kind = 'town') as towns, count(*) filter (where kind = 'postcode') as postcodes from ${places}`,
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
      where (kind = 'town' and ${begins(name)}) or (kind = 'postcode' and ${begins(code)})
      order by (key = ${name} or key = ${code}) desc, people desc, key, id limit ${limit}`,
  );
  return rows;
}

/** What somebody is found by in the gazetteer, of the search keys `keys`; null where they live nowhere. */
export const whereabouts = (keys: SQL): SQL =>
  sql`(case when ${keys} ?| array['postcode', 'town'] then replace(coalesce(${keys} ->> 'postcode', ''), ' ', '') || '|' || coalesce(${keys} ->> 'town', '') || '|' || coalesce(${keys} ->> 'region', '') end)`;

/**
 * A query of `whereabouts, lat, lon` for those of some people: by the postcode, else by the town; of several, that in
 * their region, then the largest. Each is looked up once, however many live there.
 */
export const positionsOf = (people: SQL): SQL =>
  sql`select w.whereabouts, p.lat, p.lon from (select distinct whereabouts from (${people}) p where whereabouts is not null) w
    cross join lateral (
      select lat, lon from ${places} where
        (kind = 'postcode' and split_part(w.whereabouts, '|', 1) <> '' and key = split_part(w.whereabouts, '|', 1))
        or (kind = 'town' and split_part(w.whereabouts, '|', 2) <> '' and key = split_part(w.whereabouts, '|', 2))
      order by kind, (region_key = split_part(w.whereabouts, '|', 3)) desc, people desc, id limit 1) p`;

/** Looks up anew where people of a stretch of keys live. What is known of somebody otherwise stays where the gazetteer knows nothing. */
export async function placePeople(db: Db, after: number, upTo: number): Promise<void> {
  const here = sql`c.id > ${after} and c.id <= ${upTo} and c.erased_at is null`;
  await execute(
    db,
    sql`with p as materialized (${positionsOf(sql`select ${whereabouts(sql`c.keys`)} as whereabouts from ${contacts} c where ${here}`)})
      update ${contacts} c set lat = p.lat, lon = p.lon from p
      where ${here} and ${whereabouts(sql`c.keys`)} = p.whereabouts and (c.lat, c.lon) is distinct from (p.lat, p.lon)`,
  );
}
