import { stopAt, type CampaignCheck } from './kind.js';

export const segments: CampaignCheck = ({ unfinishedSegments: [unfinished], gone }) => {
  if (gone > 0) return stopAt('who', 'A segment or tag on the sheet was deleted. Take it out.');
  return unfinished === undefined
    ? []
    : stopAt('who', `The rule of “${unfinished}” has an unfinished condition.`);
};
