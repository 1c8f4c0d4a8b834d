// What each number of a campaign's results counts: the one place that says which deliveries it means. The number and
// the list it opens into are both made of it.
import { tried, type BounceKind, type DeliveryState } from '@palabra/core/delivery';
import {
  numberOfPart,
  resultNames,
  type ResultCounts,
  type ResultNumber,
} from '@palabra/core/results';
import { sql, type SQL } from 'drizzle-orm';

const inState = (...states: readonly DeliveryState[]): SQL =>
  sql`state in (${sql.raw(states.map((state) => `'${state}'`).join(', '))})`;

/** Which number a delivery in a state counts in; `sent` and what its reader did are counted beside it. */
const numberOfState: { readonly [S in DeliveryState]: ResultNumber } = {
  waiting: 'waiting',
  'handing over': 'waiting',
  accepted: 'accepted',
  deferred: 'deferred',
  bounced: 'bounced',
  'held back': 'heldBackLate',
  stopped: 'stopped',
  'gave up': 'gaveUp',
  uncertain: 'uncertain',
};

const numberOfBounce: { readonly [B in BounceKind]: ResultNumber } = {
  hard: 'bouncedHard',
  soft: 'bouncedSoft',
  policy: 'bouncedOther',
  other: 'bouncedOther',
};

const keysWith = <K extends string>(
  map: Readonly<Record<K, ResultNumber>>,
  number: ResultNumber,
): K[] => (Object.keys(map) as K[]).filter((key) => map[key] === number);

const byState = (number: ResultNumber): SQL => inState(...keysWith(numberOfState, number));
const byBounce = (number: ResultNumber): SQL =>
  sql`state = 'bounced' and coalesce(bounce, 'other') in (${sql.raw(
    keysWith(numberOfBounce, number)
      .map((kind) => `'${kind}'`)
      .join(', '),
  )})`;

/** Conditions on `deliveries`. */
const meanings: { readonly [K in ResultNumber]: SQL } = {
  sent: inState(...tried),
  accepted: byState('accepted'),
  arrived: sql`(${byState('accepted')} or first_opened_at is not null or first_clicked_at is not null or left_at is not null)`,
  bounced: byState('bounced'),
  bouncedHard: byBounce('bouncedHard'),
  bouncedSoft: byBounce('bouncedSoft'),
  bouncedOther: byBounce('bouncedOther'),
  complained: sql`complained_at is not null`,
  replied: sql`replied_at is not null`,
  gaveUp: byState('gaveUp'),
  deferred: byState('deferred'),
  uncertain: byState('uncertain'),
  stopped: byState('stopped'),
  heldBackLate: byState('heldBackLate'),
  waiting: byState('waiting'),
  opened: sql`first_opened_at is not null`,
  notOpened: sql`state = 'accepted' and first_opened_at is null`,
  clicked: sql`first_clicked_at is not null`,
  left: sql`left_at is not null`,
  machineOpened: sql`machine_opens > 0`,
  machineClicked: sql`machine_clicks > 0`,
};

/** Columns that count the rows of `deliveries` by every number. */
export const countedNumbers: SQL = sql.join(
  resultNames.map(
    (name) => sql`count(*) filter (where ${meanings[name]}) as ${sql.identifier(name)}`,
  ),
  sql`, `,
);

/** Whether counts that were kept have every number there is now. */
export const isWhole = (counts: Partial<ResultCounts>): counts is ResultCounts =>
  resultNames.every((name) => counts[name] !== undefined);

/** Which deliveries a part of an address means. */
export function meaningOfPart(part: string): SQL | undefined {
  const name = numberOfPart(part);
  return name && meanings[name];
}
