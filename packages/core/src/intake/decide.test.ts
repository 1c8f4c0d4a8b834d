import fc from 'fast-check';
import {
  parseAddress,
  permissionValues,
  type Field,
  type FieldValue,
  type TagId,
  type PermissionTerms,
} from '../contacts/index.js';
import { fail, idOf, ok } from '../kernel/index.js';
import type { UserId } from '../office/index.js';
import {
  countOutcomes,
  decideRows,
  problem,
  rowOutcomes,
  type DecidedRows,
  type KnownPerson,
  type KnownWay,
  type ReadRow,
  type RowOutcome,
  type Target,
  type Terms,
} from './index.js';

const unknown: PermissionTerms = { permission: 'unknown', at: null, source: '', wording: '' };
const asked: PermissionTerms = {
  permission: 'asked',
  at: '2026-03-01T00:00:00.000Z',
  source: 'fair',
  wording: 'Yes, send me the letter.',
};

function aRow(row: number, name: string, values: Record<string, FieldValue> = {}): ReadRow {
  const address = parseAddress(`${name}@example.com`);
  if (!address.ok) throw new Error(name);
  return { row, read: ok({ address: address.value, values, tags: [], owner: '', doubts: [] }) };
}
const noAddress = problem('refused', 0, 'there is no address');
const refusedRow = (row: number): ReadRow => ({ row, read: fail(noAddress) });

const aPerson = (
  id: number,
  values: Readonly<Record<string, FieldValue>> = {},
  more: Partial<KnownPerson> = {},
): KnownPerson => ({
  id: idOf(id),
  permission: 'unknown',
  isElsewhere: false,
  earlier: undefined,
  value: (field) => values[field] ?? null,
  hasTag: () => false,
  ...more,
});

const terms = (permission: PermissionTerms, more: Partial<Terms> = {}): Terms => ({
  permission,
  mapping: [],
  matching: 'address',
  fields: new Map(),
  standard: {},
  owners: new Map(),
  numbers: new Map(),
  tags: [],
  named: new Map(),
  ...more,
});

const outcomesOf = ({ people, idle }: DecidedRows): [number, RowOutcome][] =>
  [
    ...idle.map(({ row, outcome }): [number, RowOutcome] => [row, outcome]),
    ...people.flatMap(({ rows, outcome }) =>
      rows.map((row, at): [number, RowOutcome] => [row, at === 0 ? outcome : 'again']),
    ),
  ].sort(([a], [b]) => a - b);

describe('tags that rows name', () => {
  const [vip, guest] = [idOf<TagId>(1), idOf<TagId>(2)];
  const named = new Map([
    ['vip', vip],
    ['guest', guest],
  ]);
  const tagged = (row: number, name: string, ...tags: string[]): ReadRow => {
    const one = aRow(row, name);
    return { ...one, read: one.read.ok ? ok({ ...one.read.value, tags }) : one.read };
  };
  const decidedWith = (rows: readonly ReadRow[], has: readonly TagId[] = []) =>
    decideRows(
      rows,
      new Map([['ada@example.com', aPerson(1, {}, { hasTag: (tag) => has.includes(tag) })]]),
      terms(unknown, { tags: [guest], named }),
    ).people.map(({ tags, outcome }) => [outcome, tags]);

  it('are put on, with those that everybody gets, once each; one that is not there is nobody’s', () =>
    expect(decidedWith([tagged(1, 'bo', 'V.I.P.', 'guest'), tagged(2, 'bo', 'lost')])).toEqual([
      ['new', [guest, vip]],
    ]));
  it('change who does not have them yet, and nobody else', () => {
    expect(decidedWith([tagged(1, 'ada', 'vip')])).toEqual([['changed', [guest, vip]]]);
    expect(decidedWith([tagged(1, 'ada', 'vip')], [guest, vip])).toEqual([
      ['unchanged', [guest, vip]],
    ]);
  });
});

describe('what rows do', () => {
  const ada = (more: Partial<KnownPerson> = {}) =>
    new Map([['ada@example.com', aPerson(1, { town: 'Millrace' }, more)]]);

  it('makes somebody new, once, with what all of their rows say', () => {
    const decided = decideRows(
      [aRow(1, 'bo', { town: 'a', stage: 'x' }), aRow(2, 'bo', { town: 'b' })],
      ada(),
      terms(asked),
    );
    expect(decided.people).toEqual([
      {
        known: undefined,
        outcome: 'new',
        rows: [1, 2],
        tags: [],
        owner: undefined,
        isChangedAfterAll: false,
        values: { address: 'bo@example.com', town: 'b', stage: 'x', ...permissionValues(asked) },
      },
    ]);
  });
  it.each<[string, Record<string, FieldValue>, RowOutcome, Record<string, FieldValue>]>([
    ['leaves alone who is so already', { town: 'Millrace' }, 'unchanged', {}],
    [
      'takes only what differs',
      { town: 'Ashwick', stage: 'x' },
      'changed',
      { town: 'Ashwick', stage: 'x' },
    ],
    ['takes nothing from an empty row', {}, 'unchanged', {}],
  ])('%s', (_, values, outcome, changed) =>
    expect(decideRows([aRow(1, 'ada', values)], ada(), terms(unknown)).people).toMatchObject([
      { outcome, values: changed },
    ]),
  );
  it('lets permission rise and never fall', () => {
    const [risen] = decideRows([aRow(1, 'ada')], ada(), terms(asked)).people;
    expect(risen).toMatchObject({ outcome: 'changed', values: permissionValues(asked) });
    for (const permission of [unknown, { ...asked, permission: 'customer' as const }]) {
      const [kept] = decideRows(
        [aRow(1, 'ada')],
        ada({ permission: 'asked' }),
        terms(permission),
      ).people;
      expect(kept).toMatchObject({ outcome: 'unchanged', values: {} });
    }
  });
  it('counts somebody of an earlier row again, and knows when they change after all', () => {
    const decide = (earlier: RowOutcome, town: string) =>
      decideRows([aRow(9, 'ada', { town })], ada({ earlier }), terms(unknown)).people[0];
    expect(decide('unchanged', 'Millrace')).toMatchObject({
      outcome: 'again',
      isChangedAfterAll: false,
    });
    expect(decide('unchanged', 'Ashwick')).toMatchObject({
      outcome: 'again',
      isChangedAfterAll: true,
    });
    expect(decide('changed', 'Ashwick')).toMatchObject({
      outcome: 'again',
      isChangedAfterAll: false,
    });
  });
  it('names somebody elsewhere once and changes nothing of theirs', () => {
    const rows = [aRow(1, 'ada', { town: 'x' }), refusedRow(2), aRow(3, 'ada', { town: 'y' })];
    expect(decideRows(rows, ada({ isElsewhere: true }), terms(asked))).toEqual({
      people: [],
      idle: [
        { row: 1, outcome: 'elsewhere', person: 1 },
        { row: 2, outcome: 'refused', reason: noAddress },
        { row: 3, outcome: 'again', person: 1 },
      ],
      hints: [],
    });
    const later = decideRows(
      [aRow(4, 'ada')],
      ada({ isElsewhere: true, earlier: 'elsewhere' }),
      terms(asked),
    );
    expect(later.idle).toEqual([{ row: 4, outcome: 'again', person: 1 }]);
  });
  it('decides each row once, and counts each person once, whatever the file holds', () => {
    const names = ['ada', 'bo', 'cy', 'di', 'eve'];
    const rows = fc.array(
      fc.record({
        name: fc.constantFrom(...names, ''),
        town: fc.constantFrom('Millrace', 'Ashwick'),
      }),
      { maxLength: 30 },
    );
    const known = fc.dictionary(
      fc.constantFrom(...names.map((name) => `${name}@example.com`)),
      fc.record({
        isElsewhere: fc.boolean(),
        earlier: fc.constantFrom<RowOutcome | undefined>(undefined, 'new', 'changed', 'unchanged'),
        permission: fc.constantFrom('unknown' as const, 'asked' as const),
      }),
      { noNullPrototype: true },
    );
    fc.assert(
      fc.property(rows, known, fc.constantFrom(asked, unknown), (given, there, permission) => {
        const read = given.map(({ name, town }, at) =>
          name === '' ? refusedRow(at) : aRow(at, name, { town }),
        );
        const people = new Map(
          Object.entries(there).map(([key, more], at) => [
            key,
            aPerson(at, { town: 'Millrace' }, more),
          ]),
        );
        const decided = decideRows(read, people, terms(permission));
        const outcomes = outcomesOf(decided);
        expect(outcomes.map(([row]) => row)).toEqual(read.map(({ row }) => row));
        const counts = countOutcomes(outcomes.map(([, outcome]) => outcome));
        expect(rowOutcomes.reduce((sum, one) => sum + counts[one], 0)).toBe(read.length);
        const named = new Set(given.map(({ name }) => name).filter((name) => name !== ''));
        const before = [...named].filter((name) => people.get(`${name}@example.com`)?.earlier);
        expect(counts.new + counts.changed + counts.unchanged + counts.elsewhere).toBe(
          named.size - before.length,
        );
        for (const { known: person, values } of decided.people)
          for (const [key, value] of Object.entries(values))
            if (person) expect(person.value(key)).not.toBe(value);
      }),
    );
  });
});

describe('what is one person’s', () => {
  const people = new Map([
    ['ada@example.com', aPerson(1)],
    ['ada@example.org', aPerson(1)],
    ['bo@example.com', aPerson(2)],
  ]);
  const numbers = new Map([['m-1', aPerson(1)]]);
  const decide = (rows: readonly ReadRow[], more: Partial<Terms> = {}) =>
    outcomesOf(decideRows(rows, people, terms(unknown, { numbers, ...more })));

  it('a further address or an external number of somebody else refuses the row', () => {
    expect(
      decide([
        aRow(1, 'cy', { more_addresses: 'ada@example.org' }),
        aRow(2, 'cy', { external_number: 'M-1' }),
        aRow(3, 'ada', { external_number: 'M-1', more_addresses: 'ada@example.org' }),
        aRow(4, 'bo', { more_addresses: 'new@example.com', external_number: 'M-2' }),
        aRow(5, 'new', { external_number: 'm-2' }),
        aRow(6, 'dee', { external_number: 'm-2' }),
      ]),
    ).toEqual([
      [1, 'refused'],
      [2, 'refused'],
      [3, 'changed'],
      [4, 'changed'],
      // Whoever has that address by an earlier row is the same person.
      [5, 'again'],
      [6, 'refused'],
    ]);
  });

  it('somebody new has what is standard, and does not come without what is required', () => {
    const fields = new Map([
      ['own_1', { key: 'own_1', label: 'size', type: 'text' as const, isRequired: true as const }],
    ]);
    const standard = { stage: 'c1' };
    expect(decide([aRow(1, 'cy'), aRow(2, 'ada')], { fields })).toEqual([
      [1, 'refused'],
      [2, 'unchanged'],
    ]);
    const {
      people: [cy],
    } = decideRows(
      [aRow(1, 'cy', { own_1: 'x' }), aRow(2, 'cy', { stage: 'c2' })],
      people,
      terms(unknown, { fields, standard }),
    );
    expect(cy?.values).toMatchObject({ own_1: 'x', stage: 'c2' });
  });
});

describe('what becomes of what somebody has', () => {
  const text = (key: string, type: Field['type'] = 'text'): Field => ({ key, label: key, type });
  const fields = new Map(
    [
      text('town'),
      text('given_name'),
      text('note', 'long text'),
      text('likes', 'choices'),
      text('more_addresses', 'addresses'),
      text('more_phones', 'phones'),
    ].map((field) => [field.key, field]),
  );
  const has = {
    town: 'Tarn',
    given_name: 'Ada',
    note: 'ferns',
    likes: 'c1,c2',
    address: 'ada@example.com',
    more_addresses: 'ada@example.org',
    more_phones: null,
  };
  const after = (
    field: string,
    value: FieldValue,
    way?: KnownWay,
    of: Readonly<Record<string, FieldValue>> = has,
  ): FieldValue => {
    const mapping: Target[] = [{ to: 'field', field, ...(way ? { way } : {}) }];
    const [person] = decideRows(
      [aRow(1, 'ada', { [field]: value })],
      new Map([['ada@example.com', aPerson(1, of)]]),
      terms(unknown, { fields, mapping }),
    ).people;
    return person?.values[field] === undefined ? (of[field] ?? null) : person.values[field];
  };
  it.each<[string, FieldValue, KnownWay | undefined, FieldValue]>([
    ['town', 'Ashby', undefined, 'Ashby'],
    ['town', 'Ashby', 'replace', 'Ashby'],
    ['town', 'Ashby', 'fill', 'Tarn'],
    ['town', 'Ashby', 'leave', 'Tarn'],
    ['more_phones', '1', 'fill', '1'],
    ['more_phones', '1', 'leave', null],
    ['note', 'moss', 'add', 'ferns\nmoss'],
    ['note', 'ferns', 'add', 'ferns'],
    ['likes', 'c3,c1', 'add', 'c1,c2,c3'],
    ['likes', 'c3', 'replace', 'c3'],
    // Nobody loses an address by a list that has another.
    ['more_addresses', 'new@example.org', undefined, 'ada@example.org\nnew@example.org'],
    ['more_addresses', 'ADA@example.ORG', undefined, 'ada@example.org'],
    ['more_addresses', 'new@example.org', 'replace', 'new@example.org'],
    // The first address is no further one.
    ['more_addresses', 'Ada@example.com', undefined, 'ada@example.org'],
  ])('%s, %j, %s: %j', (field, value, way, then) => expect(after(field, value, way)).toBe(then));

  it('points out another name than here, with a way to keep ours', () => {
    const hintsOf = (name: string, way?: KnownWay) =>
      decideRows(
        [aRow(1, 'ada', { given_name: name })],
        new Map([['ada@example.com', aPerson(1, has)]]),
        terms(unknown, {
          fields,
          mapping: [
            { to: 'field', field: 'address' },
            { to: 'field', field: 'given_name', ...(way ? { way } : {}) },
          ],
        }),
      ).hints;
    expect(hintsOf('Bo')).toMatchObject([
      { row: 1, hint: { kind: 'hint', at: 1, offers: [{ cells: { 1: '' } }] } },
    ]);
    expect(hintsOf('ada')).toEqual([]);
    expect(hintsOf('Adalind')).toEqual([]);
    expect(hintsOf('Bo', 'fill')).toEqual([]);
  });
});

describe('who is known by number', () => {
  const ada = aPerson(1, { address: 'ada@example.com', external_number: 'M-1' });
  const bo = aPerson(2, { address: 'bo@example.com' });
  const known = new Map([
    ['ada@example.com', ada],
    ['bo@example.com', bo],
  ]);
  const fields = new Map([
    ['more_addresses', { key: 'more_addresses', label: 'further', type: 'addresses' as const }],
  ]);
  const decide = (rows: readonly ReadRow[], mapping: readonly Target[] = []) =>
    decideRows(
      rows,
      known,
      terms(unknown, {
        fields,
        mapping,
        matching: 'external number',
        numbers: new Map([['m-1', ada]]),
      }),
    );
  const numbered = (row: number, number: string): ReadRow => ({
    row,
    read: ok({
      address: undefined,
      values: { external_number: number, town: 'Tarn' },
      tags: [],
      owner: '',
      doubts: [],
    }),
  });
  it('is meant whatever the address, which comes on top of theirs or takes its place', () => {
    const row = aRow(1, 'other', { external_number: 'm-1' });
    expect(decide([row]).people).toMatchObject([
      { known: { id: 1 }, values: { more_addresses: 'other@example.com' } },
    ]);
    expect(decide([row], [{ to: 'field', field: 'address', way: 'replace' }]).people).toMatchObject(
      [{ known: { id: 1 }, values: { address: 'other@example.com' } }],
    );
    const left = decide([row], [{ to: 'field', field: 'address', way: 'leave' }]).people[0];
    expect(Object.keys(left?.values ?? {})).toEqual(['external_number']);
  });
  it('needs no address; somebody new does', () => {
    const { people, idle } = decide([numbered(1, 'M-1'), numbered(2, 'M-9')]);
    expect(people).toMatchObject([{ known: { id: 1 }, values: { town: 'Tarn' } }]);
    expect(idle).toMatchObject([
      {
        row: 2,
        outcome: 'refused',
        reason: { words: expect.stringContaining('without an address') },
      },
    ]);
  });
  it('has no address of somebody else, and one number is one person’s within the file, too', () => {
    expect(
      outcomesOf(
        decide([
          aRow(1, 'bo', { external_number: 'm-1' }),
          aRow(2, 'cy', { external_number: 'M-2' }),
          aRow(3, 'dee', { external_number: 'm-2' }),
          numbered(4, 'M-2'),
        ]),
      ),
    ).toEqual([
      [1, 'refused'],
      [2, 'new'],
      [3, 'again'],
      [4, 'again'],
    ]);
  });
  it('is whoever somebody said it is', () => {
    const { people } = decide([{ ...aRow(1, 'new'), person: bo }]);
    expect(people).toMatchObject([
      { known: { id: 2 }, values: { more_addresses: 'new@example.com' } },
    ]);
  });
});

it('asks no more and no less of somebody hidden than of somebody new', () => {
  const fields = new Map([
    ['own_1', { key: 'own_1', label: 'size', type: 'text' as const, isRequired: true as const }],
  ]);
  const rows = (name: string): ReadRow[] => [
    aRow(1, name),
    aRow(2, name, { own_1: 'x' }),
    aRow(3, name),
  ];
  const decide = (name: string) =>
    outcomesOf(
      decideRows(
        rows(name),
        new Map([['ada@example.com', aPerson(1, {}, { isElsewhere: true })]]),
        terms(unknown, { fields }),
      ),
    );
  expect(decide('new')).toEqual([
    [1, 'refused'],
    [2, 'new'],
    [3, 'again'],
  ]);
  expect(decide('ada')).toEqual([
    [1, 'refused'],
    [2, 'elsewhere'],
    [3, 'again'],
  ]);
});

it('tells by a number alone nothing of somebody hidden', () => {
  const numbered: ReadRow = {
    row: 1,
    read: ok({
      address: undefined,
      values: { external_number: 'M-1' },
      tags: [],
      owner: '',
      doubts: [],
    }),
  };
  const decide = (numbers: Terms['numbers']) =>
    decideRows([numbered], new Map(), terms(unknown, { matching: 'external number', numbers }));
  expect(decide(new Map([['m-1', aPerson(1, {}, { isElsewhere: true })]]))).toEqual(
    decide(new Map()),
  );
});

it('gives somebody new to the colleague whom a row names, and leaves others where they are', () => {
  const owned = (row: number, name: string, owner: string): ReadRow => {
    const one = aRow(row, name);
    return { ...one, read: one.read.ok ? ok({ ...one.read.value, owner }) : one.read };
  };
  const { people } = decideRows(
    [owned(1, 'cy', ' Jonah  PETROV '), owned(2, 'dee', 'nobody'), owned(3, 'eve', '')],
    new Map(),
    terms(unknown, { owners: new Map([['jonah petrov', idOf<UserId>(4)]]) }),
  );
  expect(people.map(({ owner }) => owner)).toEqual([4, undefined, undefined]);
});
