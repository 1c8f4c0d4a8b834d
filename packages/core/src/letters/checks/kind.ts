// What a check is: it finds what is wrong with a letter and names the place; a letter without findings passes.
import type { LetterContent } from '../content.js';

export interface Place {
  /** Which part of the sheet or letter to go to. */
  readonly at: 'subject' | 'preview' | 'letter' | 'who' | 'from' | 'when' | 'settings';
  readonly block?: string;
}

export interface Finding {
  /** Whether the letter may go all the same. */
  readonly level: 'stop' | 'caution';
  readonly text: string;
  readonly place: Place;
}

export interface LetterSituation {
  readonly content: LetterContent;
  readonly officeName: string;
  readonly postalAddress: string;
  /** The fields that exist. */
  readonly fields: readonly { readonly key: string; readonly label: string }[];
}

export type LetterCheck = (situation: LetterSituation) => readonly Finding[];
