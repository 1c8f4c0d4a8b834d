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

/** Raw counts of one campaign's deliveries. */
export interface ResultCounts {
  readonly sent: number;
  readonly accepted: number;
  readonly bounced: number;
  readonly bouncedHard: number;
  readonly bouncedSoft: number;
  readonly complained: number;
  readonly replied: number;
  readonly gaveUp: number;
  readonly deferred: number;
  readonly uncertain: number;
  readonly stopped: number;
  readonly heldBackLate: number;
  readonly waiting: number;
  readonly opened: number;
  /** Of those accepted; not the difference, because a letter may come back after it was opened. */
  readonly notOpened: number;
  readonly clicked: number;
  readonly left: number;
  readonly machineOpened: number;
  readonly machineClicked: number;
}

/** Opens, clicks and leaves are of those delivered; bounces of those sent. */
export function figures(counts: ResultCounts): Record<ResultPart, Figure> {
  const ofDelivered = (count: number): Figure => ({
    count,
    of: counts.accepted,
    ofWhat: 'delivered',
  });
  return {
    delivered: { count: counts.accepted, of: counts.sent, ofWhat: 'sent' },
    opened: ofDelivered(counts.opened),
    clicked: ofDelivered(counts.clicked),
    bounced: { count: counts.bounced, of: counts.sent, ofWhat: 'sent' },
    left: ofDelivered(counts.left),
  };
}
