// The steps of a campaign's life as statements spell them.
import {
  campaignStatuses,
  leadsFrom,
  type CampaignStatus,
  type CampaignStep,
} from '@palabra/core/campaigns';
import { sql, type SQL } from 'drizzle-orm';

/** Whether a campaign is in one of the statuses that core means; `alias` of `campaigns`. */
export const isIn = (among: (status: CampaignStatus) => boolean, alias = ''): SQL =>
  sql.raw(
    `${alias === '' ? '' : `${alias}.`}status in (${campaignStatuses
      .filter(among)
      .map((status) => `'${status}'`)
      .join(', ')})`,
  );

/** Whether a step leads on from a campaign's status. */
export const mayTake = (step: CampaignStep, alias = ''): SQL =>
  isIn((status) => leadsFrom(step, status), alias);

export const hasStatus = (status: CampaignStatus, alias = ''): SQL =>
  isIn((one) => one === status, alias);
