// What came back, as figures with their denominators named.

export interface Figure {
  readonly count: number;
  readonly of: number;
  readonly ofWhat: string;
}

/** Percent with one decimal, or undefined when there is nothing to divide by. */
export function percent({
  count,
  of,
}: {
  readonly count: number;
  readonly of: number;
}): number | undefined {
  return of === 0 ? undefined : Math.round((1000 * count) / of) / 10;
}

/**
 * A rate as it is read. What is not quite everybody never reads 100.0 %, what is not nobody never 0.0 %.
 * Empty when there is nothing to divide by.
 */
export function rateText(figure: { readonly count: number; readonly of: number }): string {
  const value = percent(figure);
  if (value === undefined) return '';
  if (value === 100 && figure.count < figure.of) return '99.9 %';
  if (value === 0 && figure.count > 0) return 'under 0.1 %';
  return `${value.toFixed(1)} %`;
}

export const resultParts = ['delivered', 'opened', 'clicked', 'bounced', 'left'] as const;
export type ResultPart = (typeof resultParts)[number];

/**
 * Every number of a campaign's deliveries: the part of the address of the list behind it, and the words before the
 * campaign's name that head the list. `notOpened` is of those accepted; not the difference, because a letter may come
 * back after it was opened.
 */
export const resultNumbers = {
  sent: { part: 'sent', heads: 'sent' },
  accepted: { part: 'delivered', heads: 'who got' },
  /** Those that got through, whatever became of them: a reader opened, clicked in or left by what came back later. */
  arrived: { part: 'arrived', heads: 'whose letter arrived in' },
  bounced: { part: 'bounced', heads: 'bounced from' },
  bouncedHard: { part: 'bounced-hard', heads: 'with a dead address in' },
  bouncedSoft: { part: 'bounced-soft', heads: 'with a letter that came back for now in' },
  bouncedOther: { part: 'bounced-policy', heads: 'refused by their mail server in' },
  complained: { part: 'complained', heads: 'who complained about' },
  replied: { part: 'replied', heads: 'who replied to' },
  gaveUp: { part: 'gave-up', heads: 'given up on in' },
  deferred: { part: 'deferred', heads: 'to be tried again with' },
  uncertain: { part: 'uncertain', heads: 'uncertain in' },
  stopped: { part: 'stopped', heads: 'stopped before' },
  heldBackLate: { part: 'held-back-late', heads: 'held back at the last moment from' },
  waiting: { part: 'waiting', heads: 'still waiting for' },
  opened: { part: 'opened', heads: 'who opened' },
  notOpened: { part: 'not-opened', heads: 'who did not open' },
  clicked: { part: 'clicked', heads: 'who clicked in' },
  left: { part: 'left', heads: 'who left after' },
  machineOpened: { part: 'machine-opened', heads: 'opened by a machine in' },
  machineClicked: { part: 'machine-clicked', heads: 'clicked by a machine in' },
} as const satisfies Record<string, { readonly part: string; readonly heads: string }>;
export type ResultNumber = keyof typeof resultNumbers;

export const resultNames = Object.keys(resultNumbers) as readonly ResultNumber[];

/** The number behind a part of an address. */
export const numberOfPart = (part: string): ResultNumber | undefined =>
  resultNames.find((name) => resultNumbers[name].part === part);

export type ResultCounts = { readonly [K in ResultNumber]: number };

/** Opens, clicks and leaves are of those that arrived, which are those delivered unless letters came back after they were opened; bounces of those sent. */
export function figures(counts: ResultCounts): Record<ResultPart, Figure> {
  const ofArrived = (count: number): Figure => ({
    count,
    of: counts.arrived,
    ofWhat: counts.arrived === counts.accepted ? 'delivered' : 'that arrived',
  });
  return {
    delivered: { count: counts.accepted, of: counts.sent, ofWhat: 'sent' },
    opened: ofArrived(counts.opened),
    clicked: ofArrived(counts.clicked),
    bounced: { count: counts.bounced, of: counts.sent, ofWhat: 'sent' },
    left: ofArrived(counts.left),
  };
}
