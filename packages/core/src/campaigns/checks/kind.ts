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
  /** Segments or tags that are named on the sheet but no longer exist. */
  readonly gone: number;
}

export type CampaignCheck = (situation: CampaignSituation) => readonly Finding[];

/** One finding that stops the send. */
export const stopAt = (at: Finding['place']['at'], text: string): readonly Finding[] => [
  { level: 'stop', text, place: { at } },
];
