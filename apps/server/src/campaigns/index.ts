export { CampaignsModule } from './campaigns.module.js';
export { CampaignsService } from './campaigns.service.js';
export * as campaignStore from './campaigns.store.js';
export type { Campaign } from './campaigns.store.js';
export { countedNumbers, isWhole } from './numbers.store.js';
export { judged, type BoundWho } from './who.store.js';
