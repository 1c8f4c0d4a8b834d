// The account of a campaign's recipients: matched, minus one reason each, equals will receive.

/** In the order in which they are asked; the first that applies is the person's one reason. */
export const heldBackReasons = [
  'left out',
  'no address',
  'do not mail',
  'dropped topic',
  'soft bounces',
  'unread bounces',
  'beyond ascii',
  'no permission',
  'same address',
] as const;
export type HeldBackReason = (typeof heldBackReasons)[number];

export const heldBackWords: Record<
  HeldBackReason,
  { readonly short: string; readonly long: string }
> = {
  'left out': { short: 'left out by you', long: 'is in a group that you left out' },
  'no address': { short: 'no address', long: 'has no email address' },
  'do not mail': { short: 'do not mail', long: 'is on do not mail' },
  'dropped topic': {
    short: 'chose not to get this topic',
    long: 'chose not to get letters of this topic',
  },
  'soft bounces': {
    short: 'came back too often',
    long: 'has had several letters in a row come back',
  },
  'unread bounces': {
    short: 'refused too often',
    long: 'has been refused several times in a row, for reasons nobody could read',
  },
  'beyond ascii': {
    short: 'our mail server can’t',
    long: 'has letters in front of the @ that our mail server can’t pass on',
  },
  'no permission': { short: 'no permission', long: 'has not given permission, as far as we know' },
  'same address': {
    short: 'same address as another',
    long: 'shares the address with another person who receives it',
  },
};

export interface Tally {
  readonly matched: number;
  readonly heldBack: Readonly<Record<HeldBackReason, number>>;
  readonly receives: number;
}

export const noneHeldBack: Readonly<Record<HeldBackReason, number>> = {
  'left out': 0,
  'no address': 0,
  'do not mail': 0,
  'dropped topic': 0,
  'soft bounces': 0,
  'unread bounces': 0,
  'beyond ascii': 0,
  'no permission': 0,
  'same address': 0,
};

/** Builds a tally from counts per reason (`null`: receives). The sum always closes. */
export function tallyOf(
  counts: readonly { readonly reason: HeldBackReason | null; readonly count: number }[],
): Tally {
  const heldBack = { ...noneHeldBack };
  let receives = 0;
  let matched = 0;
  for (const { reason, count } of counts) {
    matched += count;
    if (reason === null) receives += count;
    else heldBack[reason] += count;
  }
  return { matched, heldBack, receives };
}

export interface TallyDifference {
  readonly line: 'matched' | HeldBackReason | 'receives';
  readonly seen: number;
  readonly now: number;
}

/** Which lines differ between the tally somebody agreed to and the one that was written. */
export function tallyDifferences(seen: Tally, now: Tally): TallyDifference[] {
  const lines: TallyDifference[] = [
    { line: 'matched', seen: seen.matched, now: now.matched },
    ...heldBackReasons.map((line) => ({
      line,
      seen: seen.heldBack[line],
      now: now.heldBack[line],
    })),
    { line: 'receives', seen: seen.receives, now: now.receives },
  ];
  return lines.filter((line) => line.seen !== line.now);
}

/** Reasons that most offices never meet: shown only when there is somebody on their line. */
const rare: readonly HeldBackReason[] = [
  'dropped topic',
  'soft bounces',
  'unread bounces',
  'beyond ascii',
  'same address',
];

export const shownReasons = (tally: Tally): HeldBackReason[] =>
  heldBackReasons.filter((reason) => !rare.includes(reason) || tally.heldBack[reason] > 0);

export function parseTally(raw: unknown): Tally | undefined {
  if (typeof raw !== 'object' || raw === null) return undefined;
  const { matched, heldBack, receives } = raw as Record<string, unknown>;
  if (!isCount(matched) || !isCount(receives) || typeof heldBack !== 'object' || heldBack === null)
    return undefined;
  const counts = heldBack as Record<string, unknown>;
  const read = { ...noneHeldBack };
  for (const reason of heldBackReasons) {
    const count = counts[reason] ?? 0;
    if (!isCount(count)) return undefined;
    read[reason] = count;
  }
  return { matched, heldBack: read, receives };
}

const isCount = (value: unknown): value is number =>
  typeof value === 'number' && Number.isInteger(value) && value >= 0 && value <= 1e9;
