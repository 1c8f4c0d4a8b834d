import { refusalsOf } from '../platform/refusals.js';

export const refuse = refusalsOf('office', {
  'set-up-already': { status: 409, words: 'This office is set up already. Sign in instead.' },
  'address-in-use': {
    status: 422,
    words: 'Somebody signs in with this address already.',
    at: 'address',
  },
  'no-address': { status: 422, words: 'This is not an email address.', at: 'address' },
});
