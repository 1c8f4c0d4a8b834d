import { fieldsOf, withChildren } from '../blocks/index.js';
import { lineFields } from '../text.js';
import type { LetterCheck } from './kind.js';

export const personalFields: LetterCheck = ({ content, fields }) => {
  const known = new Set(fields);
  const used = [
    ...lineFields(content.subject),
    ...lineFields(content.preview),
    ...withChildren(content.blocks).flatMap(fieldsOf),
  ];
  return used.every((field) => known.has(field))
    ? []
    : [
        {
          level: 'stop',
          text: 'A personal field in the letter no longer exists. Take it out.',
          place: { at: 'letter' },
        },
      ];
};
