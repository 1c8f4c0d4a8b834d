import { refusalsOf } from '../platform/refusals.js';

export const refuse = refusalsOf('letters', {
  'about-to-be-sent': {
    status: 422,
    words:
      'A campaign waits for its time and will send this letter. Choose another letter there, or call it back to a draft, first.',
  },
  'no-name': { status: 422, words: 'A letter needs a name.', at: 'name' },
  'no-such-reader': { status: 400, words: 'There is no such person to show the letter as.' },
  'large-picture': {
    status: 413,
    words:
      'This picture is larger than 10 MB. Make it smaller first; 200 kB are plenty for a letter.',
  },
  'no-picture': {
    status: 415,
    words: 'This file is not a picture that can be read. JPEG, PNG, WebP and GIF work.',
  },
});
