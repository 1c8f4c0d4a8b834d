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
  agree,
  backToDraft,
  begin,
  campaignStatuses,
  editable,
  fixed,
  goOn,
  leaveFixing,
  pause,
  schedule,
  sendNow,
  stop,
  unschedule,
  wentOut,
  type CampaignRefusal,
  type CampaignState,
  type CampaignStatus,
  type Readiness,
} from './campaign.js';
export {
  nobodyYet,
  parseWho,
  sameWho,
  whoKey,
  whoKinds,
  type Who,
  type WhoKind,
  type WhoRef,
} from './who.js';
export { checkCampaign, stops, type CampaignSituation } from './checks.js';
import type { Id } from '../kernel/index.js';
export type CampaignId = Id<'Campaign'>;
