// Reading a spreadsheet's shape: which sign separates, and what a column may fill.
import type { DayOrder, FieldType } from '../contacts/index.js';

export const separators = [',', ';', '\t', '|'] as const;
export type Separator = (typeof separators)[number];
export const separatorWords: Record<Separator, string> = {
  ',': 'comma',
  ';': 'semicolon',
  '\t': 'tab',
  '|': 'bar',
};

/** `sep=;` as a first line says it; else the sign that stands outside quotes equally often on most of the first lines. */
export function findSeparator(sample: string): Separator {
  const lines = splitLines(sample).slice(0, 20);
  const said = saidSeparator(lines[0] ?? '');
  if (said) return said;
  let best: { separator: Separator; score: number } = { separator: ',', score: 0 };
  for (const separator of separators) {
    const counts = lines.map((line) => countOutsideQuotes(line, separator));
    // A title above the table has none of them.
    for (const usual of new Set(counts)) {
      const score = usual * (counts.filter((count) => count === usual).length / counts.length);
      if (score > best.score) best = { separator, score };
    }
  }
  return best.separator;
}

/** Spreadsheet programs write the separator down in a line of its own. */
export function saidSeparator(line: string): Separator | undefined {
  const said = /^\ufeff?sep=(.?)\s*$/i.exec(line)?.[1];
  return separators.find((separator) => separator === said);
}

function splitLines(text: string): string[] {
  const lines: string[] = [];
  let quoted = false;
  let from = 0;
  for (let at = 0; at < text.length; at++) {
    if (text[at] === '"') quoted = !quoted;
    else if (text[at] === '\n' && !quoted) {
      lines.push(text.slice(from, at));
      from = at + 1;
    }
  }
  if (from < text.length) lines.push(text.slice(from));
  return lines.filter((line) => line.trim() !== '');
}

function countOutsideQuotes(line: string, sign: string): number {
  let quoted = false;
  let count = 0;
  for (const one of line) {
    if (one === '"') quoted = !quoted;
    else if (one === sign && !quoted) count++;
  }
  return count;
}

/** What becomes of what somebody has in a field already. `add` is for what holds several. */
export const knownWays = ['replace', 'fill', 'add', 'leave'] as const;
export type KnownWay = (typeof knownWays)[number];
export const knownWayWords: Record<KnownWay, string> = {
  replace: 'replaces what is there',
  fill: 'fills what is empty',
  add: 'is added to what is there',
  leave: 'is for new people only',
};

/** Ways that a type of field can go, the usual one first: nobody loses an address by a list that has another. */
export const waysOf = (type: FieldType): readonly KnownWay[] =>
  type === 'addresses' || type === 'phones'
    ? ['add', 'replace', 'fill', 'leave']
    : type === 'choices' || type === 'long text'
      ? ['replace', 'add', 'fill', 'leave']
      : ['replace', 'fill', 'leave'];

/** What a column of a file fills. Several columns may fill tags. */
export type Target =
  | {
      readonly to: 'field';
      readonly field: string;
      /** Which comes first in days of figures; without it, those that could be either are not read. */
      readonly days?: DayOrder;
      /** Of people who are known; without it, the usual way of the field. */
      readonly way?: KnownWay;
    }
  /** Given and family name in one cell. */
  | { readonly to: 'name' }
  | { readonly to: 'tags' }
  /** The colleague who looks after somebody new, by name or address. */
  | { readonly to: 'owner' }
  | { readonly to: 'nothing' };

/** By what somebody is known. By number, an address comes on top of theirs. */
export const matchings = ['address', 'external number'] as const;
export type Matching = (typeof matchings)[number];
