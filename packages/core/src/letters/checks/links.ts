import { lacksOf, withChildren } from '../blocks/index.js';
import type { Finding, LetterCheck } from './kind.js';

export const links: LetterCheck = ({ content }) =>
  withChildren(content.blocks).flatMap((block) =>
    lacksOf(block).flatMap((lack): Finding[] =>
      lack.lacks === 'target'
        ? [
            {
              level: 'stop',
              text: `${lack.what} leads nowhere.`,
              place: { at: 'letter', block: block.id },
            },
          ]
        : [],
    ),
  );
