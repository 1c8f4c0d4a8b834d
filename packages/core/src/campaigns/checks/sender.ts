import { parsePlainAddress } from '../../contacts/index.js';
import { stopAt, type CampaignCheck } from './kind.js';

export const sender: CampaignCheck = ({ senderName, senderAddress, replyTo }) => {
  if (senderName.trim() === '') return stopAt('from', 'The sender has no name.');
  if (senderAddress === '') return stopAt('from', 'The sender has no address.');
  if (!parsePlainAddress(senderAddress).ok)
    return stopAt('from', `“${senderAddress}” is not an address to send from.`);
  return replyTo !== '' && !parsePlainAddress(replyTo).ok
    ? stopAt('from', `“${replyTo}” is not an address for replies.`)
    : [];
};
