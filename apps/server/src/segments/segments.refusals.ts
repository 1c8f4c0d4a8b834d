import { refusalsOf } from '../platform/refusals.js';

export const refuse = refusalsOf('segments', {
  'no-name': { status: 422, words: 'A segment needs a name.', at: 'name' },
  'no-view-name': { status: 422, words: 'A view needs a name.', at: 'name' },
  'view-unread': { status: 422, words: (why: string) => why, at: 'arrangement' },
  'not-your-view': {
    status: 403,
    words: 'Only who made a view changes or deletes it. Keep what you see as a view of your own.',
  },
  'rule-unread': { status: 422, words: (why: string) => why, at: 'rule' },
});
