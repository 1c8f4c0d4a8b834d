// Places from the open files of GeoNames: `allCountries.txt` and its parts (19 columns), and the postal codes (12
// columns). Both are UTF-8, a line for each place, with tabs between; see their readme.txt.
import { searchKey } from './text.js';

export const placeKinds = ['town', 'postcode'] as const;
export type PlaceKind = (typeof placeKinds)[number];

export interface GazetteerEntry {
  readonly kind: PlaceKind;
  readonly name: string;
  /** What places and people are compared by. */
  readonly key: string;
  readonly region: string;
  readonly regionKey: string;
  /** ISO 3166, two letters. */
  readonly country: string;
  /** Degrees, WGS 84. */
  readonly lat: number;
  readonly lon: number;
  /** How many live there, as far as that is told. */
  readonly people: number;
}

const LONGEST = 200;

const degrees = (text: string | undefined, most: number): number | undefined => {
  const value = text === undefined || text.trim() === '' ? NaN : Number(text);
  return Number.isFinite(value) && Math.abs(value) <= most ? value : undefined;
};

/** Postcodes are compared without their blanks, because people write them either way. */
export const postcodeKey = (text: string): string => searchKey(text).replaceAll(' ', '');

/** One line: a place; undefined where it is none; `pass` where it is one that nobody lives in. */
export function gazetteerLine(line: string): GazetteerEntry | 'pass' | undefined {
  const columns = line.split('\t');
  const isPostal = columns.length >= 10 && columns.length < 19;
  if (columns.length < 10) return undefined;
  const [country = '', name = '', region = '', latText, lonText] = isPostal
    ? [columns[0], columns[1], columns[3], columns[9], columns[10]]
    : [columns[8], columns[1], columns[10], columns[4], columns[5]];
  // Populated places are of the class P.
  if (!isPostal && columns[6] !== 'P') return columns[6] === undefined ? undefined : 'pass';
  const [lat, lon] = [degrees(latText, 90), degrees(lonText, 180)];
  const key = isPostal ? postcodeKey(name) : searchKey(name);
  if (lat === undefined || lon === undefined || key === '' || name.length > LONGEST)
    return undefined;
  const people = isPostal ? 0 : Number(columns[14]);
  return {
    kind: isPostal ? 'postcode' : 'town',
    name: isPostal && columns[2] ? `${name} ${columns[2]}`.slice(0, LONGEST) : name,
    key,
    region: region.slice(0, LONGEST),
    regionKey: searchKey(region).slice(0, LONGEST),
    country: country.slice(0, 2).toUpperCase(),
    lat,
    lon,
    people: Number.isInteger(people) && people > 0 && people < 2 ** 31 ? people : 0,
  };
}
