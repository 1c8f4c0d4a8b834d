import fc from 'fast-check';
import {
  changeBlock,
  checkLetter,
  emptyBlock,
  emptyLetter,
  insertBlock,
  isSafeHref,
  lineText,
  moveBlock,
  paragraph,
  parseLetter,
  personalise,
  removeBlock,
  richTextHtml,
  Sentinels,
  shippedTemplates,
  splitAtSentinels,
  subjectSource,
  toMjml,
  usedFields,
  type Block,
  type LetterContent,
  type ReaderCopy,
} from './index.js';

const nonce = 'abcdefghijklmnop';
const look = {
  officeName: 'Garden & Co',
  postalAddress: '3 Orchard Walk\n<Quillwater>',
  language: 'en',
  baseUrl: 'https://letters.example.com',
};
const letterOf = (...blocks: Block[]): LetterContent => ({
  v: 1,
  subject: ['News'],
  preview: ['What happened'],
  blocks: [...blocks, emptyBlock('footer', 'foot')],
});
const reader: ReaderCopy = {
  value: (field) => ({ given_name: '<b>Ada</b>', town: 'x\r\nBcc: y@example.com' })[field] ?? '',
  link: (link) => `https://t.example.com/c/${link}`,
  leave: 'https://t.example.com/leave/x',
  open: 'https://t.example.com/o/x',
};

describe('reading a letter', () => {
  it('takes all shipped templates and an empty one', () => {
    for (const { content } of shippedTemplates)
      expect(parseLetter(JSON.parse(JSON.stringify(content)))).toEqual({
        ok: true,
        value: content,
      });
    expect(parseLetter(emptyLetter('foot')).ok).toBe(true);
  });

  const text = (node: unknown) => ({
    ...letterOf(),
    blocks: [
      { id: 't', kind: 'text', text: { type: 'doc', content: [node] } },
      emptyBlock('footer', 'foot'),
    ],
  });
  it.each<[string, unknown, RegExp]>([
    ['nothing', null, /version/],
    [
      'a script link',
      letterOf({ id: 'b', kind: 'button', label: ['x'], href: 'javascript:alert(1)' }),
      /must begin with/,
    ],
    [
      'a link with a password',
      letterOf({ id: 'b', kind: 'button', label: ['x'], href: 'https://a:b@example.com' }),
      /must begin with/,
    ],
    [
      'a script link in a text',
      text({
        type: 'paragraph',
        content: [
          {
            type: 'text',
            text: 'x',
            marks: [{ type: 'link', attrs: { href: 'data:text/html,x' } }],
          },
        ],
      }),
      /must begin with/,
    ],
    ['an unknown node', text({ type: 'iframe' }), /can't be used/],
    [
      'an unknown mark',
      text({
        type: 'paragraph',
        content: [{ type: 'text', text: 'x', marks: [{ type: 'code' }] }],
      }),
      /can't be used/,
    ],
    [
      'a picture that was not uploaded',
      letterOf({
        id: 'p',
        kind: 'picture',
        file: '../secret',
        width: 1,
        height: 1,
        alt: '',
        href: '',
      }),
      /not one that was uploaded/,
    ],
    ['no footer', { ...letterOf(), blocks: [] }, /ends with its footer/],
    [
      'a footer in the middle',
      { ...letterOf(), blocks: [emptyBlock('footer', 'a'), emptyBlock('divider', 'b')] },
      /ends with its footer/,
    ],
    [
      'two blocks of one id',
      letterOf(emptyBlock('divider', 'a'), emptyBlock('divider', 'a')),
      /same id/,
    ],
    [
      'an unknown block',
      { ...letterOf(), blocks: [{ id: 'x', kind: 'video' }, emptyBlock('footer', 'f')] },
      /not a kind of block/,
    ],
    [
      'a field of no name',
      { ...letterOf(), subject: [{ field: '{{x}}', fallback: '' }] },
      /without a name/,
    ],
  ])('refuses %s', (_, raw, message) =>
    expect(parseLetter(raw)).toMatchObject({ ok: false, error: expect.stringMatching(message) }),
  );

  it('never throws, whatever comes', () => {
    fc.assert(fc.property(fc.anything(), (raw) => typeof parseLetter(raw).ok === 'boolean'));
    fc.assert(
      fc.property(
        fc.jsonValue(),
        (raw) =>
          typeof parseLetter({ v: 1, subject: [], preview: [], blocks: raw }).ok === 'boolean',
      ),
    );
  });

  it.each([
    ['https://example.com/a?b=c#d', true],
    ['mailto:a@example.com', true],
    ['tel:+351210000000', true],
    ['', false],
    ['example.com', false],
    ['JaVaScRiPt:alert(1)', false],
    ['https://', false],
  ])('%j is a link: %s', (href, safe) => expect(isSafeHref(href)).toBe(safe));
});

describe('editing', () => {
  const letter = letterOf(
    emptyBlock('heading', 'a'),
    emptyBlock('text', 'b'),
    emptyBlock('divider', 'c'),
  );
  const ids = ({ blocks }: LetterContent): string => blocks.map(({ id }) => id).join(' ');
  it('moves blocks, never past the footer or the top', () => {
    expect(ids(moveBlock(letter, 'a', 1))).toBe('b a c foot');
    expect(ids(moveBlock(letter, 'c', -2))).toBe('c a b foot');
    expect(moveBlock(letter, 'c', 1)).toBe(letter);
    expect(moveBlock(letter, 'a', -1)).toBe(letter);
    expect(moveBlock(letter, 'foot', -1)).toBe(letter);
  });
  it('puts in above the footer at the lowest, and keeps the footer', () => {
    expect(ids(insertBlock(letter, emptyBlock('divider', 'd'), 99))).toBe('a b c d foot');
    expect(ids(removeBlock(letter, 'foot'))).toBe('a b c foot');
    expect(ids(removeBlock(letter, 'b'))).toBe('a c foot');
    expect(changeBlock(letter, { id: 'a', kind: 'heading', text: ['x'] }).blocks[0]).toEqual({
      id: 'a',
      kind: 'heading',
      text: ['x'],
    });
  });
  it('stays a letter whatever is moved', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.tuple(fc.constantFrom('a', 'b', 'c', 'foot', 'none'), fc.integer({ min: -5, max: 5 })),
        ),
        (moves) => {
          const moved = moves.reduce((one, [id, by]) => moveBlock(one, id, by), letter);
          expect(parseLetter(JSON.parse(JSON.stringify(moved))).ok).toBe(true);
          expect([...moved.blocks].map(({ id }) => id).sort()).toEqual(['a', 'b', 'c', 'foot']);
        },
      ),
    );
  });
});

describe('rendering', () => {
  it('escapes what people typed and leaves typed braces alone', () => {
    const sentinels = new Sentinels(nonce);
    const mjml = toMjml(
      letterOf({
        id: 't',
        kind: 'text',
        text: { type: 'doc', content: [paragraph('<script>{{ contact.name }}</script> & "x"')] },
      }),
      sentinels,
      look,
    );
    expect(mjml).toContain('&lt;script&gt;{{ contact.name }}&lt;/script&gt; &amp; &quot;x&quot;');
    expect(mjml).toContain('Garden &amp; Co');
    expect(mjml).toContain('&lt;Quillwater&gt;');
  });
  it('writes marks, lists and line breaks', () => {
    const html = richTextHtml(
      {
        type: 'doc',
        content: [
          {
            type: 'paragraph',
            content: [
              {
                type: 'text',
                text: 'a',
                marks: [
                  { type: 'bold' },
                  { type: 'link', attrs: { href: 'https://example.com/?a=1&b=2' } },
                ],
              },
              { type: 'hardBreak' },
              { type: 'text', text: 'b', marks: [{ type: 'italic' }] },
            ],
          },
          { type: 'bulletList', content: [{ type: 'listItem', content: [paragraph('one')] }] },
        ],
      },
      new Sentinels(nonce),
    );
    expect(html).toContain(
      '<a href="https://example.com/?a=1&amp;b=2" style="color:#2B6B55"><strong>a</strong></a><br /><em>b</em>',
    );
    expect(html).toMatch(/<ul[^>]*><li><p[^>]*>one<\/p><\/li><\/ul>/);
  });

  const withName = letterOf({
    id: 't',
    kind: 'text',
    text: {
      type: 'doc',
      content: [paragraph('Dear ', { field: 'given_name', fallback: 'friend' }, '!')],
    },
  });
  it('fills each slot for where it stands', () => {
    const sentinels = new Sentinels(nonce);
    const parts = splitAtSentinels(toMjml(withName, sentinels, look), nonce, sentinels.slots);
    expect(personalise(parts, reader, 'html')).toContain('Dear &lt;b&gt;Ada&lt;/b&gt;!');
    expect(personalise(parts, reader, 'text')).toContain('Dear <b>Ada</b>!');
    expect(personalise(parts, { ...reader, value: () => '' }, 'html')).toContain('Dear friend!');
    expect(personalise(parts, reader, 'html')).toContain('href="https://t.example.com/leave/x"');
  });
  it('never lets a value break a header', () => {
    const sentinels = new Sentinels(nonce);
    const parts = splitAtSentinels(
      subjectSource(
        { ...withName, subject: ['Hello ', { field: 'town', fallback: '' }] },
        sentinels,
      ),
      nonce,
      sentinels.slots,
    );
    expect(personalise(parts, reader, 'header')).toBe('Hello x Bcc: y@example.com');
  });
  it('joins to what was split, whatever the text', () => {
    fc.assert(
      fc.property(fc.array(fc.oneof(fc.string(), fc.constant(0))), (pieces) => {
        const sentinels = new Sentinels(nonce);
        const source = pieces
          .map((piece) =>
            piece === 0
              ? sentinels.put({ slot: 'field', field: 'given_name', fallback: '' })
              : piece,
          )
          .join('');
        const joined = personalise(
          splitAtSentinels(source, nonce, sentinels.slots),
          { ...reader, value: () => '\u2603' },
          'text',
        );
        expect(joined).toBe(pieces.map((piece) => (piece === 0 ? '\u2603' : piece)).join(''));
      }),
    );
  });
  it('knows which fields a letter uses, each once', () => {
    const part = { slot: 'field', field: 'given_name', fallback: '' } as const;
    expect(
      usedFields({
        v: 1,
        subject: [part],
        html: ['x', part, { slot: 'leave' }],
        text: [],
        links: [],
      }),
    ).toEqual(['given_name']);
  });
  it('needs a nonce that occurs nowhere else', () =>
    expect(() => new Sentinels('short')).toThrow());
});

describe('checks', () => {
  const ok: LetterContent = {
    ...letterOf({ id: 't', kind: 'text', text: { type: 'doc', content: [paragraph('Dear all')] } }),
    preview: ['What happened here and what comes next week.'],
  };
  const check = (content: LetterContent, fields = ['given_name']) =>
    checkLetter({
      content,
      officeName: 'G',
      postalAddress: 'Walk 3',
      fields: fields.map((key) => ({ key, label: key })),
    }).filter(({ level }) => level !== 'passed');
  it('pass a finished letter', () => expect(check(ok)).toEqual([]));
  it.each<[string, LetterContent, string, string | undefined]>([
    ['no subject', { ...ok, subject: [' '] }, 'stop', undefined],
    ['no preview line', { ...ok, preview: [] }, 'caution', undefined],
    ['a short preview line', { ...ok, preview: ['short'] }, 'caution', undefined],
    ['a long preview line', { ...ok, preview: ['x'.repeat(141)] }, 'caution', undefined],
    ['nothing to read', letterOf(), 'stop', undefined],
    [
      'a button to nowhere',
      insertBlock(ok, { id: 'b', kind: 'button', label: ['Go'], href: '' }, 0),
      'stop',
      'b',
    ],
    [
      'a picture without alt text',
      insertBlock(
        ok,
        { id: 'p', kind: 'picture', file: 'a'.repeat(64), width: 9, height: 9, alt: ' ', href: '' },
        0,
      ),
      'caution',
      'p',
    ],
    [
      'a picture block without picture',
      insertBlock(ok, emptyBlock('picture', 'p'), 0),
      'stop',
      'p',
    ],
    [
      'a text link to nowhere',
      insertBlock(
        ok,
        {
          id: 'l',
          kind: 'text',
          text: {
            type: 'doc',
            content: [
              {
                type: 'paragraph',
                content: [
                  { type: 'text', text: 'here', marks: [{ type: 'link', attrs: { href: '' } }] },
                ],
              },
            ],
          },
        },
        0,
      ),
      'stop',
      'l',
    ],
    [
      'a field that is gone',
      { ...ok, subject: ['x', { field: 'own_9', fallback: '' }] },
      'stop',
      undefined,
    ],
  ])('%s', (_, content, level, block) => {
    const found = check(content);
    expect(found.map((one) => one.level)).toContain(level);
    if (block) expect(found.some(({ place }) => place?.block === block)).toBe(true);
  });
  it('count signs, not code units', () => expect(lineText(['👍'.repeat(40)]).length).toBe(80));
});
