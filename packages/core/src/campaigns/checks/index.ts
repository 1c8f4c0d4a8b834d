// Checks of a campaign: those of the sheet, and those of its letter. A new one is a file beside this, named in the list.
import { checkLetter, runChecks, type CheckResult } from '../../letters/index.js';
import type { CampaignCheck, CampaignSituation } from './kind.js';
import { gotAlready } from './got-already.js';
import { lacking } from './lacking.js';
import { letter } from './letter.js';
import { month } from './month.js';
import { recipients } from './recipients.js';
import { segments } from './segments.js';
import { sender } from './sender.js';

export type { CampaignSituation } from './kind.js';

/** By the words for what passes, in the order in which they are said. */
const sheetChecks = {
  recipients,
  segments,
  sender,
  letter,
  'nobody twice': gotAlready,
  'no holes': lacking,
  month,
} as const satisfies Readonly<Record<string, CampaignCheck>>;

export const checkCampaign = (situation: CampaignSituation): CheckResult[] => [
  ...runChecks(sheetChecks, situation),
  ...(situation.letter ? checkLetter(situation.letter) : []),
];

/** How many findings stop the send. */
export const stops = (checks: readonly CheckResult[]): number =>
  checks.filter(({ level }) => level === 'stop').length;
