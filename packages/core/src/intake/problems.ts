// What is wrong with a row, or worth a look before it comes in; and what would mend it, as far as that can be told.
import { parseAddress, type ContactId, type DayOrder } from '../contacts/index.js';

/** `refused`: the row does not come in. `doubt`: one cell says nothing, the row comes in. `hint`: it comes in as it says. */
export const problemKinds = ['refused', 'doubt', 'hint'] as const;
export type ProblemKind = (typeof problemKinds)[number];

/** One way to mend it: other texts in some cells of the row, a word about a whole column, or who is meant. */
export type Offer = { readonly words: string } & (
  | { readonly cells: Readonly<Record<number, string>> }
  | { readonly column: number; readonly days: DayOrder }
  | { readonly person: ContactId }
);

export interface RowProblem {
  readonly kind: ProblemKind;
  /** The column it is about, from 0; null where it is about the row. */
  readonly at: number | null;
  readonly words: string;
  readonly offers: readonly Offer[];
}

export const problem = (
  kind: ProblemKind,
  at: number | null,
  words: string,
  offers: readonly Offer[] = [],
): RowProblem => ({ kind, at, words, offers });

/** All that is wrong with a row in one text; hints are not. */
export const reasonOf = (problems: readonly RowProblem[]): string =>
  problems.flatMap(({ kind, words }) => (kind === 'hint' ? [] : [words])).join('; ');

const slips: readonly ((text: string) => string)[] = [
  (text) => text.replace(/@{2,9}/g, '@'),
  (text) => text.replace(/\s?[([{]\s?at\s?[)\]}]\s?/gi, '@'),
  (text) => text.replace(/\s/g, ''),
  (text) => text.replaceAll(',', '.'),
  (text) => text.replace(/[.;:,]{1,9}$/, ''),
  (text) => text.replace(/\.{2,9}/g, '.'),
];

/** The address that was probably meant by one with a slip of the pen. */
export function likelyAddress(text: string): string | undefined {
  let mended = text.slice(0, 300).trim();
  for (const slip of slips) {
    mended = slip(mended);
    const parsed = parseAddress(mended);
    if (parsed.ok) return parsed.value.address;
  }
  return undefined;
}
