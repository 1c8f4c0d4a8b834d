import { HtmlValidate } from 'html-validate';
import {
  emptyBlock,
  paragraph,
  personalise,
  shippedTemplates,
  type LetterContent,
  type ReaderCopy,
} from '@palabra/core/letters';
import { compileLetter } from './compile.js';

const look = {
  officeName: 'Garden & Co',
  postalAddress: '3 Walk',
  language: 'pt-PT',
  baseUrl: 'https://letters.example.com',
};
const name = { field: 'given_name', fallback: 'friend' };
const letter: LetterContent = {
  v: 1,
  subject: ['Hello ', name],
  preview: ['In short'],
  blocks: [
    { id: 'a', kind: 'heading', text: ['News, ', name] },
    {
      id: 'b',
      kind: 'text',
      text: {
        type: 'doc',
        content: [
          paragraph('{{ typed }} & <b>marked</b>'),
          {
            type: 'paragraph',
            content: [
              {
                type: 'text',
                text: 'a page',
                marks: [{ type: 'link', attrs: { href: 'https://example.com/?a=1&b=2' } }],
              },
              { type: 'text', text: ' or ' },
              {
                type: 'text',
                text: 'write',
                marks: [{ type: 'link', attrs: { href: 'mailto:a@example.com' } }],
              },
            ],
          },
        ],
      },
    },
    {
      id: 'c',
      kind: 'picture',
      file: 'f'.repeat(64),
      width: 1056,
      height: 400,
      alt: 'A bed of "ferns"',
      href: 'https://example.com/ferns',
    },
    { id: 'd', kind: 'button', label: ['Go'], href: 'https://example.com/go' },
    { id: 'e', kind: 'divider' },
    emptyBlock('footer', 'foot'),
  ],
};
const reader: ReaderCopy = {
  value: () => 'Ada <3',
  link: (link) => `https://letters.example.com/c/${link}`,
  leave: 'https://letters.example.com/leave/x',
  open: 'https://letters.example.com/o/x',
};

it('tracks web links only, each by its number, with what the reader sees', async () => {
  const compiled = await compileLetter(letter, look);
  expect(compiled.links).toEqual([
    { url: 'https://example.com/?a=1&b=2', label: 'a page' },
    { url: 'https://example.com/ferns', label: 'A bed of "ferns"' },
    { url: 'https://example.com/go', label: 'Go' },
  ]);
  const html = personalise(compiled.html, reader, 'html');
  for (const link of [0, 1, 2])
    expect(html).toContain(`href="https://letters.example.com/c/${link}"`);
  expect(html).toContain('href="mailto:a@example.com"');
  expect(html).toContain('href="https://letters.example.com/leave/x"');
  expect(html.match(/src="https:\/\/letters\.example\.com\/o\/x"/g)).toHaveLength(1);
  expect(html).not.toContain('https://example.com/go');
});

it('keeps typed text as it was typed and escapes what readers are called', async () => {
  const compiled = await compileLetter(letter, look);
  const html = personalise(compiled.html, reader, 'html');
  expect(html).toContain('{{ typed }} &amp; &lt;b&gt;marked&lt;/b&gt;');
  expect(html).toContain('News, Ada &lt;3');
  const text = personalise(compiled.text, reader, 'text');
  expect(text).toContain('{{ typed }} & <b>marked</b>');
  expect(text).toContain('News, Ada <3');
  expect(text).toContain('https://letters.example.com/leave/x');
  expect(personalise(compiled.subject, { ...reader, value: () => '' }, 'header')).toBe(
    'Hello friend',
  );
});

it('gives the same letter each time, but for the nonce', async () => {
  const once = await compileLetter(letter, look, () => 'aaaaaaaaaaaaaaaa');
  const again = await compileLetter(letter, look, () => 'bbbbbbbbbbbbbbbb');
  expect(personalise(again.html, reader, 'html')).toBe(personalise(once.html, reader, 'html'));
  expect(Buffer.byteLength(personalise(once.html, reader, 'html'))).toBeLessThan(90_000);
});

// Mail programs need tables with the attributes that pages have given up.
const validator = new HtmlValidate({
  extends: ['html-validate:standard'],
  rules: { 'no-deprecated-attr': 'off' },
});

it.each([{ name: 'A letter of every block', content: letter }, ...shippedTemplates])(
  'makes valid HTML of “$name”, in its language and for the dark, too',
  async ({ content }) => {
    const compiled = await compileLetter(content, { ...look, hiddenLink: true });
    const html = personalise(compiled.html, reader, 'html');
    const { results } = await validator.validateString(html);
    expect(
      results.flatMap(({ messages }) =>
        messages.map(({ ruleId, message, line }) => `${line}: ${ruleId} ${message}`),
      ),
    ).toEqual([]);
    expect(html).toMatch(/<html[^>]* lang="pt-PT"/);
    expect(html).toContain('<meta name="color-scheme" content="light dark">');
    // What the dark styles speak of is there.
    const classes = [
      ...new Set(
        [...html.matchAll(/class="([^"]+)"/g)].flatMap(([, names = '']) => names.split(' ')),
      ),
    ];
    expect(classes).toEqual(expect.arrayContaining(['ground', 'paper', 'ink', 'soft', 'line']));
  },
);

it('says in its text version what a linked picture shows, and the address behind mailto', async () => {
  const text = personalise((await compileLetter(letter, look)).text, reader, 'text');
  expect(text).toContain('A bed of "ferns" [https://letters.example.com/c/1]');
  expect(text).toContain('write [a@example.com]');
});
