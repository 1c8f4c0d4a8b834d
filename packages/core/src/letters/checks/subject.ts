import { lineText } from '../text.js';
import type { LetterCheck } from './kind.js';

export const subject: LetterCheck = ({ content }) =>
  lineText(content.subject).trim() === ''
    ? [{ level: 'stop', text: 'There is no subject line.', place: { at: 'subject' } }]
    : [];
