import type { LetterCheck } from './kind.js';

export const wayOut: LetterCheck = ({ content }) =>
  content.blocks.at(-1)?.kind === 'footer'
    ? []
    : [
        {
          level: 'stop',
          text: 'The letter has no footer with a way out.',
          place: { at: 'letter' },
        },
      ];
