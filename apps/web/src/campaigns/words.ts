import type { CampaignStatus } from '@palabra/core/campaigns';

export const statusWords: Record<CampaignStatus, string> = {
  draft: 'draft',
  scheduled: 'waits for its time',
  fixing: 'writing down who gets it',
  differs: 'waits for your word',
  sending: 'going out',
  paused: 'paused',
  stopped: 'stopped',
  sent: 'sent',
};
