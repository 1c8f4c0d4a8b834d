// How far people live from a place, in SQL.
import { apartBy, type Reference } from '@palabra/core/segments';
import { sql, type SQL } from 'drizzle-orm';

/** A degree of latitude is nowhere shorter than this, in kilometres. */
const DEGREE_KM = 111;

/** How far `contacts c` are from a place, as 1 − cos of the angle between them, as in core. */
const apart = (lat: number, lon: number): SQL =>
  sql`(1 - cos(radians(${lat}::float8 - c.lat)) + cos(radians(c.lat)) * ${Math.cos((lat * Math.PI) / 180)}::float8 * (1 - cos(radians(${lon}::float8 - c.lon))))`;

/** Who lives so near, or farther away; never somebody whose place is not known. A condition on `contacts c`. */
export function near({ lat, lon, km, isWithin }: Extract<Reference, { of: 'near' }>): SQL {
  const distance = apart(lat, lon);
  const most = apartBy(km);
  if (!isWithin)
    return sql`(c.lat is not null and c.lon is not null and ${distance} > ${most}::float8)`;
  const degrees = km / DEGREE_KM;
  // The band of latitude is cheap to ask, and leaves few for the formula.
  return sql`(c.lat is not null and c.lon is not null and c.lat between ${lat - degrees}::float8 and ${lat + degrees}::float8 and ${distance} <= ${most}::float8)`;
}
