// Checks of a campaign: those of its letter, and those of the sheet around it.
import { parsePlainAddress } from '../contacts/index.js';
import { checkLetter, type CheckResult, type LetterSituation } from '../letters/index.js';
import type { Tally } from './tally.js';
import type { Who } from './who.js';

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

type CampaignCheck = (situation: CampaignSituation) => CheckResult;

const recipients: CampaignCheck = ({ who, tally }) => {
  if (who.to.length === 0)
    return {
      check: 'recipients',
      level: 'stop',
      text: 'Nobody is chosen yet.',
      place: { at: 'who' },
    };
  return tally.receives === 0
    ? {
        check: 'recipients',
        level: 'stop',
        text: 'Nobody is left to receive it.',
        place: { at: 'who' },
      }
    : { check: 'recipients', level: 'passed', text: 'recipients' };
};

const segments: CampaignCheck = ({ unfinishedSegments, gone }) => {
  if (gone > 0)
    return {
      check: 'segments',
      level: 'stop',
      text: 'A segment or tag on the sheet was deleted. Take it out.',
      place: { at: 'who' },
    };
  return unfinishedSegments.length > 0
    ? {
        check: 'segments',
        level: 'stop',
        text: `The rule of “${unfinishedSegments[0]}” has an unfinished condition.`,
        place: { at: 'who' },
      }
    : { check: 'segments', level: 'passed', text: 'segments' };
};

const sender: CampaignCheck = ({ senderName, senderAddress, replyTo }) => {
  if (senderName.trim() === '')
    return {
      check: 'sender',
      level: 'stop',
      text: 'The sender has no name.',
      place: { at: 'from' },
    };
  if (!parsePlainAddress(senderAddress).ok)
    return {
      check: 'sender',
      level: 'stop',
      text:
        senderAddress === ''
          ? 'The sender has no address.'
          : `“${senderAddress}” is not an address to send from.`,
      place: { at: 'from' },
    };
  return replyTo !== '' && !parsePlainAddress(replyTo).ok
    ? {
        check: 'sender',
        level: 'stop',
        text: `“${replyTo}” is not an address for replies.`,
        place: { at: 'from' },
      }
    : { check: 'sender', level: 'passed', text: 'sender' };
};

const hasLetter: CampaignCheck = ({ letter }) =>
  letter
    ? { check: 'letter', level: 'passed', text: 'letter' }
    : { check: 'letter', level: 'stop', text: 'No letter is chosen yet.', place: { at: 'letter' } };

const sheetChecks: readonly CampaignCheck[] = [recipients, segments, sender, hasLetter];

export const checkCampaign = (situation: CampaignSituation): CheckResult[] => [
  ...sheetChecks.map((check) => check(situation)),
  ...(situation.letter ? checkLetter(situation.letter) : []),
];

export const stops = (checks: readonly CheckResult[]): number =>
  checks.filter(({ level }) => level === 'stop').length;
