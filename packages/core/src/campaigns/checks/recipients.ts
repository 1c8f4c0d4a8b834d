import { stopAt, type CampaignCheck } from './kind.js';

export const recipients: CampaignCheck = ({ who, tally }) => {
  if (who.to.length === 0) return stopAt('who', 'Nobody is chosen yet.');
  return tally.receives === 0 ? stopAt('who', 'Nobody is left to receive it.') : [];
};
