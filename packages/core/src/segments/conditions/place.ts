// How far from a place somebody lives, as the crow flies.
import { fail, ok, type Result } from '../../kernel/index.js';
import type { ConditionKind, Position } from './kind.js';

export const placeOperators = ['within', 'farther than'] as const;
export type PlaceOperator = (typeof placeOperators)[number];

/** A place with its name, kept in the rule, so that it means the same whatever the gazetteer says later. */
export interface NamedPlace extends Position {
  readonly name: string;
}

export interface PlaceCondition {
  readonly kind: 'place';
  readonly op: PlaceOperator;
  /** Absent while it is typed. */
  readonly km?: number;
  readonly place?: NamedPlace;
}

export const FARTHEST_KM = 20_000;
/** Mean radius of the earth in kilometres (IUGG). */
export const EARTH_KM = 6371.0088;

/** Great-circle distance in kilometres, by the haversine formula (R. W. Sinnott, 1984). */
export function distance(one: Position, other: Position): number {
  const rad = Math.PI / 180;
  const half = (degrees: number): number => Math.sin((degrees * rad) / 2) ** 2;
  const chord =
    half(other.lat - one.lat) +
    Math.cos(one.lat * rad) * Math.cos(other.lat * rad) * half(other.lon - one.lon);
  return 2 * EARTH_KM * Math.asin(Math.sqrt(Math.min(1, chord)));
}

/** How far apart two positions are on a sphere, as 1 − cos of the angle between them: twice the haversine. */
function apart(one: Position, other: Position): number {
  const rad = Math.PI / 180;
  const away = (degrees: number): number => 1 - Math.cos(degrees * rad);
  return (
    away(other.lat - one.lat) +
    Math.cos(one.lat * rad) * Math.cos(other.lat * rad) * away(other.lon - one.lon)
  );
}

/** The same of positions that are so many kilometres apart, up to half the way around the earth. */
export const apartBy = (km: number): number => 1 - Math.cos(km / EARTH_KM);

/** Asked without the angle itself, which a database takes twice as long for. */
const isWithin = (one: Position, other: Position, km: number): boolean =>
  apart(one, other) <= apartBy(km);

const isDegrees = (raw: unknown, most: number): raw is number =>
  typeof raw === 'number' && Number.isFinite(raw) && Math.abs(raw) <= most;

export function parsePlace(raw: unknown): NamedPlace | undefined {
  const { name, lat, lon } =
    typeof raw === 'object' && raw !== null ? (raw as Record<string, unknown>) : {};
  return typeof name === 'string' &&
    name !== '' &&
    name.length <= 200 &&
    isDegrees(lat, 90) &&
    isDegrees(lon, 180)
    ? { name, lat, lon }
    : undefined;
}

const kilometres = (km: number): string => `${km.toLocaleString('en')} km`;

export const place: ConditionKind<PlaceCondition, 'position'> = {
  needs: () => ['position'],

  parse(raw): Result<PlaceCondition, string> {
    const op = placeOperators.find((one) => one === raw['op']);
    if (!op) return fail('this way of asking for a place is not known.');
    const { km, place: of } = raw;
    const hasKm = km !== undefined && km !== null;
    if (hasKm && !(typeof km === 'number' && km > 0 && km <= FARTHEST_KM))
      return fail(`a distance is more than 0 and up to ${FARTHEST_KM.toLocaleString('en')} km.`);
    const where = of === undefined || of === null ? undefined : parsePlace(of);
    if (of !== undefined && of !== null && !where)
      return fail('a place needs a name, a latitude and a longitude in degrees.');
    return ok({
      kind: 'place',
      op,
      ...(hasKm ? { km } : {}),
      ...(where ? { place: where } : {}),
    });
  },

  finished: ({ km, place: of }) => km !== undefined && of !== undefined,
  weight: () => 1,

  compile: ({ op, km = 0, place: of }) =>
    of === undefined
      ? ['false']
      : [{ ref: { of: 'near', lat: of.lat, lon: of.lon, km, isWithin: op === 'within' } }],

  // Whoever has no position is neither near nor far: nothing is known of them.
  holds: ({ op, km = 0, place: of }, { position }) =>
    position !== null && of !== undefined && isWithin(position, of, km) === (op === 'within'),

  saw: ({ place: of }, { position }) =>
    position === null
      ? 'where they live is not known'
      : of === undefined
        ? 'no place is asked for'
        : `${kilometres(Math.round(distance(position, of) * 10) / 10)} away`,

  words: ({ op, km, place: of }) => [
    { text: 'who live ' },
    { text: `${op} ${km === undefined ? '…' : kilometres(km)}`, strong: true },
    { text: op === 'within' ? ' of ' : ' from ' },
    { text: of?.name ?? '…', strong: true },
  ],
};
