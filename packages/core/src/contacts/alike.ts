// Tags that may be one: written differently, one in the plural, with their words in another order, or with a slip of
// the pen between them.
import { tagKey, searchKey } from './text.js';
import type { TagId } from './tags.js';

interface Named {
  readonly id: TagId;
  readonly name: string;
}

export interface AlikeTags {
  /** The smaller key. */
  readonly one: TagId;
  readonly other: TagId;
}

/** Shorter words are other words when one letter is another. */
const LEAST_FOR_A_SLIP = 5;

const singular = (word: string): string =>
  word.length > 4 && word.endsWith('ies')
    ? `${word.slice(0, -3)}y`
    : word.length > 4 && /(?:s|x|z|ch|sh)es$/.test(word)
      ? word.slice(0, -2)
      : word.length > 3 && word.endsWith('s') && !word.endsWith('ss')
        ? word.slice(0, -1)
        : word;

/** Its words in the singular and in the order of the alphabet. */
const plainWords = (name: string): string =>
  searchKey(name)
    .split(/[\s._-]+/)
    .filter((word) => word !== '')
    .map(singular)
    .sort()
    .join(' ');

/** The key itself, and the key without each of its signs: two keys one slip apart share one of these. */
const slips = (key: string): string[] => {
  const signs = [...key];
  return signs.length < LEAST_FOR_A_SLIP
    ? [key]
    : [key, ...signs.map((_, at) => [...signs.slice(0, at), ...signs.slice(at + 1)].join(''))];
};

const digitsOf = (key: string): string => key.replace(/\D/gu, '');

/** Whether one sign was put in, left out, taken for another, or changed places with the next. */
function isOneSlip(one: string, other: string): boolean {
  const [short, long] = [[...one], [...other]].sort((a, b) => a.length - b.length) as [
    string[],
    string[],
  ];
  if (short.length < LEAST_FOR_A_SLIP) return false;
  let at = 0;
  while (at < short.length && short[at] === long[at]) at += 1;
  const rest = (signs: readonly string[], from: number): string => signs.slice(from).join('');
  if (short.length < long.length) return rest(short, at) === rest(long, at + 1);
  return (
    rest(short, at + 1) === rest(long, at + 1) ||
    (short[at] === long[at + 1] &&
      short[at + 1] === long[at] &&
      rest(short, at + 2) === rest(long, at + 2))
  );
}

/** A tag with what its name is compared by, taken from it once. */
interface Read {
  readonly id: TagId;
  readonly key: string;
  readonly digits: string;
}

/** A tag is held against so many of those that share a key with it. */
const MOST_MET = 20;

/** At most so many pairs are pointed out at a time. */
const MOST = 200;

/** Pairs of tags that may be one; names that differ in a figure (“2025”, “2026”) are two. Linear in the letters of the names, but for pairs. */
export function alikeTags(tags: readonly Named[]): AlikeTags[] {
  const found = new Map<string, AlikeTags>();
  const meet = (buckets: Map<string, Read[]>, shared: string, tag: Read, is: 'one' | 'a slip') => {
    const bucket = buckets.get(shared) ?? [];
    for (const known of bucket) {
      if (found.size >= MOST || known.id === tag.id || known.digits !== tag.digits) continue;
      if (is === 'a slip' && !isOneSlip(tag.key, known.key)) continue;
      const [one, other] = tag.id < known.id ? [tag.id, known.id] : [known.id, tag.id];
      found.set(`${one} ${other}`, { one, other });
    }
    if (bucket.length < MOST_MET) bucket.push(tag);
    buckets.set(shared, bucket);
  };
  const [byWords, bySlip] = [new Map<string, Read[]>(), new Map<string, Read[]>()];
  for (const { id, name } of tags) {
    const key = tagKey(name);
    const tag = { id, key, digits: digitsOf(key) };
    meet(byWords, plainWords(name), tag, 'one');
    for (const shared of new Set(slips(key))) meet(bySlip, shared, tag, 'a slip');
  }
  return [...found.values()];
}
