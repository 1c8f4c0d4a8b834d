// The letters of the demo world.
import { paragraph, type Block, type LetterContent } from '@palabra/core/letters';
import { DEFAULT_REASON } from '@palabra/core/letters';

/** The garden's own web site is part of the outside world. */
const site = `${process.env['OUTSIDE_URL'] ?? 'http://localhost:4680'}/garden`;
const name = { field: 'given_name', fallback: 'friend' };
const footer: Block = { id: 'footer', kind: 'footer', reason: DEFAULT_REASON };

export function newsletter(title: string, lead: string, preview: string): LetterContent {
  return {
    v: 1,
    subject: [title],
    preview: [preview],
    blocks: [
      { id: 'title', kind: 'heading', text: [title] },
      {
        id: 'lead',
        kind: 'text',
        text: { type: 'doc', content: [paragraph('Dear ', name, ','), paragraph(lead)] },
      },
      { id: 'dates', kind: 'button', label: ['Workshop dates'], href: `${site}/workshops` },
      { id: 'line', kind: 'divider' },
      { id: 'second', kind: 'heading', text: ['What else there is'] },
      {
        id: 'more',
        kind: 'text',
        text: {
          type: 'doc',
          content: [
            {
              type: 'paragraph',
              content: [
                { type: 'text', text: 'See ' },
                {
                  type: 'text',
                  text: 'the pictures of the month',
                  marks: [{ type: 'link', attrs: { href: `${site}/pictures` } }],
                },
                { type: 'text', text: ', or the ' },
                {
                  type: 'text',
                  text: 'opening hours',
                  marks: [{ type: 'link', attrs: { href: `${site}/hours` } }],
                },
                { type: 'text', text: ' for the holidays.' },
              ],
            },
            paragraph('With green greetings from all of us'),
          ],
        },
      },
      { id: 'join', kind: 'button', label: ['Become a member'], href: `${site}/membership` },
      footer,
    ],
  };
}

export function promotion(title: string, lead: string, button: string): LetterContent {
  return {
    v: 1,
    subject: [name, `: ${title.toLowerCase()}`],
    preview: [lead],
    blocks: [
      { id: 'title', kind: 'heading', text: [title] },
      {
        id: 'lead',
        kind: 'text',
        text: {
          type: 'doc',
          content: [
            paragraph('Dear ', name, ','),
            paragraph(lead),
            paragraph('Members come in an hour before everybody else.'),
          ],
        },
      },
      {
        id: 'go',
        kind: 'button',
        label: [button],
        href: `${site}/${button.toLowerCase().replaceAll(' ', '-')}`,
      },
      footer,
    ],
  };
}
