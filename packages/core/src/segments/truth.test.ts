// What each kind of condition beside those of letters finds, by a table: one fact of one person, and whether they are in.
import { builtInFields, type Field } from '../contacts/index.js';
import {
  compileRule,
  finds,
  found,
  KeySet,
  leavesOf,
  parseRule,
  reader,
  sift,
  unfinished,
  type Facts,
  type Group,
  type Person,
  type Rule,
  type RuleContext,
} from './index.js';

const own: Field[] = [
  { key: 'own_1', label: 'visits', type: 'number' },
  { key: 'own_2', label: 'member until', type: 'date' },
  { key: 'own_3', label: 'has a dog', type: 'yes or no' },
];
const live = (id: number, name: string, root: Group, more = {}) => ({
  id,
  name,
  kind: 'live' as const,
  pools: [1],
  read: reader({ v: 1, root }),
  ...more,
});
const tagged = (tag: number): Group => ({
  of: 'all',
  items: [{ kind: 'tag', op: 'has', tags: [tag] }],
});
const asks = (segment: number): Group => ({
  of: 'all',
  items: [{ kind: 'segment', op: 'is in', segment }],
});
const context: RuleContext = {
  fields: [...builtInFields({ owners: [{ key: '1', label: 'Ines' }] }), ...own],
  tags: [
    { id: 1, name: 'guest' },
    { id: 2, name: 'family' },
  ],
  topics: [
    { id: 1, name: 'News' },
    { id: 2, name: 'Sales' },
  ],
  campaigns: [],
  segments: [
    live(1, 'Guests', tagged(1)),
    live(2, 'Guests of a member', tagged(1), { seenBy: 7 }),
    live(3, 'By another', asks(1)),
    { id: 4, name: 'Listed', kind: 'fixed', pools: [1] },
    live(5, 'Around', asks(6)),
    live(6, 'And around', asks(5)),
    live(7, 'Unfinished', { of: 'all', items: [{ kind: 'tag', op: 'has', tags: [] }] }),
    live(8, 'Elsewhere', { of: 'all', items: [{ kind: 'everybody' }] }, { pools: [2, 3] }),
  ],
  today: '2026-03-31',
  timeZone: 'Europe/Lisbon',
};
const nothing: Facts = {
  values: {},
  tags: new Set(),
  tagPutOn: new Map(),
  standing: 'may be mailed',
  doNotMail: null,
  droppedTopics: new Set(),
  ratingCourse: [],
  letters: [],
  moments: { cameIn: 0, changed: 0 },
  position: null,
  pool: 1,
  listedIn: new Set(),
};

type Row = [what: string, condition: object, person: Person, isIn: boolean, on?: string];

const isIn = (condition: object, person: Person, today: string): boolean => {
  const words = { ...context, today };
  const rule = parseRule({ v: 1, root: { of: 'all', items: [condition] } }, words);
  if (!rule.ok) throw new Error(rule.error);
  return finds(rule.value, { ...nothing, ...person }, words);
};
const table = (rows: readonly Row[]): void =>
  it.each(rows)('%s', (_, condition, person, expected, on = context.today) =>
    expect(isIn(condition, person, on)).toBe(expected),
  );

const field = (name: string, op: string, value?: unknown) => ({
  kind: 'field',
  field: name,
  op,
  value,
});
const has = (name: string, value: string | number | boolean): Person => ({
  values: { [name]: value },
});
const days = (count: number) => ({ count, unit: 'days' });
const months = (count: number) => ({ count, unit: 'months' });

describe('a text', () =>
  table([
    ['in other letters', field('town', 'is', 'LODZ'), has('town', 'Łódź'), true],
    ['with accents asked for', field('town', 'is', 'Łódź'), has('town', 'lodz'), true],
    [
      'in two parts of one sign',
      field('town', 'is', 'Münster'),
      has('town', 'Mu\u0308nster'),
      true,
    ],
    ['with signs of patterns', field('town', 'contains', 'a%b'), has('town', 'axxb'), false],
    ['that is not there is no other', field('town', 'is', 'Millrace'), {}, false],
    ['that is not there is not it either', field('town', 'is not', 'Millrace'), {}, true],
    ['that is not there does not contain it', field('town', 'does not contain', 'mill'), {}, true],
    ['that is not there is empty', field('town', 'is empty'), {}, true],
    ['of nothing is empty', field('town', 'is empty'), has('town', ''), true],
    [
      'between two: the first itself',
      field('postcode', 'between', ['QW1', 'QW3']),
      has('postcode', 'qw1'),
      true,
    ],
    [
      'between two: before the first',
      field('postcode', 'between', ['QW2', 'QW3']),
      has('postcode', 'QW1 9ZZ'),
      false,
    ],
    [
      'between two: begins like the second',
      field('postcode', 'between', ['QW1', 'QW3']),
      has('postcode', 'QW3 4AB'),
      true,
    ],
    [
      'between two: after the second',
      field('postcode', 'between', ['QW1', 'QW3']),
      has('postcode', 'QW4'),
      false,
    ],
    ['between two, of nothing', field('postcode', 'between', ['A', 'Z']), {}, false],
  ]));

describe('a number, yes or no', () =>
  table([
    ['none is not less than anything', field('own_1', 'less than', 5), {}, false],
    ['nor another', field('own_1', 'is', 0), {}, false],
    ['nought is a number', field('own_1', 'is', 0), has('own_1', 0), true],
    ['between, both ends in', field('own_1', 'between', [2, 4]), has('own_1', 4), true],
    ['no is not yes', field('own_3', 'is yes'), has('own_3', false), false],
    ['nothing is not no', field('own_3', 'is no'), {}, false],
  ]));

describe('a day', () =>
  table([
    [
      'a month ago on the 31st is the last of February',
      field('own_2', 'in the last', months(1)),
      has('own_2', '2026-02-28'),
      true,
    ],
    [
      'and not the day before',
      field('own_2', 'in the last', months(1)),
      has('own_2', '2026-02-27'),
      false,
    ],
    [
      'in a leap year it is the 29th',
      field('own_2', 'in the last', months(1)),
      has('own_2', '2024-02-29'),
      true,
      '2024-03-31',
    ],
    [
      'a year before the 29th is the 28th',
      field('own_2', 'in the last', months(12)),
      has('own_2', '2023-02-28'),
      true,
      '2024-02-29',
    ],
    [
      'today is in the last days',
      field('own_2', 'in the last', days(1)),
      has('own_2', '2026-03-31'),
      true,
    ],
    ['tomorrow is not', field('own_2', 'in the last', days(1)), has('own_2', '2026-04-01'), false],
    [
      'a month on from the 31st is the 30th',
      field('own_2', 'in the next', months(1)),
      has('own_2', '2026-04-30'),
      true,
    ],
    [
      'and not the first of the month after',
      field('own_2', 'in the next', months(1)),
      has('own_2', '2026-05-01'),
      false,
    ],
    [
      'today is in the next days',
      field('own_2', 'in the next', days(1)),
      has('own_2', '2026-03-31'),
      true,
    ],
    [
      'exactly a month ago is not longer ago',
      field('own_2', 'longer ago than', months(1)),
      has('own_2', '2026-02-28'),
      false,
    ],
    [
      'the day before is',
      field('own_2', 'longer ago than', months(1)),
      has('own_2', '2026-02-27'),
      true,
    ],
    ['no day is longer ago', field('own_2', 'longer ago than', months(1)), {}, false],
    [
      'the 29th comes round in other years',
      field('own_2', 'comes round in the next', days(2)),
      has('own_2', '2000-02-29'),
      true,
      '2026-02-27',
    ],
  ]));

describe('a tag', () => {
  const lately = (within: object) => ({ kind: 'tag', op: 'has', tags: [1], within });
  const since = (at: string): Person => ({
    tags: new Set([1]),
    tagPutOn: new Map([[1, Date.parse(at)]]),
  });
  table([
    ['is had', { kind: 'tag', op: 'has', tags: [1] }, { tags: new Set([1]) }, true],
    [
      'taken off is not, whenever it was put on',
      lately(days(9)),
      { ...since('2026-03-30T12:00:00Z'), tags: new Set() },
      false,
    ],
    ['put on again counts from then', lately(days(1)), since('2026-03-30T12:00:00Z'), true],
    ['of which it is not known when', lately(months(600)), { tags: new Set([1]) }, false],
    // Lisbon went an hour ahead on 29 March 2026.
    ['put on in the first minute of the day', lately(days(1)), since('2026-03-29T23:00:00Z'), true],
    [
      'in the last minute of the day before',
      lately(days(1)),
      since('2026-03-29T22:59:59.999Z'),
      false,
    ],
    ['before the clocks changed', lately(days(3)), since('2026-03-28T00:00:00Z'), true],
    [
      'none of two, with one',
      { kind: 'tag', op: 'has none of', tags: [1, 2] },
      { tags: new Set([2]) },
      false,
    ],
    ['none of two, with neither', { kind: 'tag', op: 'has none of', tags: [1, 2] }, {}, true],
    [
      'all of two, with one',
      { kind: 'tag', op: 'has all of', tags: [1, 2] },
      { tags: new Set([2]) },
      false,
    ],
  ]);
});

describe('topics, do not mail, standing', () => {
  const left = (on: string): Person => ({ doNotMail: { reason: 'left', on } });
  table([
    [
      'nobody dropped a topic by saying nothing',
      { kind: 'topic', op: 'wants', topics: [1] },
      {},
      true,
    ],
    [
      'of two, the other is wanted',
      { kind: 'topic', op: 'wants', topics: [1, 2] },
      { droppedTopics: new Set([1]) },
      true,
    ],
    [
      'of two, both are dropped',
      { kind: 'topic', op: 'wants', topics: [1, 2] },
      { droppedTopics: new Set([1, 2]) },
      false,
    ],
    [
      'another one was dropped',
      { kind: 'topic', op: 'has dropped', topics: [1] },
      { droppedTopics: new Set([2]) },
      false,
    ],
    ['any reason', { kind: 'do not mail', reasons: [] }, left('2020-01-01'), true],
    ['another reason', { kind: 'do not mail', reasons: ['complained'] }, left('2020-01-01'), false],
    [
      'since the end of last month',
      { kind: 'do not mail', reasons: [], within: months(1) },
      left('2026-02-28'),
      true,
    ],
    [
      'since longer',
      { kind: 'do not mail', reasons: [], within: months(1) },
      left('2026-02-27'),
      false,
    ],
    ['not on it', { kind: 'do not mail', reasons: [] }, {}, false],
    [
      'one of several standings',
      { kind: 'standing', any: ['no address', 'do not mail'] },
      { standing: 'no address' },
      true,
    ],
    ['none of them', { kind: 'standing', any: ['no address', 'do not mail'] }, {}, false],
  ]);
});

describe('how a rating went', () => {
  const rose = { kind: 'rating', op: 'rose', by: 20, within: 2 };
  const course = (...ratingCourse: (number | null)[]): Person => ({ ratingCourse });
  table([
    ['far enough', rose, course(50, 40, 30), true],
    ['a point too little', rose, course(49, 40, 30), false],
    ['from longer ago', rose, course(50, 45, 45, 10), false],
    ['from no rating at all', rose, course(50, null, null), false],
    ['and none now', rose, course(null, 20, 10), false],
    ['the other way', { ...rose, op: 'fell' }, course(30, 40, 50), true],
  ]);
});

describe('where somebody lives', () => {
  const mill = { name: 'Mill', lat: 38.7, lon: -9.1 };
  const near = (km: number, op = 'within', place: object = mill) => ({
    kind: 'place',
    op,
    km,
    place,
  });
  const at = (lat: number, lon: number): Person => ({ position: { lat, lon } });
  // A 360th of the way around the earth, in kilometres.
  const degree = 111.195;
  table([
    ['there', near(1), at(38.7, -9.1), true],
    ['a degree north, just far enough', near(degree + 0.001), at(39.7, -9.1), true],
    ['a degree north, a metre too far', near(degree - 0.001), at(39.7, -9.1), false],
    ['farther, the same metre', near(degree - 0.001, 'farther than'), at(39.7, -9.1), true],
    ['not known: not near', near(20_000), {}, false],
    ['not known: not far either', near(1, 'farther than'), {}, false],
    [
      'over the line where the days change',
      near(30, 'within', { name: 'Isle', lat: 0, lon: 179.9 }),
      at(0, -179.9),
      true,
    ],
    ['over the pole', near(30, 'within', { name: 'Ice', lat: 89.9, lon: 0 }), at(89.9, 180), true],
  ]);
});

describe('another segment', () => {
  const inside = (segment: number, op = 'is in') => ({ kind: 'segment', op, segment });
  const guest: Person = { tags: new Set([1]) };
  table([
    ['is in it', inside(1), guest, true],
    ['is not in it', inside(1), {}, false],
    ['is not in it, asked so', inside(1, 'is not in'), {}, true],
    ['is of another pool', inside(1), { ...guest, pool: 2 }, false],
    ['so is not in it', inside(1, 'is not in'), { ...guest, pool: 2 }, true],
    ['by one that asks for another', inside(3), guest, true],
    [
      'a member’s reaches only whom they see: a colleague’s',
      inside(2),
      { ...guest, values: { owner: '1' } },
      false,
    ],
    ['their own', inside(2), { ...guest, values: { owner: '7' } }, true],
    ['shared with them', inside(2), { ...guest, values: { owner: '1', shared_with: '3,7' } }, true],
    [
      'not one with such a number in it',
      inside(2),
      { ...guest, values: { owner: '1', shared_with: '77' } },
      false,
    ],
    ['listed by hand', inside(4), { listedIn: new Set([4]) }, true],
    ['listed by hand, of any pool', inside(4), { listedIn: new Set([4]), pool: 9 }, true],
    ['listed in another', inside(4), { listedIn: new Set([5]) }, false],
    ['everybody of other pools', inside(8), { pool: 3 }, true],
    ['everybody of other pools, from ours', inside(8), {}, false],
  ]);
  it.each([5, 7])('can’t be asked for where its rule can’t be used: %i', (segment) => {
    const rule = parseRule({ v: 1, root: asks(segment) }, context);
    if (!rule.ok) throw new Error(rule.error);
    expect(finds(rule.value, { ...nothing, ...guest }, context)).toBe(false);
  });
});

describe('a rule that asks for something that has lost its meaning', () => {
  const everybody = { kind: 'everybody' } as const;
  const lost: Group[] = [
    { of: 'all', items: [everybody, { kind: 'segment', op: 'is in', segment: 7 }] },
    { of: 'any', items: [everybody, { kind: 'segment', op: 'is in', segment: 7 }] },
    { of: 'none', items: [{ kind: 'segment', op: 'is in', segment: 7 }] },
    { of: 'all', items: [everybody, { kind: 'segment', op: 'is not in', segment: 7 }] },
  ];
  it.each(lost)('finds nobody and is not finished: %j', (root) => {
    const rule: Rule = { v: 1, root };
    expect(finds(rule, nothing, context)).toBe(false);
    expect(compileRule(rule, context)).toEqual(['false']);
    expect(unfinished(rule, context)).not.toEqual([]);
    const people = KeySet.of([1, 2, 3]);
    const held = leavesOf(root, context).map(() => people);
    expect(found(root, held, people, context).size).toBe(0);
    expect(sift(root, held, people, context).count).toBe(0);
  });
  it('asks no more for what is switched off', () => {
    const root: Group = {
      of: 'all',
      items: [everybody, { kind: 'segment', op: 'is in', segment: 7, off: true }],
    };
    expect(finds({ v: 1, root }, nothing, context)).toBe(true);
  });
});
