import type { CampaignRefusal } from '@palabra/core/campaigns';
import { refusalsOf, type Refusal } from '../platform/refusals.js';

const notPossible = (words: string): Refusal & { readonly words: string } => ({
  status: 422,
  words,
});

/** Why a step of its life can't be taken. */
const steps = {
  'in-the-past': notPossible('This time is already past. Choose a later one, or send now.'),
  'too-far': notPossible('This is more than a year ahead. Choose an earlier time.'),
  'too-early': notPossible('The time of this campaign has not come yet.'),
  nobody: notPossible('Nobody is left to receive it. Look at the tally.'),
  checks: notPossible('Some checks still stop this campaign. They are in the margin.'),
  'not-a-draft': notPossible('This campaign is no longer a draft.'),
  'not-sending': notPossible('This campaign is not going out at the moment.'),
  'not-paused': notPossible('This campaign is not paused.'),
  'not-scheduled': notPossible('This campaign is not waiting for its time.'),
  'not-fixing': notPossible('The recipients of this campaign are not being written down.'),
  'not-sent': notPossible('This campaign is not sent.'),
  'no-difference': notPossible('This campaign’s recipients are not waiting for a decision.'),
} as const satisfies { readonly [R in CampaignRefusal]: Refusal };

export const refuse = refusalsOf('campaigns', {
  ...steps,
  'no-name': { status: 422, words: 'A campaign needs a name.', at: 'name' },
});
