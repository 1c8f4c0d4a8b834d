// The account of a campaign's recipients: matched, minus one reason each, equals will receive.

interface Reason {
  /** On a line of the tally. */
  readonly short: string;
  /** Of one person. */
  readonly long: string;
  /** Most offices never meet it: shown only when there is somebody on its line. */
  readonly isRare: boolean;
}

/** In the order in which they are asked; the first that applies is the person's one reason. */
export const heldBackWords = {
  'left out': { short: 'left out by you', long: 'is in a group that you left out', isRare: false },
  'no address': { short: 'no address', long: 'has no email address', isRare: false },
  'do not mail': { short: 'do not mail', long: 'is on do not mail', isRare: false },
  'dropped topic': {
    short: 'chose not to get this topic',
    long: 'chose not to get letters of this topic',
    isRare: true,
  },
  'soft bounces': {
    short: 'came back too often',
    long: 'has had several letters in a row come back',
    isRare: true,
  },
  'unread bounces': {
    short: 'refused too often',
    long: 'has been refused several times in a row, for reasons nobody could read',
    isRare: true,
  },
  'beyond ascii': {
    short: 'our mail server can’t',
    long: 'has letters in front of the @ that our mail server can’t pass on',
    isRare: true,
  },
  'no permission': {
    short: 'no permission',
    long: 'has not given permission, as far as we know',
    isRare: false,
  },
  'same address': {
    short: 'same address as another',
    long: 'shares the address with another person who receives it',
    isRare: true,
  },
} as const satisfies Readonly<Record<string, Reason>>;
export type HeldBackReason = keyof typeof heldBackWords;
export const heldBackReasons = Object.keys(heldBackWords) as readonly HeldBackReason[];

/** Blanks as hyphens. */
export type Dashed<T extends string> = T extends `${infer Word} ${infer Rest}`
  ? `${Word}-${Dashed<Rest>}`
  : T;

/** A reason as the part of an address that names the list behind its line. */
export const partOfReason = (reason: HeldBackReason): Dashed<HeldBackReason> =>
  reason.replaceAll(' ', '-') as Dashed<HeldBackReason>;
export const reasonOfPart = (part: string): HeldBackReason | undefined =>
  heldBackReasons.find((reason) => partOfReason(reason) === part);

export interface Tally {
  readonly matched: number;
  readonly heldBack: Readonly<Record<HeldBackReason, number>>;
  readonly receives: number;
}

export const noneHeldBack = Object.fromEntries(
  heldBackReasons.map((reason) => [reason, 0]),
) as Readonly<Record<HeldBackReason, number>>;

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

export const shownReasons = (tally: Tally): HeldBackReason[] =>
  heldBackReasons.filter((reason) => !heldBackWords[reason].isRare || tally.heldBack[reason] > 0);

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
