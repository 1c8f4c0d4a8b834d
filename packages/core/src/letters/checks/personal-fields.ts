import { personalFieldsOf } from '../content.js';
import type { Finding, LetterCheck } from './kind.js';

export const personalFields: LetterCheck = ({ content, fields }) => {
  const known = new Map(fields.map(({ key, label }) => [key, label]));
  const used = personalFieldsOf(content);
  if (used.some(({ field }) => !known.has(field)))
    return [
      {
        level: 'stop',
        text: 'A personal field in the letter no longer exists. Take it out.',
        place: { at: 'letter' },
      },
    ];
  const bare = new Set(used.filter(({ fallback }) => fallback === '').map(({ field }) => field));
  return [...bare].map((field): Finding => ({
    level: 'caution',
    text: `“${known.get(field) ?? field}” has no words for readers where it is empty.`,
    place: { at: 'letter' },
  }));
};
