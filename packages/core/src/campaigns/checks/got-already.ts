import type { CampaignCheck } from './kind.js';

export const gotAlready: CampaignCheck = ({ gotAlready: count }) =>
  count === 0
    ? []
    : [
        {
          level: 'caution',
          text: `${count.toLocaleString('en')} of these got this very letter within the last seven days.`,
          place: { at: 'who' },
        },
      ];
