import type { LetterCheck } from './kind.js';

export const postalAddress: LetterCheck = ({ postalAddress: address }) =>
  address.trim() === ''
    ? [
        {
          level: 'stop',
          text: 'The office has no postal address; the footer needs one.',
          place: { at: 'settings' },
        },
      ]
    : [];
