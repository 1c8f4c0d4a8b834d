// Times two ways of doing the same in turn, so that a slow moment of the machine hits both.

export interface Times {
  /** Milliseconds, sorted. */
  readonly sorted: readonly number[];
}

export const at = ({ sorted }: Times, share: number): number =>
  sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))] ?? NaN;
export const median = (times: Times): number => at(times, 0.5);

export const time = async (work: () => Promise<unknown>): Promise<number> => {
  const start = performance.now();
  await work();
  return performance.now() - start;
};

export async function timed(
  rounds: number,
  work: (round: number) => Promise<unknown>,
  warm = 2,
): Promise<Times> {
  for (let round = 0; round < warm; round++) await work(round);
  const all: number[] = [];
  for (let round = 0; round < rounds; round++) all.push(await time(() => work(round + warm)));
  return { sorted: all.sort((a, b) => a - b) };
}

/** `ours` and `theirs` in turn; who goes first changes every round. */
export async function inTurn(
  rounds: number,
  ours: (round: number) => Promise<unknown>,
  theirs: (round: number) => Promise<unknown>,
  warm = 2,
): Promise<{ ours: Times; theirs: Times }> {
  const [own, other]: [number[], number[]] = [[], []];
  for (let round = -warm; round < rounds; round++) {
    const run = async (
      work: (round: number) => Promise<unknown>,
      kept: number[],
    ): Promise<void> => {
      const took = await time(() => work(round + warm));
      if (round >= 0) kept.push(took);
    };
    const order = [() => run(ours, own), () => run(theirs, other)];
    for (const one of round % 2 === 0 ? order : order.reverse()) await one();
  }
  return {
    ours: { sorted: own.sort((a, b) => a - b) },
    theirs: { sorted: other.sort((a, b) => a - b) },
  };
}

export interface Row {
  readonly work: string;
  readonly ours: string;
  readonly against: string;
  readonly ratio: string;
  readonly aim: string;
  /** The same on a PostgreSQL server. */
  readonly onServer?: string;
}

export const ms = (value: number): string =>
  value < 10 ? `${value.toFixed(2)} ms` : `${value.toFixed(0)} ms`;
export const perSecond = (count: number, milliseconds: number): string =>
  `${Math.round((1000 * count) / milliseconds).toLocaleString('en')}/s`;

/** A pair by its medians; a ratio above 1 is slower than the baseline. */
export const pairRow = (work: string, pair: { ours: Times; theirs: Times }, aim: string): Row => ({
  work,
  ours: ms(median(pair.ours)),
  against: ms(median(pair.theirs)),
  ratio: (median(pair.ours) / median(pair.theirs)).toFixed(2),
  aim,
});

export const latency = (times: Times): string => `${ms(median(times))}, p95 ${ms(at(times, 0.95))}`;

export const latencyRow = (work: string, times: Times, aim: string, onServer?: Times): Row => ({
  work,
  ours: latency(times),
  against: '–',
  ratio: '–',
  aim,
  ...(onServer ? { onServer: latency(onServer) } : {}),
});

export function table(title: string, rows: readonly Row[]): string {
  const isOnServer = rows.some(({ onServer }) => onServer !== undefined);
  const line = (cells: readonly string[]): string => `| ${cells.join(' | ')} |`;
  const heads = ['work', 'ours', 'against', 'ratio', 'aim'];
  return [
    `## ${title}`,
    '',
    line([...heads, ...(isOnServer ? ['on a PostgreSQL server'] : [])]),
    `|${'---|'.repeat(heads.length + (isOnServer ? 1 : 0))}`,
    ...rows.map(({ work, ours, against, ratio, aim, onServer }) =>
      line([work, ours, against, ratio, aim, ...(isOnServer ? [onServer ?? '–'] : [])]),
    ),
    '',
  ].join('\n');
}
