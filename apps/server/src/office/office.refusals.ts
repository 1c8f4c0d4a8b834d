import { refusalsOf } from '../platform/refusals.js';

export const refuse = refusalsOf('office', {
  'set-up-already': { status: 409, words: 'This office is set up already. Sign in instead.' },
  'address-in-use': {
    status: 422,
    words: 'Somebody signs in with this address already.',
    at: 'address',
  },
  'last-coordinator': {
    status: 422,
    words: 'The office needs a coordinator who can sign in. Make somebody else one first.',
  },
  'not-oneself': {
    status: 422,
    words: 'You can’t close your own account. Another coordinator can.',
  },
  'never-signs-in': {
    status: 422,
    words: 'This colleague never signs in. Give them an email address, or open the account, first.',
  },
  'no-address': { status: 422, words: 'This is not an email address.', at: 'address' },
});
