// Fields by their kinds: what is read, refused, shown and compared; and how a field is described and made another.
import fc from 'fast-check';
import {
  diallingOf,
  fieldProblem,
  fieldTypes,
  fitting,
  formatFieldValue,
  isText,
  madeTypes,
  parseFieldValue,
  readerValue,
  refitted,
  since,
  textKey,
  typesFor,
  writtenChoices,
  type Choice,
  type Field,
  type FieldType,
  type FieldValue,
} from '../index.js';

const choices: Choice[] = [
  { key: 'c1', label: 'Small' },
  { key: 'c2', label: 'Größe L' },
  { key: 'c3', label: 'old one', isGone: true },
];
const home = diallingOf('GB');
const field = (type: FieldType, more: Partial<Field> = {}): Field => ({
  key: 'own_1',
  label: 'size',
  type,
  choices,
  ...(home ? { dialling: home } : {}),
  currency: 'EUR',
  ...more,
});

describe('what is typed', () => {
  it.each<[FieldType, string, FieldValue]>([
    ['long text', ' a\r\nb\u0000\n\n\n\nc ', 'a\nb \n\nc'],
    ['number', '1,200', 1200],
    ['number', '1.200', 1.2],
    ['number', '1.200,5', 1200.5],
    ['number', '1,2', 1.2],
    ['number', '12,3456', 12.3456],
    ['money', '1200', 1200],
    ['money', '1,200', 1200],
    ['money', '1.200', 1200],
    ['money', '1.200,50', 1200.5],
    ['money', '1,200.50 €', 1200.5],
    ['money', '€ 12,5', 12.5],
    ['money', 'EUR -3', -3],
    ['money', '.5', 0.5],
    ['money', "1'000", 1000],
    ['choice', ' small', 'c1'],
    ['choice', 'grosse l', 'c2'],
    ['choice', 'c2', 'c2'],
    ['choices', 'Größe L; small,', 'c1,c2'],
    ['choices', ' ; ,', null],
    ['link', 'example.org/a b'.replace(' ', ''), 'https://example.org/ab'],
    ['link', 'HTTP://example.org', 'HTTP://example.org'],
    ['link', 'example.org:8080/x', 'https://example.org:8080/x'],
    ['phone', '01632 960123', '01632 960123'],
    ['phone', '+44 (0) 1632 960 123', '01632 960123'],
    ['phone', '0049 351/2345678', '+49 351 2345678'],
    ['phones', '01632 960123; +49 351 2345678\n01632 960123', '01632 960123\n+49 351 2345678'],
    ['addresses', 'Ada@Example.com, b@example.org', 'Ada@Example.com\nb@example.org'],
  ])('as %s, %j is %j', (type, text, value) =>
    expect(parseFieldValue(field(type), text)).toEqual({ ok: true, value }),
  );

  it.each<[FieldType, string]>([
    ['long text', 'x'.repeat(10_001)],
    ['money', 'a lot'],
    ['money', '12.345,678,9.x'],
    ['money', '1.234567'],
    ['money', '12 EUR and more'],
    ['money', '-'],
    ['money', '99999999999999'],
    ['choice', 'old one'],
    ['choice', 'medium'],
    ['choices', 'small, medium'],
    ['link', 'javascript:alert(1)'],
    ['link', 'mailto:a@example.org'],
    ['link', 'no where'],
    ['link', 'localhost'],
    ['computed', '12'],
    ['phone', 'by the door'],
    ['phone', '12'],
    ['phone', '1'.repeat(100)],
    ['phones', '01632 960123; x'],
    ['addresses', 'a@example.org; nobody'],
    ['addresses', Array.from({ length: 11 }, (_, at) => `a${at}@example.org`).join(' ')],
  ])('as %s, %j is refused with the field’s name', (type, text) => {
    const read = parseFieldValue(field(type), text);
    expect(read).toMatchObject({ ok: false, error: expect.stringMatching(/^size /) });
    if (!read.ok) expect(read.error.length).toBeLessThan(300);
  });

  it('an office without a country keeps a number as it is written, unless it says its country’s code', () => {
    const { dialling: _, ...abroad } = field('phone');
    expect(parseFieldValue(abroad, '0351 / 23 45')).toEqual({ ok: true, value: '0351 / 23 45' });
    expect(parseFieldValue(abroad, '+49351 2345678')).toEqual({
      ok: true,
      value: '+49 351 2345678',
    });
    expect(parseFieldValue(abroad, 'abc').ok).toBe(false);
  });

  it('amounts have the digits of their currency', () => {
    expect(parseFieldValue(field('money', { currency: 'JPY' }), '1200')).toEqual({
      ok: true,
      value: 1200,
    });
    expect(parseFieldValue(field('money', { currency: 'JPY' }), '12.5').ok).toBe(false);
    expect(parseFieldValue(field('money', { currency: 'KWD' }), '1.125')).toEqual({
      ok: true,
      value: 1.125,
    });
  });

  it('an amount of any currency is read as it is written, below nothing, too', () => {
    for (const currency of Intl.supportedValuesOf('currency')) {
      const one = field('money', { currency });
      for (const amount of [1234, -1234, -7, 0])
        expect([currency, parseFieldValue(one, formatFieldValue(one, amount))]).toEqual([
          currency,
          { ok: true, value: amount },
        ]);
    }
  });

  it('never throws, and what was read is read again as the same', () => {
    const text = fc.oneof(
      fc.string({ unit: 'grapheme' }),
      fc.string(),
      fc.stringMatching(/^[\d.,+/ €x;-]{0,20}$/),
      fc.constantFrom(
        'small',
        'Größe L, small',
        'a@example.org',
        '01632 960123',
        'example.org',
        '2026-03-02',
        'yes',
        '-0',
      ),
    );
    fc.assert(
      fc.property(fc.constantFrom(...fieldTypes), text, (type, typed) => {
        const one = field(type);
        const read = parseFieldValue(one, typed);
        if (!read.ok || read.value === null) return;
        expect(fitting(one, read.value)).toBe(read.value);
        if (isText(one)) expect(textKey(one, String(read.value))).not.toBe('');
        expect(parseFieldValue(one, formatFieldValue(one, read.value))).toEqual(read);
      }),
      { numRuns: 2000 },
    );
  });

  it.each(fieldTypes)('takes no longer than it is long: %s', (type) => {
    for (const sign of ['1', 'a', ',', '@', '+', '.', ' ', '€', ':', '/']) {
      const began = performance.now();
      parseFieldValue(field(type), sign.repeat(200_000));
      expect(performance.now() - began).toBeLessThan(1500);
    }
  });
});

describe('what is kept', () => {
  it('counts only where it fits', () => {
    expect(fitting(field('number'), '12')).toBeNull();
    expect(fitting(field('date'), '2026-02-30')).toBeNull();
    expect(fitting(field('date'), '2026-02-28')).toBe('2026-02-28');
    expect(fitting(field('yes or no'), 'yes')).toBeNull();
    expect(readerValue(field('number'), 'many', 'en')).toBe('');
  });

  it('is read in the language of the letter', () => {
    expect(readerValue(field('money'), 1200.5, 'de')).toBe('1.200,50\u00a0€');
    expect(readerValue(field('date'), '2026-03-02', 'en')).toBe('March 2, 2026');
    expect(readerValue(field('choices'), 'c2,c1', 'en')).toBe('Small, Größe L');
  });

  it.each([
    ['+44 1632 960123', '441632960123'],
    ['01632 960123', '441632960123'],
    ['0044 1632', '441632'],
    ['01632', '441632'],
    ['960123', '960123'],
    ['01632 960123 x4', '441632960123'],
  ])('compares the telephone number %s as %s', (text, key) =>
    expect(textKey(field('phone'), text)).toBe(key),
  );
});

describe('years and days since', () => {
  it.each([
    ['2000-03-10', 26],
    ['2000-03-11', 25],
    ['2026-03-10', 0],
    ['2026-03-11', -1],
    ['2024-02-29', 2],
  ])('%s was %d years ago on 10 March 2026', (day, years) =>
    expect(since('years', day, '2026-03-10')).toBe(years),
  );
  it('counts days over leap years and the change of the clock', () => {
    expect(since('days', '2024-02-28', '2024-03-01')).toBe(2);
    expect(since('days', '2026-03-28', '2026-03-30')).toBe(2);
    expect(since('days', '2026-03-30', '2026-03-28')).toBe(-2);
  });
});

describe('choices as they are written', () => {
  const labels = (written: readonly { key?: string; label: string }[]) =>
    writtenChoices(choices, written);
  it('keep their key when they are renamed, moved and brought back', () => {
    expect(labels([{ key: 'c2', label: 'Large' }, { label: 'OLD ONE' }, { label: 'new' }])).toEqual(
      {
        ok: true,
        value: [
          { key: 'c2', label: 'Large' },
          { key: 'c3', label: 'OLD ONE' },
          { key: 'c4', label: 'new' },
          { key: 'c1', label: 'Small', isGone: true },
        ],
      },
    );
  });
  it('may change their names with one another', () =>
    expect(
      labels([
        { key: 'c1', label: 'Größe L' },
        { key: 'c2', label: 'Small' },
      ]),
    ).toMatchObject({
      value: [
        { key: 'c1', label: 'Größe L' },
        { key: 'c2', label: 'Small' },
        { key: 'c3', isGone: true },
      ],
    }));
  it.each([
    [[{ label: ' ' }]],
    [[{ label: 'a;b' }]],
    [[{ label: 'a' }, { label: 'Á' }]],
    [[{ label: 'x'.repeat(61) }]],
  ])('%j are refused', (written) => expect(labels(written).ok).toBe(false));
});

describe('a field described', () => {
  const born: Field = { key: 'own_2', label: 'born', type: 'date' };
  it.each<[string, Partial<Field>, string | undefined]>([
    ['text', {}, undefined],
    ['text', { label: ' BÓRN' }, 'label'],
    ['phone', {}, 'type'],
    ['text', { key: 'stage' }, 'type'],
    ['choice', { key: 'stage', choices: [] }, undefined],
    ['money', { currency: 'XYZ' }, 'currency'],
    ['money', {}, undefined],
    ['computed', {}, 'since'],
    ['computed', { since: { day: 'own_2', unit: 'years' } }, undefined],
    ['computed', { since: { day: 'own_9', unit: 'years' } }, 'since'],
    ['computed', { since: { day: 'own_2', unit: 'years' }, isRequired: true }, 'standard'],
    ['choice', { choices: choices.slice(2) }, 'choices'],
    ['number', { standard: 'many' }, 'standard'],
    ['choice', { standard: 'small' }, undefined],
  ])('as %s with %j is objected to at %s', (type, more, at) =>
    expect(fieldProblem(field(type as FieldType, more), [born])?.at).toBe(at),
  );

  it('goes to every kind but itself and what is computed, and values go along or are named', () => {
    expect(typesFor('text')).toEqual(
      madeTypes.filter((type) => type !== 'text' && type !== 'computed'),
    );
    expect(typesFor('computed')).toEqual([]);
    expect(refitted(field('text'), field('number'), '1 200')).toBe(1200);
    expect(refitted(field('text'), field('number'), 'many')).toBeUndefined();
    expect(refitted(field('choices'), field('text'), 'c1,c2')).toBe('Small, Größe L');
    expect(refitted(field('yes or no'), field('text'), true)).toBe('yes');
    expect(refitted(field('money'), field('number'), 1200.5)).toBe(1200.5);
    expect(refitted(field('money'), field('text'), 1200.5)).toBe('€1,200.50');
  });
});
