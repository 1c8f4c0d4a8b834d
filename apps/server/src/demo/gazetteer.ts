// The made-up region around Quillwater, in the open format of GeoNames: it comes in as any other file does.
import { gazetteerLine } from '@palabra/core/contacts';
import type pg from 'pg';
import { Loader } from './copy.js';
import { towns } from './words.js';

/** A town's line as in `allCountries.txt`. */
const townLine = ({ name, region, lat, lon, weight }: (typeof towns)[number], at: number): string =>
  [
    String(at + 1),
    name,
    name,
    '',
    String(lat),
    String(lon),
    'P',
    'PPL',
    'QW',
    '',
    region,
    '',
    '',
    '',
    String(weight * 950),
    '',
    '',
    'Etc/UTC',
    '2026-01-01',
  ].join('\t');

/** A postcode's line as in the files of postal codes. */
const postcodeLine = ({ name, region, postcode, lat, lon }: (typeof towns)[number]): string =>
  ['QW', postcode, name, region, '', '', '', '', '', String(lat), String(lon), '4'].join('\t');

export async function addGazetteer(client: pg.PoolClient): Promise<void> {
  const places = new Loader(
    client,
    'places (kind, name, key, region, region_key, country, lat, lon, people)',
  );
  for (const line of [...towns.map(townLine), ...towns.map(postcodeLine)]) {
    const entry = gazetteerLine(line);
    if (entry && entry !== 'pass')
      await places.add(
        entry.kind,
        entry.name,
        entry.key,
        entry.region,
        entry.regionKey,
        entry.country,
        entry.lat,
        entry.lon,
        entry.people,
      );
  }
  await places.flush();
}
