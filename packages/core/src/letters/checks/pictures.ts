import { lacksOf, withChildren, type Lack } from '../blocks/index.js';
import type { Finding, LetterCheck } from './kind.js';

const findings: { readonly [L in Lack['lacks']]: Omit<Finding, 'place'> | undefined } = {
  target: undefined,
  picture: { level: 'stop', text: 'A picture block has no picture yet.' },
  'alt text': {
    level: 'caution',
    text: 'A picture has no alt text; many readers see only that.',
  },
};

export const pictures: LetterCheck = ({ content }) =>
  withChildren(content.blocks).flatMap((block) =>
    lacksOf(block).flatMap(({ lacks }): Finding[] => {
      const found = findings[lacks];
      return found ? [{ ...found, place: { at: 'letter', block: block.id } }] : [];
    }),
  );
