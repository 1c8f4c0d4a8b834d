import fc from 'fast-check';
import {
  addressProblems,
  beginning,
  envelopeAddress,
  maskedAddress,
  builtInFields,
  displayName,
  listName,
  nameKey,
  oneLine,
  parseAddress,
  isEitherDay,
  parseDay,
  parseFieldValue,
  parsePeopleRef,
  searchKey,
  searchWords,
  tagKey,
  type Field,
  type PeopleName,
} from './index.js';

it('cuts a text between its signs', () => {
  expect([
    beginning('ab😀c', 2),
    beginning('ab😀c', 3),
    beginning('ab😀c', 4),
    beginning('ab', 9),
  ]).toEqual(['ab', 'ab', 'ab😀', 'ab']);
  fc.assert(
    fc.property(fc.string({ unit: 'grapheme' }), fc.nat(20), (text, most) => {
      const cut = beginning(text, most);
      expect(text.startsWith(cut)).toBe(true);
      expect([...cut].every((sign) => !/^[\ud800-\udfff]$/.test(sign))).toBe(true);
      expect(cut.length).toBeLessThanOrEqual(most);
    }),
  );
});

describe('search keys', () => {
  it.each([
    ['Łódź', 'lodz'],
    ['  Ünal   Çelik ', 'unal celik'],
    ['STRASSE Straße', 'strasse strasse'],
    ['Ødegaard', 'odegaard'],
    ['Þórður', 'thordur'],
    ['ﬁne', 'fine'],
    ['אבג', 'אבג'],
    ['👍🏽 ok', '👍🏽 ok'],
    ['', ''],
  ])('reads %j as %j', (text, key) => expect(searchKey(text)).toBe(key));

  it('stays the same when made again', () => {
    fc.assert(
      fc.property(
        fc.string({ unit: 'grapheme' }),
        (text) => searchKey(searchKey(text)) === searchKey(text),
      ),
    );
  });

  it('finds the same key for composed and decomposed letters, and for either case', () => {
    fc.assert(
      fc.property(fc.string({ unit: fc.constantFrom(...'aàéîõüçñÅØß') }), (text) => {
        expect(searchKey(text.normalize('NFD'))).toBe(searchKey(text.normalize('NFC')));
        expect(searchKey(text.toUpperCase())).toBe(searchKey(text.toLowerCase()));
      }),
    );
  });

  it.each([
    ['VIP', 'V.I.P.'],
    ['vip ', 'Vip'],
    ['hot-lead', 'Hot Lead'],
  ])('takes the tags %j and %j for one word', (a, b) => expect(tagKey(a)).toBe(tagKey(b)));

  it('searches short words by prefix and longer ones anywhere', () => {
    expect(searchWords('ma Ashlin', searchKey)).toEqual([
      { word: 'ma', anywhere: false },
      { word: 'ashlin', anywhere: true },
    ]);
    expect(searchWords('   ', searchKey)).toEqual([]);
  });
});

describe('names', () => {
  it('sorts by family name, then given name', () =>
    expect(nameKey({ given: 'Maribel', family: 'Núñez' })).toBe('nunez maribel'));
  it('falls back to the address where names are missing', () => {
    expect(displayName({ given: '', family: '' }, 'a@example.com')).toBe('a@example.com');
    expect(listName({ given: 'Ada', family: '' })).toBe('Ada');
    expect(displayName({ given: '', family: '' })).toBe('no name');
  });
  it('keeps one line of what was typed', () =>
    expect(oneLine(' a\r\nb\u0000\u2028c  d ')).toBe('a b c d'));
});

describe('addresses', () => {
  it.each([
    ['ada@example.com', 'ada@example.com'],
    [' Ada.B@Example.COM ', 'ada.b@example.com'],
    ['mailto:ada@example.com', 'ada@example.com'],
    ['Ada <ada@example.com>', 'ada@example.com'],
    ['ada+news@example.com', 'ada+news@example.com'],
    ['ada@müller.example', 'ada@xn--mller-kva.example'],
    ["o'dwyer@example.org", "o'dwyer@example.org"],
    ['JÖRG@example.com', 'jörg@example.com'],
    ['jo\u0308rg@example.com', 'jörg@example.com'],
    ['用户@例子.example', '用户@xn--fsqu00a.example'],
  ])('reads %j', (text, key) =>
    expect(parseAddress(text)).toMatchObject({ ok: true, value: { key } }),
  );

  it.each([
    ['', 'empty'],
    ['   ', 'empty'],
    ['ada', 'no-at'],
    ['@example.com', 'no-at'],
    ['a@b@example.com', 'several'],
    ['a@@example.com', 'doubled-at'],
    ['a@example.com, b@example.com', 'several'],
    ['a@example.com\r\nBcc: b@example.com', 'line-break'],
    ['a@example.com\u0000', 'line-break'],
    ['👍@example.com', 'local-part'],
    ['jö rg@example.com', 'local-part'],
    ['a\u200bb@example.com', 'local-part'],
    [`${'ö'.repeat(33)}@example.com`, 'too-long'],
    ['a b@example.com', 'local-part'],
    ['.a@example.com', 'local-part'],
    ['a..b@example.com', 'local-part'],
    ['"a"@example.com', 'local-part'],
    ['a@localhost', 'domain'],
    ['a@-x.example', 'domain'],
    ['a@127.0.0.1', 'domain'],
    ['a@exa mple.com', 'domain'],
    ['a@example.com/path', 'domain'],
    [`${'a'.repeat(65)}@example.com`, 'too-long'],
  ])('refuses %j as %s', (text, error) => {
    expect(parseAddress(text)).toEqual({ ok: false, error });
    expect(addressProblems[error as keyof typeof addressProblems]).not.toBe('');
  });

  it('never accepts a control sign, and its key reads as itself', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), fc.emailAddress(), (noise, address) => {
        for (const text of [noise, address, `${noise}@example.com`]) {
          const parsed = parseAddress(text);
          if (!parsed.ok) continue;
          // eslint-disable-next-line no-control-regex -- looking for just those
          expect(parsed.value.address).not.toMatch(/[\u0000-\u001f\u007f\s]/);
          expect(parseAddress(parsed.value.key)).toMatchObject({
            ok: true,
            value: { key: parsed.value.key },
          });
        }
      }),
    );
  });
});

describe('field values', () => {
  const field = (type: Field['type'], choices?: Field['choices']): Field => ({
    key: 'own_1',
    label: 'size',
    type,
    ...(choices ? { choices } : {}),
  });
  it.each<[Field['type'], string, unknown]>([
    ['text', ' a  b ', 'a b'],
    ['text', '  ', null],
    ['text', '\u0301', null],
    ['text', '=1+1', '=1+1'],
    ['number', '12.5', 12.5],
    ['number', '12,5', 12.5],
    ['number', '1 200', 1200],
    ['date', '2026-3-2', '2026-03-02'],
    ['date', '2.3.2026', '2026-03-02'],
    ['date', '2 March 2026', '2026-03-02'],
    ['yes or no', 'Yes', true],
    ['yes or no', '0', false],
  ])('reads %s from %j', (type, text, value) =>
    expect(parseFieldValue(field(type), text)).toEqual({ ok: true, value }),
  );

  it.each<[Field['type'], string]>([
    ['number', 'many'],
    ['number', '1e400'],
    ['date', '03/04/2026'],
    ['date', '2026-02-30'],
    ['yes or no', 'perhaps'],
    ['text', 'x'.repeat(1001)],
  ])('refuses %s from %j with a sentence', (type, text) =>
    expect(parseFieldValue(field(type), text)).toMatchObject({
      ok: false,
      error: expect.stringContaining('size'),
    }),
  );

  it('finds a choice by its label or key', () => {
    const permission = builtInFields({ owners: [] }).find(({ key }) => key === 'permission');
    if (!permission) throw new Error('no such field');
    expect(parseFieldValue(permission, 'Asked for it')).toEqual({ ok: true, value: 'asked' });
    expect(parseFieldValue(permission, 'customer')).toEqual({ ok: true, value: 'customer' });
    expect(parseFieldValue(permission, 'maybe').ok).toBe(false);
  });

  it('does not guess a day whose order could be either, and names both', () => {
    expect(parseDay('03/04/2026')).toBeUndefined();
    expect(isEitherDay('03/04/2026')).toBe(true);
    expect(parseFieldValue(field('date'), '03/04/2026')).toMatchObject({
      ok: false,
      error: expect.stringContaining('2026-04-03 or 2026-03-04'),
    });
    expect(parseFieldValue(field('date'), '03/04/2026', { order: 'month first' })).toEqual({
      ok: true,
      value: '2026-03-04',
    });
  });

  it.each([
    ['28/02/2027', '2027-02-28'],
    ['02/28/2027', '2027-02-28'],
    ['5-5-2020', '2020-05-05'],
    ['2027/2/8', '2027-02-08'],
    ['8. 2. 71', '1971-02-08'],
    ['08.02.26', '2026-02-08'],
    ['3rd March 2026', '2026-03-03'],
    ['3-Mar-26', '2026-03-03'],
    ['Mar 3, 2026', '2026-03-03'],
    ['2026-03-03 00:00:00', '2026-03-03'],
    ['2026-03-03T12:30:00.000Z', '2026-03-03'],
    ['31/02/2027', undefined],
    ['13/13/2027', undefined],
    ['32 May 2027', undefined],
    ['May 2027', undefined],
    ['n/a', undefined],
    ['', undefined],
  ])('a day written %j is %j', (text, day) => expect(parseDay(text)).toBe(day));

  it('reads every day in each of its forms, and nothing as another day', () =>
    fc.assert(
      fc.property(
        fc.date({ min: new Date('1940-01-01'), max: new Date('2039-12-31'), noInvalidDate: true }),
        (date) => {
          const day = date.toISOString().slice(0, 10);
          const [year = '', month = '', of = ''] = day.split('-');
          expect(parseDay(`${of}/${month}/${year}`, 'day first')).toBe(day);
          expect(parseDay(`${month}/${of}/${year.slice(2)}`, 'month first')).toBe(day);
          expect(parseDay(`${of}.${month}.${year}`)).toBe(day);
          const either = parseDay(`${of}/${month}/${year}`);
          if (either !== undefined) expect(either).toBe(day);
        },
      ),
    ));
});

describe('names of sets of people', () => {
  it('come back as they were', () => {
    expect(parsePeopleRef('campaign.12.opened' satisfies PeopleName)).toEqual({
      kind: 'campaign',
      id: 12,
      part: 'opened',
    });
    expect(parsePeopleRef('segment.4' satisfies PeopleName)).toEqual({
      kind: 'segment',
      id: 4,
      part: '',
    });
  });
  it.each([
    '',
    'campaign',
    'campaign.0',
    'campaign.x',
    'nobody.1',
    'Campaign.1',
    'campaign.1.',
    'a.1.b.c',
    "campaign.1.x'--",
  ])('refuses %j', (text) => expect(parsePeopleRef(text)).toBeUndefined());
});

describe('an address with letters beyond ASCII in its domain', () => {
  it.each([
    ['Ada@Bücher.example', 'Ada@xn--bcher-kva.example'],
    ['ada@example.com', 'ada@example.com'],
    ['O.Brien@EXAMPLE.com', 'O.Brien@example.com'],
    ['no address', 'no address'],
  ])('“%s” is in an envelope %s', (address, envelope) =>
    expect(envelopeAddress(address)).toBe(envelope),
  );

  it('is searched for in both forms', () => {
    expect(searchWords('ada@bücher.example', searchKey)).toEqual([
      { word: 'ada@bucher.example', anywhere: true, ascii: 'ada@xn--bcher-kva.example' },
    ]);
    expect(searchWords('Zoë bücher.example', searchKey)).toEqual([
      { word: 'zoe', anywhere: true, ascii: 'xn--zo-ija' },
      { word: 'bucher.example', anywhere: true, ascii: 'xn--bcher-kva.example' },
    ]);
    expect(searchWords('xn--bcher-kva.example', searchKey)).toEqual([
      { word: 'xn--bcher-kva.example', anywhere: true },
    ]);
  });
});

it('shows of an address its first sign and its domain to who only has a letter', () => {
  expect(
    ['ada@example.com', 'é@bücher.example', '👍x@example.com', 'x'].map(maskedAddress),
  ).toEqual(['a…@example.com', 'é…@bücher.example', '👍…@example.com', 'x…']);
});
