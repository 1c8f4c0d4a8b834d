import { builtInFields, type Field } from '../contacts/index.js';
import { findSeparator, raisesPermission, readRow, recogniseColumns, type Target } from './index.js';

const fields: Field[] = [...builtInFields([]), { key: 'own_1', label: 'Favourite plant', type: 'text' }, { key: 'own_2', label: 'visits', type: 'number' }];
const byKey = new Map(fields.map((field) => [field.key, field]));
const to = (...keys: (string | null)[]): Target[] => keys.map((field) => (field === null ? { to: 'nothing' } : { to: 'field', field }));

describe('the separator', () => {
  it.each([
    ['a,b,c\n1,2,3', ','],
    ['a;b;c\n1,5;2;3', ';'],
    ['a\tb\n1\t2', '\t'],
    ['a|b|c\n1|2|3', '|'],
    ['"a,x";b\n"1,2";3', ';'],
    ['name;note\n"Ada";"one, two, three"\n"Bo";"four, five"', ';'],
    ['email\na@example.com', ','],
    ['', ','],
  ])('of %j is %j', (sample, separator) => expect(findSeparator(sample)).toBe(separator));
});

describe('columns', () => {
  it.each([
    [['First name', 'Last name', 'E-mail', 'City'], to('given_name', 'family_name', 'address', 'town')],
    [['Vorname', 'Nachname', 'E-Mail', 'PLZ', 'Ort'], to('given_name', 'family_name', 'address', 'postcode', 'town')],
    [['EMAIL_ADDRESS', 'SURNAME'], to('address', 'family_name')],
    [['favourite plant', 'mail', 'shoe size'], to('own_1', 'address', null)],
    [['email', 'e-mail'], to('address', null)],
  ])('%j', (headers, expected) => expect(recogniseColumns(headers, fields)).toEqual(expected));

  it('finds the address by what the cells hold', () => {
    expect(recogniseColumns(['who', 'contact'], fields, [['Ada', 'ada@example.com'], ['Bo', '']])).toEqual(to(null, 'address'));
  });
});

describe('a row', () => {
  const targets = to('given_name', 'address', 'own_2', null);
  it('becomes a person; empty cells say nothing', () => {
    expect(readRow(['Ada', ' Ada@Example.com', '', 'x'], targets, byKey)).toEqual({ ok: true, value: { address: { address: 'Ada@Example.com', key: 'ada@example.com' }, values: { given_name: 'Ada' } } });
  });
  it('may be short, or have empty cells too many', () => {
    expect(readRow(['Ada', 'ada@example.com'], targets, byKey).ok).toBe(true);
    expect(readRow(['Ada', 'ada@example.com', '', '', '', ' '], targets, byKey).ok).toBe(true);
  });
  it('keeps a formula and markup as the text they are', () => {
    expect(readRow(['=cmd()', 'a@example.com'], targets, byKey)).toMatchObject({ ok: true, value: { values: { given_name: '=cmd()' } } });
    expect(readRow(['<b>{{ x }}</b>', 'a@example.com'], targets, byKey)).toMatchObject({ ok: true, value: { values: { given_name: '<b>{{ x }}</b>' } } });
  });
  it.each([
    [['Ada', ''], 'there is no address'],
    [['Ada', 'ada'], 'an address needs one @'],
    [['Ada', 'ada@example.com\nBcc: x@example.com'], 'line break'],
    [['Ada', 'ada@example.com', 'many'], 'visits needs a number'],
    [['Ada', 'ada@example.com', '1', 'x', 'more'], 'the row has 5 cells, the header 4'],
  ])('%j is refused', (cells, reason) => expect(readRow(cells, targets, byKey)).toMatchObject({ ok: false, error: expect.stringContaining(reason) }));
});

it('never weakens a permission', () => {
  expect(raisesPermission('unknown', 'customer')).toBe(true);
  expect(raisesPermission('customer', 'asked')).toBe(true);
  expect(raisesPermission('asked', 'customer')).toBe(false);
  expect(raisesPermission('asked', 'asked')).toBe(false);
});
