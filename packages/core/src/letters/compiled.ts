// A compiled letter: literal text and slots in turn, so that one reader's copy is a join of strings.
import { unreachable } from '../kernel/index.js';
import { escapeHtml, type Slot } from './render.js';

export type Part = string | Slot;

export interface TrackedLink {
  readonly url: string;
  /** What the reader sees: the words of the link, or the alt text of a picture. */
  readonly label: string;
  /** No person can see it: who follows it is a machine. */
  readonly isHidden?: true;
}

export interface CompiledLetter {
  readonly v: 1;
  readonly subject: readonly Part[];
  readonly html: readonly Part[];
  readonly text: readonly Part[];
  readonly links: readonly TrackedLink[];
}

/** Splits finished text at its sentinels into literal text and slots. */
export function splitAtSentinels(text: string, nonce: string, slots: readonly Slot[]): Part[] {
  const parts: Part[] = [];
  let from = 0;
  for (const found of text.matchAll(new RegExp(`${nonce}n(\\d+)z`, 'g'))) {
    const slot = slots[Number(found[1])];
    if (!slot) throw new Error('a sentinel without its slot');
    if (found.index > from) parts.push(text.slice(from, found.index));
    parts.push(slot);
    from = found.index + found[0].length;
  }
  if (from < text.length) parts.push(text.slice(from));
  return parts;
}

/** What is known of one reader when the copy is made. */
export interface ReaderCopy {
  /** The value of a personal field as text, empty when there is none. */
  value(field: string): string;
  link(link: number): string;
  readonly leave: string;
  readonly open: string;
}

/** A line of a header has 998 signs at the most (RFC 5322), and a word without blanks can't be folded. */
const shortened = (text: string): string =>
  text.length <= 200 ? text : `${[...text].slice(0, 199).join('')}…`;

export type Context = 'html' | 'text' | 'header';

const escapeFor: Record<Context, (text: string) => string> = {
  html: escapeHtml,
  text: (text) => text,
  // RFC 5322: a header value is one line. The mail library encodes what is not ASCII.
  // eslint-disable-next-line no-control-regex -- control signs are what is being removed
  header: (text) => shortened(text.replace(/[\u0000-\u001f\u007f\u2028\u2029]+/g, ' ')),
};

function fill(slot: Slot, reader: ReaderCopy): string {
  switch (slot.slot) {
    case 'field':
      return reader.value(slot.field) || slot.fallback;
    case 'leave':
      return reader.leave;
    case 'open':
      return reader.open;
    case 'link':
      return reader.link(slot.link);
    default:
      return unreachable(slot);
  }
}

/** One reader's copy of one part of the letter, each slot escaped for where it stands and, where the parts are already encoded, encoded like them. */
export const personalise = (
  parts: readonly Part[],
  reader: ReaderCopy,
  context: Context,
  encode: (text: string) => string = (text) => text,
): string =>
  parts
    .map((part) =>
      typeof part === 'string' ? part : encode(escapeFor[context](fill(part, reader))),
    )
    .join('');

/** The parts with all that readers share encoded once. `encode` must give pieces that may be joined. */
export const encodeParts = (parts: readonly Part[], encode: (text: string) => string): Part[] =>
  parts.map((part) => (typeof part === 'string' ? encode(part) : part));

/** The personal fields a letter uses. */
export const usedFields = (letter: CompiledLetter): string[] => [
  ...new Set(
    [...letter.subject, ...letter.html].flatMap((part) =>
      typeof part !== 'string' && part.slot === 'field' ? [part.field] : [],
    ),
  ),
];
