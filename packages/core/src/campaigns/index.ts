export {
  heldBackReasons,
  heldBackWords,
  noneHeldBack,
  parseTally,
  partOfReason,
  reasonOfPart,
  shownReasons,
  tallyDifferences,
  tallyOf,
  type HeldBackReason,
  type Tally,
  type TallyDifference,
} from './tally.js';
export {
  campaignRefusals,
  campaignStatuses,
  campaignSteps,
  decide,
  editable,
  isOver,
  leadsFrom,
  underWay,
  wentOut,
  type CampaignOrder,
  type CampaignRefusal,
  type CampaignState,
  type CampaignStatus,
  type CampaignStep,
  type PlainStep,
  type Readiness,
} from './campaign.js';
export {
  nobodyYet,
  parseWho,
  sameWho,
  whoWithoutTag,
  whoKey,
  whoKinds,
  type Who,
  type WhoKind,
  type WhoRef,
} from './who.js';
export { checkCampaign, stops, type CampaignSituation } from './checks/index.js';
import type { Id } from '../kernel/index.js';
export type CampaignId = Id<'Campaign'>;
export type ChosenId = Id<'Chosen'>;
