// How people's text is compared and sorted: by a key computed here, the same in every part.
import { normalized } from '../kernel/index.js';

/** Letters that Unicode decomposition leaves whole. */
const plain: Record<string, string> = {
  ß: 'ss',
  ø: 'o',
  ł: 'l',
  đ: 'd',
  ð: 'd',
  þ: 'th',
  æ: 'ae',
  œ: 'oe',
  ı: 'i',
  ħ: 'h',
  // At the end of a word it is written another way; capitals don't tell.
  ς: 'σ',
};

/** Rises whenever a key comes out another for the same text: everybody's are made anew then. */
export const KEYS_VERSION = 2;

/** NFKD, lower-cased, marks removed, white space folded. `Łódź  Ünal` becomes `lodz unal`. */
export function searchKey(text: string): string {
  return normalized(text, 'NFKD')
    .toLowerCase()
    .replace(/\p{M}+/gu, '')
    .replace(/[ßøłđðþæœıħς]/g, (letter) => plain[letter] ?? letter)
    .replace(/\s+/g, ' ')
    .trim();
}

// eslint-disable-next-line no-control-regex -- control signs are what is being removed
const CONTROL = /[\u0000-\u001f\u007f-\u009f\u2028\u2029]+/g;

/** One line of plain text as people type it: control signs and line breaks become spaces, ends trimmed. */
export const oneLine = (text: string): string =>
  normalized(text.replace(CONTROL, ' ').replace(/ {2,}/g, ' ').trim());

/** The same, at most so many UTF-16 units of it; of what is much longer the rest is not looked at. */
export const shortLine = (text: string, most: number): string =>
  beginning(oneLine(beginning(text, 4 * most)), most);

// eslint-disable-next-line no-control-regex -- control signs are what is being removed
const CONTROL_BUT_LINES = /[\u0000-\u0009\u000b-\u001f\u007f-\u009f]+/g;

/** Plain text of several lines: line ends become `\n`, at most one empty line after another. */
export const manyLines = (text: string): string =>
  normalized(
    text
      .replace(/\r\n?|[\u2028\u2029]/g, '\n')
      .replace(CONTROL_BUT_LINES, ' ')
      .replace(/\n{3,}/g, '\n\n')
      .trim(),
  );

/** The beginning of a text, at most so many UTF-16 units; no sign is cut in two. */
export const beginning = (text: string, most: number): string =>
  text.length <= most ? text : text.slice(0, most).replace(/[\ud800-\udbff]$/, '');

/** Key under which two tag names count as the same word: `V.I.P.`, `vip ` and `VIP` do. */
export const tagKey = (name: string): string => searchKey(name).replace(/[\s._-]+/g, '');

export interface PersonName {
  readonly given: string;
  readonly family: string;
}

/** What a table sorts and searches by: family name first, then given name. */
export const nameKey = ({ given, family }: PersonName): string => searchKey(`${family} ${given}`);

/** Names as they are read in running text; falls back to the address, then to a word. */
export const displayName = ({ given, family }: PersonName, address?: string | null): string =>
  `${given} ${family}`.trim() || address || 'no name';

/** Names as a table shows them: `Ashlin, Maribel`. */
export const listName = ({ given, family }: PersonName, address?: string | null): string =>
  family && given ? `${family}, ${given}` : family || given || address || 'no name';
