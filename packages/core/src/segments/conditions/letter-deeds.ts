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
