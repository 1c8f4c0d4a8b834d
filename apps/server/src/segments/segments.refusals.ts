import { refusalsOf } from '../platform/refusals.js';

export const refuse = refusalsOf('segments', {
  'no-name': { status: 422, words: 'A segment needs a name.', at: 'name' },
  'no-view-name': { status: 422, words: 'A view needs a name.', at: 'name' },
  'view-unread': { status: 422, words: (why: string) => why, at: 'arrangement' },
  'not-your-view': {
    status: 403,
    words: 'Only who made a view changes or deletes it. Keep what you see as a view of your own.',
  },
  'not-your-segment': {
    status: 403,
    words: 'Only its owner changes this segment. Copy it, and change the copy.',
  },
  circle: {
    status: 422,
    words: (way: string) =>
      `The rule would come back to itself: ${way}. Take one of these segments out.`,
    at: 'rule',
  },
  'rule-too-long': {
    status: 422,
    words:
      'The rule has more than a million signs. Import the people of a long list and tag them, then ask for the tag.',
    at: 'rule',
  },
  'too-much-kept': {
    status: 422,
    words: (whose: 'own' | 'all', most: number) =>
      `${whose === 'own' ? 'Your segments and views hold' : 'The segments and views of the office hold'} more than ${most} MB together. Delete some, or tag the people of a long list and ask for the tag.`,
  },
  'asks-too-deep': {
    status: 422,
    words: (most: number) =>
      `Segments would ask for segments more than ${most} deep. Ask for one of those behind it directly.`,
    at: 'rule',
  },
  'asked-too-much': {
    status: 422,
    words: (name: string) =>
      `“${name}” asks for this segment, and would then take too many looks at each contact. Take something out of one of them.`,
    at: 'rule',
  },
  'no-draft': {
    status: 409,
    words: 'There is no draft to use: the rule is in force as it stands.',
  },
  'draft-blocked': { status: 422, words: (why: string) => why, at: 'rule' },
  'is-fixed': { status: 409, words: 'This segment is fixed already.' },
  'is-live': {
    status: 409,
    words: 'This segment follows its rule. Make it a fixed one first, to say who is in it.',
  },
  'no-addresses': {
    status: 422,
    words: 'No address stands in the text. Take a list with an email address in each line or cell.',
    at: 'text',
  },
  'changed-meanwhile': {
    status: 409,
    words: 'The segment was changed meanwhile. Look at it again, and repeat what you did.',
  },
  'file-unread': { status: 422, words: (why: string) => why, at: 'segment' },
  'rule-unread': { status: 422, words: (why: string) => why, at: 'rule' },
});
