// What each number of a campaign's results counts: the one place that says which deliveries it means. The number and
// the list it opens into are both made of it.
import { tried, type DeliveryState } from '@palabra/core/delivery';
import { resultNumbers, type ResultCounts, type ResultNumber } from '@palabra/core/results';
import { sql, type SQL } from 'drizzle-orm';

const inState = (...states: readonly DeliveryState[]): SQL =>
  sql`state in (${sql.raw(states.map((state) => `'${state}'`).join(', '))})`;

/** Conditions on `deliveries`. */
const meanings: { readonly [K in ResultNumber]: SQL } = {
  sent: inState(...tried),
  accepted: inState('accepted'),
  bounced: inState('bounced'),
  bouncedHard: sql`state = 'bounced' and bounce = 'hard'`,
  bouncedSoft: sql`state = 'bounced' and bounce = 'soft'`,
  bouncedOther: sql`state = 'bounced' and coalesce(bounce, 'other') not in ('hard', 'soft')`,
  complained: sql`complained_at is not null`,
  replied: sql`replied_at is not null`,
  gaveUp: inState('gave up'),
  deferred: inState('deferred'),
  uncertain: inState('uncertain'),
  stopped: inState('stopped'),
  heldBackLate: inState('held back'),
  waiting: inState('waiting', 'handing over'),
  opened: sql`first_opened_at is not null`,
  notOpened: sql`state = 'accepted' and first_opened_at is null`,
  clicked: sql`first_clicked_at is not null`,
  left: sql`left_at is not null`,
  machineOpened: sql`machine_opens > 0`,
  machineClicked: sql`machine_clicks > 0`,
};

export const resultNames = Object.keys(resultNumbers) as readonly ResultNumber[];

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

/** The number behind a part of an address. */
export const numberOfPart = (part: string): ResultNumber | undefined =>
  resultNames.find((name) => resultNumbers[name].part === part);

/** Which deliveries a part of an address means. */
export function meaningOfPart(part: string): SQL | undefined {
  const name = numberOfPart(part);
  return name && meanings[name];
}
