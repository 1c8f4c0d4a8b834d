// Messages written in pieces read as if they had been written whole.
import { idOf } from '@palabra/core/kernel';
import type { Field } from '@palabra/core/contacts';
import type { CompiledLetter, Part } from '@palabra/core/letters';
import fc from 'fast-check';
import PostalMime from 'postal-mime';
import type { ContactRow } from '../contacts/index.js';
import type { Keys } from '../platform/keys.js';
import { messagesOf, type Sending } from './message.js';

const keys = {
  sign: (purpose: string, { contact, link }: { contact: number; link: number }) =>
    `${purpose}-${contact}-${link}`,
} as unknown as Keys;
const fields: ReadonlyMap<string, Field> = new Map([
  ['given_name', { key: 'given_name', label: 'First name', type: 'text' } as unknown as Field],
]);
const contact = (given: Partial<ContactRow>): ContactRow =>
  ({ id: 7, givenName: '', familyName: '', fields: {}, keys: {}, ...given }) as ContactRow;
const letter = (given: Partial<CompiledLetter>): CompiledLetter => ({
  v: 1,
  subject: ['News'],
  html: ['<p>Hello</p>'],
  text: ['Hello'],
  links: [],
  ...given,
});
const sending = (compiled: CompiledLetter, given: Partial<Sending> = {}): Sending => ({
  campaign: idOf(3),
  compiled,
  senderName: 'Quillwater',
  senderAddress: 'news@quillwater.test',
  replyTo: '',
  officeName: 'Quillwater',
  language: 'en-GB',
  publicUrl: 'http://letters.example.com',
  bounceDomain: 'bounces.example.com',
  ...given,
});
const name: Part = { slot: 'field', field: 'given_name', fallback: 'friend' };
const withoutEnd = (text: string): string =>
  text.endsWith('\n') ? withoutEnd(text.slice(0, -1)) : text;
const lf = (text: string | undefined): string => withoutEnd((text ?? '').replace(/\r\n?/g, '\n'));

it('reads back as what was joined, in lines that no server has to cut', async () => {
  const someText = fc
    .array(
      fc.oneof(
        fc.string({ unit: 'grapheme' }),
        fc.constantFrom(
          '\n',
          '\r\n',
          ' \n',
          '=',
          '.',
          '\n.\n',
          'ä',
          '🌿',
          'x'.repeat(90),
          ' ',
          '\t',
          '--',
          '=_',
          ' '.repeat(80),
          'ß'.repeat(40),
        ),
      ),
      { maxLength: 12 },
    )
    .map((texts) => texts.join(''));
  await fc.assert(
    fc.asyncProperty(
      fc.array(
        fc.oneof(someText, fc.constant(name), fc.constant<Part>({ slot: 'link', link: 2 })),
        { maxLength: 8 },
      ),
      someText,
      async (parts, value) => {
        const mail = messagesOf(
          sending(letter({ text: parts })),
          fields,
          keys,
        )(contact({ givenName: value }), 'ada@example.com');
        const raw = mail.raw.toString();
        for (const line of raw.slice(raw.indexOf('\r\n\r\n')).split('\r\n'))
          expect(line.length).toBeLessThanOrEqual(76);
        // eslint-disable-next-line no-control-regex -- that is the claim
        expect(raw).not.toMatch(/[^\u0000-\u007f]/);
        const whole = parts
          .map((part) =>
            typeof part === 'string'
              ? part
              : part.slot === 'field'
                ? value || 'friend'
                : 'http://letters.example.com/c/click-7-2',
          )
          .join('');
        const read = await PostalMime.parse(mail.raw);
        expect(lf(read.text)).toBe(lf(whole.replace(/\r\n?/g, '\n')));
        expect(read.html?.trim()).toBe('<p>Hello</p>');
      },
    ),
    { numRuns: 150 },
  );
});

it('keeps every line of a header within what mail allows, and the domain of an envelope in ASCII', async () => {
  const long = 'W'.repeat(1000);
  const compose = messagesOf(
    sending(letter({ subject: ['For ', name] }), {
      bounceDomain: undefined,
      senderAddress: 'news@gärten.example',
    }),
    fields,
    keys,
  );
  for (const given of [long, 'Ü'.repeat(600), '👍🏽'.repeat(300), `${long} ${long}`]) {
    const { raw, to, from } = compose(
      contact({ givenName: given, familyName: given }),
      'Ada@Bücher.example',
    );
    expect([to, from]).toEqual(['Ada@xn--bcher-kva.example', 'news@xn--grten-gra.example']);
    const head = raw.toString().split('\r\n\r\n')[0] ?? '';
    for (const line of head.split('\r\n')) expect(line.length).toBeLessThanOrEqual(998);
    const read = await PostalMime.parse(raw);
    expect(read.to?.[0]?.name).toBe(`${[...`${given} ${given}`].slice(0, 99).join('')}…`);
    expect(read.subject?.startsWith(`For ${[...given].slice(0, 50).join('')}`)).toBe(true);
  }
});

it('escapes a value for where it stands', async () => {
  const compose = messagesOf(
    sending(letter({ subject: ['For ', name], html: ['<p>', name, '</p>'], text: ['To ', name] })),
    fields,
    keys,
  );
  const read = await PostalMime.parse(
    compose(
      contact({ givenName: '<b>A&B</b>\r\nBcc: x@example.com', familyName: 'Wren' }),
      'ada@example.com',
    ).raw,
  );
  expect(read.subject).toBe('For <b>A&B</b> Bcc: x@example.com');
  expect(read.bcc).toBeUndefined();
  expect(read.to).toMatchObject([{ address: 'ada@example.com' }]);
  expect(read.html).toContain('<p>&lt;b&gt;A&amp;B&lt;/b&gt;');
});

it('names the way out and the letter it is', async () => {
  const compose = messagesOf(
    sending(letter({ subject: ['Grüße 🌿'] }), { replyTo: 'office@quillwater.test' }),
    fields,
    keys,
  );
  const mail = compose(contact({ givenName: 'Żofia', familyName: 'Łęcka' }), 'zofia@example.com');
  const read = await PostalMime.parse(mail.raw);
  const header = (key: string): string | undefined =>
    read.headers.find((one) => one.key === key)?.value;
  expect(mail).toMatchObject({
    from: 'bounce+bounce-7-0@bounces.example.com',
    to: 'zofia@example.com',
  });
  expect(read).toMatchObject({
    subject: 'Grüße 🌿',
    messageId: '<message-7-0@quillwater.test>',
    from: { name: 'Quillwater', address: 'news@quillwater.test' },
    to: [{ name: 'Żofia Łęcka', address: 'zofia@example.com' }],
    replyTo: [{ address: 'office@quillwater.test' }],
  });
  expect(header('list-unsubscribe')).toBe(
    '<http://letters.example.com/leave/leave-7-0>, <mailto:leave+leave-7-0@bounces.example.com>',
  );
  expect(header('list-unsubscribe-post')).toBe('List-Unsubscribe=One-Click');
  expect(header('list-id')).toBe('<letters.quillwater.test>');
  expect(header('precedence')).toBe('bulk');
  expect(Date.parse(read.date ?? '')).toBeGreaterThan(Date.now() - 60_000);
});
