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
  /** A proxy fetches the pictures as soon as the letter is there, whoever reads it when. */
  readonly proxied: boolean;
  /** The mail program fetches links ahead. */
  readonly prefetches: boolean;
  /** Sends the letter on to a friend, who opens it elsewhere. */
  readonly forwards: boolean;
  readonly answers:
    | 'nothing'
    | 'reply'
    | 'away'
    | 'complaint'
    | 'late notice'
    | 'late and full'
    | 'notice in own words';
}

/** FNV-1a, 32 bits, then to 0..1. */
function dice(seed: number, text: string): number {
  let hash = (2166136261 ^ seed) >>> 0;
  for (let at = 0; at < text.length; at++)
    hash = Math.imul(hash ^ text.charCodeAt(at), 16777619) >>> 0;
  hash = Math.imul(hash ^ (hash >>> 15), 2246822507) >>> 0;
  return ((hash ^ (hash >>> 13)) >>> 0) / 4294967296;
}

const nothing: Habits = {
  dead: false,
  full: false,
  opens: false,
  clicks: false,
  leaves: false,
  scanned: false,
  proxied: false,
  prefetches: false,
  forwards: false,
  answers: 'nothing',
};

/** Readers whose name says what they do, for trying things out. */
const telling: Record<string, Habits> = {
  dead: { ...nothing, dead: true },
  full: { ...nothing, full: true, opens: true },
  keen: { ...nothing, opens: true, clicks: true },
  leaver: { ...nothing, opens: true, leaves: true },
  quiet: nothing,
  scanned: { ...nothing, scanned: true },
  proxied: { ...nothing, proxied: true },
  prefetches: { ...nothing, prefetches: true, opens: true },
  forwards: { ...nothing, opens: true, forwards: true },
  replies: { ...nothing, opens: true, answers: 'reply' },
  away: { ...nothing, answers: 'away' },
  angry: { ...nothing, opens: true, answers: 'complaint' },
  late: { ...nothing, answers: 'late notice' },
  latefull: { ...nothing, answers: 'late and full' },
  oddnotice: { ...nothing, answers: 'notice in own words' },
};

/** `dead.anything@…`, `keen.…`, `leaver.…` and the others do what they say; everybody else follows the dice. */
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
    proxied: roll('proxied') < 0.14,
    prefetches: roll('prefetches') < 0.03,
    forwards: opens && roll('forwards') < 0.02,
    answers: among(roll('answers'), opens),
  };
}

/** Few answer at all; who opens may reply or complain, who does not may be away or gone. */
function among(roll: number, opens: boolean): Habits['answers'] {
  if (opens) return roll < 0.004 ? 'reply' : roll < 0.005 ? 'complaint' : 'nothing';
  if (roll < 0.008) return 'away';
  if (roll < 0.011) return 'late notice';
  if (roll < 0.013) return 'late and full';
  return roll < 0.0135 ? 'notice in own words' : 'nothing';
}

/** Whether this reader opens this letter: keen people miss some, too. */
export const mood = (address: string, message: string, seed: number): number =>
  dice(seed, `${message} ${address}`);
