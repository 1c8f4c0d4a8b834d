export {
  letterOf,
  useCampaignQuery,
  useCampaignsQuery,
  useMoveMutation,
  type Move,
} from './campaigns.api';
export { CampaignSheet } from './CampaignSheet';
export { LetterPicture } from './LetterPicture';
export { SheetParts } from './SheetParts';
export { TallyPart } from './TallyPart';
export { newCampaign } from './useCampaign';
export { statusWords } from './words';
export { WriteToThem } from './WriteToThem';
