import { stopAt, type CampaignCheck } from './kind.js';

export const letter: CampaignCheck = ({ letter: chosen }) =>
  chosen ? [] : stopAt('letter', 'No letter is chosen yet.');
