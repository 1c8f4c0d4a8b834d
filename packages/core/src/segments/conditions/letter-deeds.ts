/** What can have become of one letter. “Not opened” is a letter that arrived and was not opened. */
export const letterDeeds = [
  'sent',
  'delivered',
  'not opened',
  'opened',
  'clicked',
  'bounced',
  'replied',
  'left',
] as const;
export type LetterDeed = (typeof letterDeeds)[number];

const keptDeeds = ['sent', 'delivered', 'not opened', 'opened', 'clicked'] as const;
/** How many letters of somebody were so, ever, is known without a look at all of them. */
export type KeptDeed = (typeof keptDeeds)[number];
/** Of the last letters to somebody it is known of each whether it was so. */
const recentDeeds = ['sent', 'delivered', 'not opened', 'opened', 'clicked', 'bounced'] as const;
export type RecentDeed = (typeof recentDeeds)[number];
export const isRecent = (did: LetterDeed): did is RecentDeed =>
  (recentDeeds as readonly LetterDeed[]).includes(did);
export const isKept = (did: LetterDeed): did is KeptDeed =>
  (keptDeeds as readonly LetterDeed[]).includes(did);
