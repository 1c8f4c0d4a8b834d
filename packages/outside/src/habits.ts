// What kind of reader stands behind an address. The same seed gives the same readers.

export interface Habits {
  /** The mailbox does not exist. */
  readonly dead: boolean;
  /** The mailbox is full: the first try of every letter is put off. */
  readonly full: boolean;
  readonly opens: boolean;
  readonly clicks: boolean;
  readonly leaves: boolean;
  /** A link scanner looks at the letter before the reader does. */
  readonly scanned: boolean;
}

/** FNV-1a, 32 bits, then to 0..1. */
function dice(seed: number, text: string): number {
  let hash = (2166136261 ^ seed) >>> 0;
  for (let at = 0; at < text.length; at++) hash = Math.imul(hash ^ text.charCodeAt(at), 16777619) >>> 0;
  hash = Math.imul(hash ^ (hash >>> 15), 2246822507) >>> 0;
  return ((hash ^ (hash >>> 13)) >>> 0) / 4294967296;
}

const nothing: Habits = { dead: false, full: false, opens: false, clicks: false, leaves: false, scanned: false };

/** Readers whose name says what they do, for trying things out. */
const telling: Record<string, Habits> = {
  dead: { ...nothing, dead: true },
  full: { ...nothing, full: true, opens: true },
  keen: { ...nothing, opens: true, clicks: true },
  leaver: { ...nothing, opens: true, leaves: true },
  quiet: nothing,
  scanned: { ...nothing, scanned: true },
};

/** `dead.anything@…`, `keen.…`, `leaver.…` do what they say; everybody else follows the dice. */
export function habitsOf(address: string, seed: number): Habits {
  const key = address.toLowerCase();
  const named = telling[/^([a-z]+)\./.exec(key)?.[1] ?? ''];
  if (named) return named;
  const roll = (what: string): number => dice(seed, `${what} ${key}`);
  const opens = roll('opens') < 0.42;
  return {
    dead: roll('dead') < 0.008,
    full: roll('full') < 0.012,
    opens,
    clicks: opens && roll('clicks') < 0.24,
    leaves: roll('leaves') < 0.004,
    scanned: roll('scanned') < 0.12,
  };
}

/** Whether this reader opens this letter: keen people miss some, too. */
export const mood = (address: string, message: string, seed: number): number => dice(seed, `${message} ${address}`);
