import type { OfficeReply } from '@palabra/contract/office';

export const office: OfficeReply = {
  version: 1,
  name: 'Garden',
  postalAddress: '3 Orchard Walk',
  country: 'GB',
  timeZone: 'Europe/Lisbon',
  senderName: 'Garden',
  senderAddress: 'letters@example.com',
  mailUnknown: false,
  softBounceLimit: 3,
  unreadBounceLimit: 3,
  language: 'en',
  hiddenLink: false,
  colour: '',
  holdSeconds: 10,
};
