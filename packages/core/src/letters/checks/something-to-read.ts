import { saysSomething, withChildren } from '../blocks/index.js';
import type { LetterCheck } from './kind.js';

export const somethingToRead: LetterCheck = ({ content }) =>
  withChildren(content.blocks).some(saysSomething)
    ? []
    : [{ level: 'stop', text: 'The letter has nothing to read yet.', place: { at: 'letter' } }];
