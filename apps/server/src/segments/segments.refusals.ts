import { refusalsOf } from '../platform/refusals.js';

export const refuse = refusalsOf('segments', {
  'no-name': { status: 422, words: 'A segment needs a name.', at: 'name' },
  'rule-unread': { status: 422, words: (why: string) => why, at: 'rule' },
});
