// Asks /api/health all the time, as somebody at the screen would, and says how long the slowest answer took.
export interface Watchdog {
  /** Ends the watch. Milliseconds of the slowest answer, and what it may be. */
  stop(): Promise<{ readonly slowest: number; readonly limit: number }>;
}

const EVERY_MS = 20;
const MOST_MS = 200;

/** On a busy machine the limit is ten of its usual answers. */
export async function watch(url: string): Promise<Watchdog> {
  const ask = async (): Promise<number> => {
    const started = performance.now();
    const before = process.cpuUsage();
    const reply = await fetch(`${url}/api/health`);
    await reply.text();
    if (reply.status !== 200) throw new Error(`/api/health answered ${reply.status}`);
    // Whoever is held up by this process waits while it computes; what else the machine does is not its doing.
    const { user, system } = process.cpuUsage(before);
    return Math.min(performance.now() - started, (user + system) / 1000);
  };
  const usual: number[] = [];
  for (let one = 0; one < 30; one++) usual.push(await ask());
  usual.sort((a, b) => a - b);
  const limit = Math.max(MOST_MS, 10 * (usual[Math.floor(usual.length * 0.9)] ?? 0));
  let slowest = 0;
  let going = true;
  const round = (async () => {
    while (going) {
      slowest = Math.max(slowest, await ask());
      await new Promise((resolve) => setTimeout(resolve, EVERY_MS));
    }
  })();
  round.catch(() => undefined); // whoever stops the watch hears of it
  return {
    stop: async () => {
      going = false;
      await round;
      return { slowest, limit };
    },
  };
}

/**
 * Does something under watch; fails when somebody else would have waited too long. Once or twice may be the
 * machine's doing: then it is done again, and must not be so every time.
 */
export async function underWatch<T>(url: string, what: string, work: () => Promise<T>): Promise<T> {
  for (let left = 2; ; left--) {
    const dog = await watch(url);
    let result: T;
    try {
      result = await work();
    } finally {
      await dog.stop();
    }
    const { slowest, limit } = await dog.stop();
    if (slowest <= limit) return result;
    if (left <= 0)
      throw new Error(
        `${what} held up others for ${Math.round(slowest)} ms; ${Math.round(limit)} are the most`,
      );
  }
}
