import type { Finding, LetterSituation } from '../../letters/index.js';
import type { Tally } from '../tally.js';
import type { Who } from '../who.js';

export interface CampaignSituation {
  readonly letter: LetterSituation | undefined;
  readonly who: Who;
  readonly tally: Tally;
  readonly senderName: string;
  readonly senderAddress: string;
  readonly replyTo: string;
  /** Segments among the recipients whose rule has unfinished conditions, by name. */
  readonly unfinishedSegments: readonly string[];
  /** How many of them got this very letter within the last days. */
  readonly gotAlready: number;
  /** Personal fields of the letter without words for who lacks them, and how many do. */
  readonly lacking: readonly { readonly label: string; readonly count: number }[];
  /** The day on which it goes out in the office's zone, such as `2026-03-02`. */
  readonly goesOut: string;
  /** Segments or tags that are named on the sheet but no longer exist. */
  readonly gone: number;
}

export type CampaignCheck = (situation: CampaignSituation) => readonly Finding[];

/** One finding that stops the send. */
export const stopAt = (at: Finding['place']['at'], text: string): readonly Finding[] => [
  { level: 'stop', text, place: { at } },
];
