// Erasing a person: where something about people is kept, and how an address is taken out of what others wrote.
import { parseAddress } from './address.js';

/**
 * Every place where something about a person is kept, as it is called in the file of what is held. Each has one keeper,
 * who says what is there and takes it out; the server does not start while one of them lacks.
 */
export const personalPlaces = {
  person: 'What is known of them',
  permission: 'What they agreed to',
  standing: 'Whether letters may go to them',
  changes: 'What was changed',
  notes: 'Notes',
  tasks: 'Tasks',
  letters: 'Letters, and what they did with them',
  'returned mail': 'Mail from them, and mail that came back',
  'office mail': 'Mails of the office to them',
  imports: 'Files they came in with',
  segments: 'Segments, views and filters that name them',
  campaigns: 'Campaigns made for chosen people',
} as const;
export type PersonalPlace = keyof typeof personalPlaces;
export const personalPlaceNames = Object.keys(personalPlaces) as readonly PersonalPlace[];

/** Stands where something of an erased person stood. */
export const ERASED = 'erased';

/** Runs of signs that may be an address; what surrounds one in a sentence is not part of it. */
const RUNS = /[^\s<>()[\],;:"\\“”„‚‘’«»‹›]+/gu;
const AROUND = new Set("@.'`*_!?/=|{}~");

function bare(run: string): { readonly before: string; readonly word: string; after: string } {
  let [from, to] = [0, run.length];
  while (from < to && AROUND.has(run.charAt(from))) from++;
  while (to > from && AROUND.has(run.charAt(to - 1))) to--;
  return { before: run.slice(0, from), word: run.slice(from, to), after: run.slice(to) };
}

/** A text without some addresses, however they are written; each is replaced by “erased”. `isTheirs` is asked with the key of an address. Linear in the text. */
export const withoutAddresses = (text: string, isTheirs: (key: string) => boolean): string =>
  text.includes('@')
    ? text.replace(RUNS, (run) => {
        if (!run.includes('@')) return run;
        const { before, word, after } = bare(run);
        const parsed = parseAddress(word);
        return parsed.ok && isTheirs(parsed.value.key) ? `${before}${ERASED}${after}` : run;
      })
    : text;

/** The keys of the addresses in a text. */
export function addressKeysIn(text: string): string[] {
  const found: string[] = [];
  withoutAddresses(text, (key) => {
    found.push(key);
    return false;
  });
  return found;
}

/** Anything that JSON can say, its texts without some addresses; the same value where none of them was there. */
export function withoutAddressesIn<T>(value: T, isTheirs: (key: string) => boolean): T {
  const without = JSON.stringify(value, (_, part: unknown) =>
    typeof part === 'string' ? withoutAddresses(part, isTheirs) : part,
  );
  return without === JSON.stringify(value) ? value : (JSON.parse(without) as T);
}
