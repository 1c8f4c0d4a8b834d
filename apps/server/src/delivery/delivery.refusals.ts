import { refusalsOf } from '../platform/refusals.js';

export const refuse = refusalsOf('delivery', {
  'not-waiting': { status: 422, words: 'This campaign is not waiting for a word.' },
  'not-written-down': {
    status: 422,
    words:
      'Its recipients are not written down, so nobody can be counted. Let it go on, or stop it.',
  },
  undecided: {
    status: 422,
    words: (names: readonly string[]) =>
      `Say first how ${names.length === 1 ? `“${names[0] ?? ''}” goes on` : `${names.length} campaigns go on`}.`,
  },
  'letter-in-hand': {
    status: 409,
    words: (campaign: string) =>
      `A letter of “${campaign}” to them is being handed to the mail server at this moment. Nothing was erased; try again in a few seconds.`,
  },
  'seen-to-already': { status: 422, words: 'Somebody has seen to this message already.' },
  'whose-message': { status: 422, words: 'Say whose message this is.', at: 'contact' },
  'no-letter-yet': {
    status: 422,
    words: 'This person has had no letter yet, so none can have come back.',
  },
  'no-sender': {
    status: 422,
    words: (address: string) =>
      `“${address}” is not an address to send from. Mend the sender first.`,
  },
  'proof-not-sent': {
    status: 503,
    words: (why: string) => `${why}. The proof was not sent.`,
  },
  'proof-not-taken': {
    status: 422,
    words: (answer: string) => `The mail server did not take the proof: ${answer}`,
  },
});
