import { gazetteerLine } from './index.js';

/** As in `allCountries.txt`. */
const town = (more: Record<number, string> = {}): string => {
  const columns =
    '7\tLower Áshby\tLower Ashby\tA,B\t38.68\t-9.2\tP\tPPL\tQW\t\tTarnshire\t\t\t\t4100\t\t12\tEtc/UTC\t2026-01-01'.split(
      '\t',
    );
  for (const [at, text] of Object.entries(more)) columns[Number(at)] = text;
  return columns.join('\t');
};
/** As in the files of postal codes. */
const postcode = (more: Record<number, string> = {}): string => {
  const columns = 'qw\tQW1 2AB\tQuillwater\tTarnshire\tT\t\t\t\t\t38.72\t-9.14\t4'.split('\t');
  for (const [at, text] of Object.entries(more)) columns[Number(at)] = text;
  return columns.join('\t');
};

it('reads towns and postcodes', () => {
  expect(gazetteerLine(town())).toEqual({
    kind: 'town',
    name: 'Lower Áshby',
    key: 'lower ashby',
    region: 'Tarnshire',
    regionKey: 'tarnshire',
    country: 'QW',
    lat: 38.68,
    lon: -9.2,
    people: 4100,
  });
  expect(gazetteerLine(postcode())).toEqual({
    kind: 'postcode',
    name: 'QW1 2AB Quillwater',
    key: 'qw12ab',
    region: 'Tarnshire',
    regionKey: 'tarnshire',
    country: 'QW',
    lat: 38.72,
    lon: -9.14,
    people: 0,
  });
});

it.each<[string, string, ReturnType<typeof gazetteerLine>]>([
  ['a mountain', town({ 6: 'T' }), 'pass'],
  ['an empty line', '', undefined],
  ['a line of another table', 'a;b;c', undefined],
  ['a town without a name', town({ 1: '' }), undefined],
  ['a town north of the pole', town({ 4: '90.1' }), undefined],
  ['a town nowhere', town({ 5: '' }), undefined],
  ['a postcode of no number', postcode({ 9: 'here' }), undefined],
  ['a name of many signs', town({ 1: 'x'.repeat(201) }), undefined],
])('passes over %s', (_, line, expected) => {
  expect(gazetteerLine(line)).toBe(expected);
});

it('takes what is told of people only where it can be so', () => {
  expect(gazetteerLine(town({ 14: '-3' }))).toMatchObject({ people: 0 });
  expect(gazetteerLine(town({ 14: '9999999999' }))).toMatchObject({ people: 0 });
});
