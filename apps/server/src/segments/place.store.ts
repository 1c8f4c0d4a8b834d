// How far people live from a place, in SQL.
import { EARTH_KM, type Reference } from '@palabra/core/segments';
import { sql, type SQL } from 'drizzle-orm';

/** A degree of latitude is nowhere shorter than this, in kilometres. */
const DEGREE_KM = 111;

/** Great-circle distance of `contacts c` from a place in kilometres, by the haversine formula as in core. */
const away = (lat: number, lon: number): SQL =>
  sql`(2 * ${EARTH_KM}::float8 * asin(sqrt(least(1, power(sin(radians(${lat}::float8 - c.lat) / 2), 2) + cos(radians(c.lat)) * cos(radians(${lat}::float8)) * power(sin(radians(${lon}::float8 - c.lon) / 2), 2)))))`;

/** Who lives so near, or farther away; never somebody whose place is not known. A condition on `contacts c`. */
export function near({ lat, lon, km, isWithin }: Extract<Reference, { of: 'near' }>): SQL {
  const distance = away(lat, lon);
  if (!isWithin)
    return sql`(c.lat is not null and c.lon is not null and ${distance} > ${km}::float8)`;
  const degrees = km / DEGREE_KM;
  // The band of latitude is cheap to ask, and leaves few for the formula.
  return sql`(c.lat is not null and c.lon is not null and c.lat between ${lat - degrees}::float8 and ${lat + degrees}::float8 and ${distance} <= ${km}::float8)`;
}
