import { builtInFields, type DayOrder, type Field } from '../contacts/index.js';
import {
  cutCells,
  findHeader,
  findSeparator,
  knownColumns,
  mappingFrom,
  raisesPermission,
  readRow,
  recogniseColumns,
  shapeText,
  WRONG_COLUMN,
  type Target,
} from './index.js';

const fields: Field[] = [
  ...builtInFields({ owners: [] }),
  { key: 'own_1', label: 'Favourite plant', type: 'text' },
  { key: 'own_2', label: 'visits', type: 'number' },
  { key: 'own_3', label: 'membership until', type: 'date' },
];
const byKey = new Map(fields.map((field) => [field.key, field]));
const to = (...keys: (string | null)[]): Target[] =>
  keys.map((field) => (field === null ? { to: 'nothing' } : { to: 'field', field }));

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
    [
      ['First name', 'Last name', 'E-mail', 'City'],
      to('given_name', 'family_name', 'address', 'town'),
    ],
    [
      ['Vorname', 'Nachname', 'E-Mail', 'PLZ', 'Ort'],
      to('given_name', 'family_name', 'address', 'postcode', 'town'),
    ],
    [['EMAIL_ADDRESS', 'SURNAME'], to('address', 'family_name')],
    [['favourite plant', 'mail', 'shoe size'], to('own_1', 'address', null)],
    [['email', 'e-mail'], to('address', null)],
    [['mail', 'Email 2', 'Tel', 'Job title'], to('address', 'more_addresses', 'phone', 'position')],
    [
      ['First Nm', 'Last Nme', 'Mail addr.', 'Lives in', 'Tel.'],
      to('given_name', 'family_name', 'address', 'town', 'phone'),
    ],
    [['E-mail', 'Member til', 'Fav. plants'], to('address', 'own_3', null)],
    [['E-mail', 'Favourite plants'], to('address', 'own_1')],
    [['Mail', 'Note', 'no'], to('address', null, 'external_number')],
  ])('%j', (headers, expected) => expect(recogniseColumns(headers, fields)).toEqual(expected));

  it.each(['Tags', 'label', 'GROUPS', 'Categories:'])('%j names tags', (header) =>
    expect(recogniseColumns(['email', header], fields)[1]).toEqual({ to: 'tags' }),
  );

  it('finds the address by what the cells hold', () => {
    expect(
      recogniseColumns(['who', 'contact'], fields, [
        ['Ada', 'ada@example.com'],
        ['Bo', ''],
      ]),
    ).toEqual([{ to: 'name' }, ...to('address')]);
    expect(
      recogniseColumns(['a', 'b', 'c'], fields, [
        ['2026', '+44 1632 960111', 'bo@example.com'],
        ['7', '01632 960 222', ''],
      ]),
    ).toEqual(to(null, 'phone', 'address'));
  });
});

describe('files of one shape', () => {
  const headers = ['Mail', 'Name', 'Name', 'Groups'];
  const said: Target[] = [...to('address', 'given_name', 'family_name'), { to: 'tags' }];
  const known = knownColumns(headers, said);
  const isThere = (field: string): boolean => field !== 'given_name';

  it('are known by their columns, in any order, with the one that says what was wrong', () => {
    expect(shapeText(['groups', 'NAME', 'Mail', 'name', WRONG_COLUMN])).toBe(shapeText(headers));
    expect(shapeText(['Mail', 'Name', 'Groups'])).not.toBe(shapeText(headers));
    expect(shapeText(['', WRONG_COLUMN])).toBeUndefined();
  });
  it('are read as it was said of the one before; a field that is gone is filled by none', () => {
    expect(
      mappingFrom(['Groups', 'mail', 'Name', 'Name', WRONG_COLUMN], known, () => true),
    ).toEqual([{ to: 'tags' }, ...to('address', 'given_name', 'family_name', null)]);
    expect(mappingFrom(headers, known, isThere)).toEqual([
      ...to('address', null, 'family_name'),
      { to: 'tags' },
    ]);
  });
});

describe('a row', () => {
  const targets = to('given_name', 'address', 'own_2', null);
  it('becomes a person; empty cells say nothing', () => {
    expect(readRow(['Ada', ' Ada@Example.com', '', 'x'], targets, byKey)).toEqual({
      ok: true,
      value: {
        address: { address: 'Ada@Example.com', key: 'ada@example.com' },
        values: { given_name: 'Ada' },
        tags: [],
        owner: '',
        doubts: [],
      },
    });
  });
  it('may have several further addresses, also one under another', () => {
    const further = to('address', 'more_addresses');
    expect(
      readRow(['a@example.com', 'b@example.com\nc@example.com'], further, byKey),
    ).toMatchObject({
      ok: true,
      value: { values: { more_addresses: 'b@example.com\nc@example.com' } },
    });
  });
  it.each([[['Ada', 'ada@example.com', 'many'], 'visits needs a number']])(
    'loses no person for a cell that can’t be read: %j',
    (cells, doubt) =>
      expect(readRow(cells, targets, byKey)).toMatchObject({
        ok: true,
        value: {
          values: { given_name: 'Ada' },
          doubts: [{ kind: 'doubt', at: 2, words: expect.stringContaining(doubt) }],
        },
      }),
  );
  it('reads days in the order that was said for their column', () => {
    const days = (order?: DayOrder): Target[] => [
      { to: 'field', field: 'address' },
      { to: 'field', field: 'own_3', ...(order ? { days: order } : {}) },
    ];
    const read = (cell: string, order?: DayOrder) => {
      const row = readRow(['a@example.com', cell], days(order), byKey);
      return row.ok && (row.value.values['own_3'] ?? row.value.doubts[0]?.words);
    };
    expect(read('04/05/2027', 'day first')).toBe('2027-05-04');
    expect(read('04/05/2027', 'month first')).toBe('2027-04-05');
    expect(read('04/05/2027')).toMatch(/2027-05-04 or 2027-04-05/);
    expect(read('28/02/2027')).toBe('2027-02-28');
    expect(read('28/02/2027', 'month first')).toMatch(/needs a day/);
  });
  it('may name tags, several in a cell and in several columns, none twice', () => {
    const tags: Target[] = [{ to: 'field', field: 'address' }, { to: 'tags' }, { to: 'tags' }];
    const row = ['a@example.com', 'VIP; workshop list |v.i.p.', `family\n${'x'.repeat(61)}`];
    expect(readRow(row, tags, byKey)).toMatchObject({
      ok: true,
      value: {
        values: {},
        tags: ['VIP', 'workshop list', 'family'],
        doubts: [{ at: 2, words: expect.stringContaining('too long for a tag') }],
      },
    });
  });
  it('may be short, or have empty cells too many', () => {
    expect(readRow(['Ada', 'ada@example.com'], targets, byKey).ok).toBe(true);
    expect(readRow(['Ada', 'ada@example.com', '', '', '', ' '], targets, byKey).ok).toBe(true);
  });
  it('keeps a formula and markup as the text they are', () => {
    expect(readRow(['=cmd()', 'a@example.com'], targets, byKey)).toMatchObject({
      ok: true,
      value: { values: { given_name: '=cmd()' } },
    });
    expect(readRow(['<b>{{ x }}</b>', 'a@example.com'], targets, byKey)).toMatchObject({
      ok: true,
      value: { values: { given_name: '<b>{{ x }}</b>' } },
    });
  });
  it.each([
    [['Ada', ''], 'there is no address'],
    [['Ada', 'ada'], 'an address needs one @'],
    [['Ada', 'ada@example.com\nBcc: x@example.com'], 'line break'],
    [['Ada', 'ada@example.com', '1', 'x', 'more'], 'the row has 5 cells, the header 4'],
  ])('%j is refused', (cells, reason) =>
    expect(readRow(cells, targets, byKey)).toMatchObject({
      ok: false,
      error: { kind: 'refused', words: expect.stringContaining(reason) },
    }),
  );
});

it('never weakens a permission', () => {
  expect(raisesPermission('unknown', 'customer')).toBe(true);
  expect(raisesPermission('customer', 'asked')).toBe(true);
  expect(raisesPermission('asked', 'customer')).toBe(false);
  expect(raisesPermission('asked', 'asked')).toBe(false);
});

describe('the row that names the columns', () => {
  const fields = builtInFields({ owners: [] });
  it.each<[string, string[][], number | null]>([
    [
      'is the first, by names that are known',
      [
        ['Email', 'First name'],
        ['ada@example.com', 'Ada'],
      ],
      0,
    ],
    [
      'is the first, by names that nobody knows',
      [
        ['Kontakt', 'Wer'],
        ['ada@example.com', 'Ada'],
      ],
      0,
    ],
    [
      'stands below a title',
      [
        ['Members 2026', '', ''],
        ['', '', ''],
        ['E-mail', 'Surname', 'Town'],
        ['ada@example.com', 'Wren', 'Tarn'],
      ],
      2,
    ],
    [
      'stands below a title and a note, by names that nobody knows',
      [['Our list'], ['as of May'], ['Kontakt', 'Wer', 'Wo'], ['ada@example.com', 'Ada', 'Tarn']],
      2,
    ],
    [
      'is not there when the first row is a person',
      [
        ['ada@example.com', 'Ada'],
        ['ben@example.com', 'Ben'],
      ],
      null,
    ],
    [
      'is not there when the first row is a person, even one called Mail',
      [
        ['Mail', 'mail@example.com'],
        ['Ben', 'ben@example.com'],
      ],
      null,
    ],
    [
      'is not a title alone',
      [['Our members of the year'], ['ada@example.com', 'Ada', 'Wren', 'Tarn']],
      null,
    ],
    ['is there in a file of one column', [['address'], ['ada@example.com']], 0],
    [
      'is there although nobody has an address',
      [
        ['Title', ''],
        ['First name', 'Town'],
        ['Ada', 'Tarn'],
      ],
      1,
    ],
    [
      'is the first where nothing says otherwise',
      [
        ['a', 'b'],
        ['1', '2'],
      ],
      0,
    ],
    [
      'is not a row with something like an address that is none',
      [
        ['Name', 'e-mail (a@b)'],
        ['Ada', 'ada@example.com'],
      ],
      0,
    ],
  ])('%s', (_, rows, at) => expect(findHeader(rows, fields)).toBe(at));
});

describe('a row that swallowed others', () => {
  const targets: Target[] = [
    { to: 'field', field: 'address' },
    { to: 'field', field: 'given_name' },
    { to: 'field', field: 'own_1' },
  ];
  const known = new Map(
    [...builtInFields({ owners: [] }), { key: 'own_1', label: 'note', type: 'text' as const }].map(
      (field) => [field.key, field],
    ),
  );
  it('is refused when a name holds a line and an address, not when a note does', () => {
    expect(
      readRow(['ada@example.com', 'Ada\nben@example.com,Ben', ''], targets, known),
    ).toMatchObject({
      ok: false,
      error: { at: 1, words: expect.stringContaining('quotation mark') },
    });
    expect(
      readRow(['ada@example.com', 'Ada\nMarie', 'wrote\nben@example.com'], targets, known).ok,
    ).toBe(true);
  });
});

describe('what is kept of a refused row', () => {
  it('is its beginning, in so many signs', () => {
    expect(cutCells(['a', 'x'.repeat(500)])).toEqual(['a', `${'x'.repeat(200)}…`]);
    const kept = cutCells(Array.from({ length: 500 }, () => 'y'.repeat(50)));
    expect(kept.join('').length).toBeLessThanOrEqual(2001);
    expect(cutCells(Array.from({ length: 5000 }, () => '')).length).toBeLessThanOrEqual(2000);
  });
});
