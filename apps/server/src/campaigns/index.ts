export { CampaignsModule } from './campaigns.module.js';
export { CampaignsService } from './campaigns.service.js';
export {
  campaignById,
  dueCampaigns,
  factsChanged,
  keepWithCampaign,
  lockCampaign,
  type Campaign,
} from './campaigns.store.js';
export { hasStatus, isIn } from './status.store.js';
export { judged, type BoundWho } from './who.store.js';
