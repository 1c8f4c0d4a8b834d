// What single cells say: whole names, countries, numbers of a spreadsheet, addresses with a slip of the pen.
import fc from 'fast-check';
import { isDay } from '../office/index.js';
import { parseAddress, searchKey } from '../contacts/index.js';
import {
  cellFormat,
  countryCode,
  countryText,
  guessedType,
  likelyAddress,
  shownNumber,
  splitName,
  type CellFormat,
} from './index.js';

describe('a whole name', () => {
  it.each([
    ['Ona Brightwell', 'Ona', 'Brightwell'],
    ['  Ona   Maria  Brightwell ', 'Ona Maria', 'Brightwell'],
    ['Brightwell, Ona Maria', 'Ona Maria', 'Brightwell'],
    ['Ona van der Meer', 'Ona', 'van der Meer'],
    ['Juan de la Cruz', 'Juan', 'de la Cruz'],
    ['Teodor Ashgrove Jr.', 'Teodor', 'Ashgrove Jr.'],
    ['Ashgrove, Jr.', 'Ashgrove,', 'Jr.'],
    ['Ona', 'Ona', ''],
    ['Van Morrow', 'Van', 'Morrow'],
    ['李小龍', '李小龍', ''],
    ['', '', ''],
  ])('%j is %j and %j', (text, given, family) =>
    expect(splitName(text)).toEqual({ given, family }),
  );
  it('loses no letter', () =>
    fc.assert(
      fc.property(fc.string({ maxLength: 60 }), (text) => {
        const { given, family } = splitName(text);
        const letters = (one: string): string =>
          [...one.replace(/[\s,\p{C}]/gu, '')].sort().join('');
        expect(letters(given + family)).toBe(letters(text.normalize('NFC')));
      }),
    ));
});

it.each([
  ['DE', 'DE', 'Germany'],
  ['uk', 'GB', 'United Kingdom'],
  ['U.S.A.', 'US', 'United States'],
  ['Deutschland', 'DE', 'Deutschland'],
  ['España', 'ES', 'España'],
  ['espana', 'ES', 'espana'],
  ['Tarnshire', undefined, 'Tarnshire'],
  ['', undefined, ''],
  ['QQ', undefined, 'QQ'],
])('the country of %j', (text, code, shown) => {
  expect(countryCode(text)).toBe(code);
  expect(countryText(text)).toBe(shown);
});

describe('a number of a spreadsheet', () => {
  it.each<[string, CellFormat, string]>([
    ['3', 'plain', '3'],
    ['0.30000000000000004', 'plain', '0.3'],
    ['1.2345678901234567E+19', 'plain', '12345678901234600000'],
    ['441632960123', 'plain', '441632960123'],
    ['7', { digits: 5 }, '00007'],
    ['123456', { digits: 5 }, '123456'],
    // 61 is 1 March 1900: the day before never was.
    ['61', 'day', '1900-03-01'],
    ['59', 'day', '1900-02-28'],
    ['1', 'day', '1900-01-01'],
    ['45000', 'day', '2023-03-15'],
    ['45000.99999', 'day', '2023-03-15'],
    ['45000.5', 'moment', '2023-03-15 12:00'],
    ['45000', 'moment', '2023-03-15'],
    ['0.75', 'clock', '18:00'],
    ['-3', 'day', '-3'],
    ['99999999', 'day', '99999999'],
    ['word', 'day', 'word'],
    ['', 'plain', ''],
  ])('%s as %j is %s', (text, format, shown) => expect(shownNumber(text, format)).toBe(shown));
  it('counts from 1904 where the file says so', () =>
    expect(shownNumber('0', 'day', true)).toBe('1904-01-01'));
  it.each<[number, string | undefined, CellFormat]>([
    [0, undefined, 'plain'],
    [14, undefined, 'day'],
    [22, undefined, 'moment'],
    [20, undefined, 'clock'],
    [164, 'dd/mm/yyyy', 'day'],
    [165, '[$-407]d. mmmm yyyy;@', 'day'],
    [166, 'yyyy\\-mm\\-dd hh:mm', 'moment'],
    [167, '[h]:mm:ss', 'clock'],
    [168, '00000', { digits: 5 }],
    [169, '#,##0.00\\ [$€-1]', 'plain'],
    [170, '0 "days"', 'plain'],
    [171, '[Red]General', 'plain'],
    [172, '"[year]" 0', 'plain'],
  ])('format %d, %j, is %j', (id, code, format) => expect(cellFormat(id, code)).toEqual(format));
  it('shows days that are days', () =>
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 2_958_465 }), fc.boolean(), (serial, old) => {
        const shown = shownNumber(String(serial), 'day', old);
        // 1904 and on, the last days lie beyond the year 9999.
        if (shown.length === 10) expect(isDay(shown)).toBe(true);
      }),
    ));
});

it.each([
  ['aenne@@example.org', 'aenne@example.org'],
  ['ona @ example.org', 'ona@example.org'],
  ['ona[at]example.org', 'ona@example.org'],
  ['ona (AT) example.org', 'ona@example.org'],
  ['ona@example,org', 'ona@example.org'],
  ['ona@example..org.', 'ona@example.org'],
  ['ona', undefined],
  ['n/a', undefined],
])('of %j was meant %j', (text, meant) => expect(likelyAddress(text)).toBe(meant));

it('guesses only addresses', () =>
  fc.assert(
    fc.property(fc.string({ maxLength: 400 }), (text) => {
      const likely = likelyAddress(text);
      if (likely !== undefined) expect(parseAddress(likely).ok).toBe(true);
    }),
  ));

it.each([
  [['2026-03-02', '', '04/05/1980'], 'date'],
  [['yes', 'No'], 'yes or no'],
  [['1', '20', '3.5'], 'number'],
  [['007', '12'], 'text'],
  [['https://example.org/a'], 'link'],
  [['red', 'x'.repeat(200)], 'long text'],
  [['red', '1'], 'text'],
  [['', ''], 'text'],
])('cells such as %j make a field of the kind %s', (cells, type) =>
  expect(guessedType(cells)).toBe(type),
);

it('knows a country by its code and by its name', () => {
  for (const code of ['FR', 'NL', 'JP', 'BR']) {
    const name = countryText(code);
    expect(searchKey(name)).not.toBe(searchKey(code));
    expect(countryCode(name)).toBe(code);
  }
});
