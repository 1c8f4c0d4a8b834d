// What is asked of letters: what became of them, of which campaigns, and in how many.
import type { Span } from './field/operand.js';
import type { LetterDeed } from './letter-deeds.js';

/** The letters that are looked at. */
export type LettersOf =
  | { readonly in: 'these'; readonly campaigns: readonly number[] }
  /** The latest of the whole office, or the latest that each person was sent. */
  | { readonly in: 'last'; readonly count: number; readonly whose: LettersWhose }
  /** Of campaigns that began within so long. */
  | { readonly in: 'lately'; readonly within: Span }
  /** From a campaign on, itself included. */
  | { readonly in: 'since'; readonly campaign?: number }
  | { readonly in: 'ever' };
export const lettersWhose = ['of the office', 'that they were sent'] as const;
export type LettersWhose = (typeof lettersWhose)[number];
export const letterScopes = ['these', 'last', 'lately', 'since', 'ever'] as const;
export type LetterScope = LettersOf['in'];

/** In how many of the letters that are looked at. */
export type HowMany =
  'any' | 'all' | 'none' | { readonly atLeast: number } | { readonly atMost: number };

export interface LetterCondition {
  readonly kind: 'letter';
  readonly did: LetterDeed;
  readonly letters: LettersOf;
  readonly many: HowMany;
  /** Opens and clicks of machines count as well; without it only those of people do. */
  readonly machines?: true;
  /** Of a click: one link of one campaign by its number, or links whose address contains a text. */
  readonly link?: { readonly number: number } | { readonly contains: string };
}

/** Letters are looked back at so far, one by one: so many are kept with each person, in the bits of a number. */
export const LETTERS_LAST = 50;

export const mayCountMachines = (did: LetterDeed): boolean =>
  did === 'opened' || did === 'clicked' || did === 'not opened';
