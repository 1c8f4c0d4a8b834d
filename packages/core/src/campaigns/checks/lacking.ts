import type { CampaignCheck } from './kind.js';

/** A personal field without words for who lacks it leaves a hole in a sentence. */
export const lacking: CampaignCheck = ({ lacking: fields }) =>
  fields.map(({ label, count }) => ({
    level: 'caution',
    text: `For ${count.toLocaleString('en')} of these “${label}” is empty, and the letter has no words in its place.`,
    place: { at: 'letter' },
  }));
