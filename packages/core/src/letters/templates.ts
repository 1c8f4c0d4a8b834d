// The templates that ship.
import { DEFAULT_REASON } from './blocks/footer.js';
import type { Block } from './blocks/index.js';
import type { LetterContent } from './content.js';
import { paragraph, type PersonalField } from './text.js';

export interface ShippedTemplate {
  readonly key: string;
  readonly name: string;
  readonly about: string;
  readonly content: LetterContent;
}

const name: PersonalField = { field: 'given_name', fallback: 'friend' };
const footer: Block = { id: 'footer', kind: 'footer', reason: DEFAULT_REASON };

const letter = (
  subject: LetterContent['subject'],
  preview: string,
  blocks: readonly Block[],
): LetterContent => ({ v: 1, subject, preview: [preview], blocks: [...blocks, footer] });

export const shippedTemplates: readonly ShippedTemplate[] = [
  {
    key: 'news',
    name: 'News of the month',
    about: 'A greeting, two pieces of news and one thing to do.',
    content: letter(
      ['News of the month'],
      'What happened here, what comes next, and one date to keep free.',
      [
        { id: 'title', kind: 'heading', text: ['News of the month'] },
        {
          id: 'greeting',
          kind: 'text',
          text: {
            type: 'doc',
            content: [
              paragraph('Dear ', name, ','),
              paragraph('here is what happened since the last letter.'),
            ],
          },
        },
        { id: 'line-1', kind: 'divider' },
        { id: 'first', kind: 'heading', text: ['The first piece of news'] },
        {
          id: 'first-text',
          kind: 'text',
          text: {
            type: 'doc',
            content: [
              paragraph('Two or three sentences are enough; the rest can stand behind the button.'),
            ],
          },
        },
        { id: 'first-button', kind: 'button', label: ['Read on'], href: '' },
        { id: 'line-2', kind: 'divider' },
        { id: 'second', kind: 'heading', text: ['The second piece of news'] },
        {
          id: 'second-text',
          kind: 'text',
          text: { type: 'doc', content: [paragraph('What comes next, and when.')] },
        },
      ],
    ),
  },
  {
    key: 'invitation',
    name: 'Invitation',
    about: 'A picture, what it is about, when and where, and a button to say yes.',
    content: letter(
      ['You are invited'],
      'When, where and what for: come and bring someone along if you like.',
      [
        { id: 'picture', kind: 'picture', file: '', width: 0, height: 0, alt: '', href: '' },
        { id: 'title', kind: 'heading', text: ['You are invited, ', name] },
        {
          id: 'about',
          kind: 'text',
          text: { type: 'doc', content: [paragraph('What it is about, in a few sentences.')] },
        },
        {
          id: 'when',
          kind: 'text',
          text: {
            type: 'doc',
            content: [
              {
                type: 'bulletList',
                content: ['When: ', 'Where: ', 'Bring: '].map((text) => ({
                  type: 'listItem',
                  content: [paragraph(text)],
                })),
              },
            ],
          },
        },
        { id: 'yes', kind: 'button', label: ['I will come'], href: '' },
      ],
    ),
  },
  {
    key: 'note',
    name: 'Short personal note',
    about: 'Plain words from one person to another, without pictures.',
    content: letter(
      ['A word before the weekend, ', name],
      'Just a few lines, no pictures, and an answer reaches us directly.',
      [
        {
          id: 'note',
          kind: 'text',
          text: {
            type: 'doc',
            content: [
              paragraph('Dear ', name, ','),
              paragraph('write here what you would say at the door.'),
              paragraph('With kind regards'),
            ],
          },
        },
      ],
    ),
  },
];
