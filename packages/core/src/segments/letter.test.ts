// What is asked of letters and since campaigns, by a table: who is in, whatever became of the letter.
import {
  finds,
  parseRule,
  readback,
  trace,
  type CampaignInRule,
  type Condition,
  type LetterCondition,
  type LetterFact,
  type Person,
  type RuleContext,
} from './index.js';

const at = (text: string): number => Date.parse(text);
/** The latest first; of a proof, or one whose recipients are being fixed, rules never hear. */
const campaigns: readonly CampaignInRule[] = [
  { id: 4, name: 'Summer letter', at: at('2026-06-30T09:00:00Z'), links: [] },
  {
    id: 3,
    name: 'Spring letter',
    at: at('2026-03-29T09:00:00Z'),
    links: ['https://example.org/Plants?x=1', 'https://example.com/tours'],
  },
  { id: 2, name: 'Winter letter', at: at('2026-01-15T09:00:00Z'), links: ['https://example.org/'] },
  { id: 1, name: 'Autumn letter', at: at('2025-10-05T09:00:00Z'), links: [] },
];
const context: RuleContext = {
  fields: [],
  tags: [
    { id: 1, name: 'guest' },
    { id: 2, name: 'family' },
  ],
  topics: [],
  campaigns,
  segments: [],
  today: '2026-07-01',
  timeZone: 'Europe/Lisbon',
};

const letterTo = (campaign: number, more: Partial<LetterFact> = {}): LetterFact => ({
  campaign,
  sent: (campaigns.find(({ id }) => id === campaign)?.at ?? 0) + 60_000,
  delivered: true,
  opened: null,
  clicked: null,
  bounced: null,
  replied: null,
  left: null,
  machineOpened: false,
  machineClicked: false,
  links: [],
  machineLinks: [],
  ...more,
});
const then = at('2026-04-01T12:00:00Z');
const waiting = { sent: null, delivered: false };

const people = {
  'never sent anything': [],
  'got it, did nothing': [letterTo(3)],
  opened: [letterTo(3, { opened: then })],
  'a machine opened': [letterTo(3, { machineOpened: true })],
  // A person's click proves the opening, and is written down as one; of what came before that, nothing was.
  'clicked, no open known': [letterTo(3, { clicked: then, links: [0] })],
  'a machine clicked': [letterTo(3, { machineClicked: true, machineLinks: [1] })],
  'came back': [letterTo(3, { delivered: false, bounced: then })],
  'came back after an open': [letterTo(3, { delivered: false, bounced: then, opened: then })],
  replied: [letterTo(3, { replied: then })],
  'left by it': [letterTo(3, { left: then, opened: then })],
  uncertain: [letterTo(3, { delivered: false })],
  'being fixed, or stopped before it': [letterTo(3, waiting)],
  'got another one': [letterTo(2, { opened: then })],
} as const satisfies Record<string, readonly LetterFact[]>;
type Who = keyof typeof people;
const everyone = Object.keys(people) as Who[];

const person = (letters: readonly LetterFact[], more: Partial<Person> = {}): Person => ({
  letters,
  tags: new Set(),
  tagPutOn: new Map(),
  moments: { cameIn: 0, changed: 0 },
  ...more,
});
const read = (condition: object, words: RuleContext = context) =>
  parseRule({ v: 1, root: { of: 'all', items: [condition] } }, words);
const isIn = (condition: object, one: Person, words: RuleContext = context): boolean => {
  const rule = read(condition, words);
  if (!rule.ok) throw new Error(rule.error);
  return finds(rule.value, one, words);
};
const whoIs = (condition: object): Who[] =>
  everyone.filter((who) => isIn(condition, person(people[who])));
const said = (condition: object): string => {
  const rule = read(condition);
  if (!rule.ok) throw new Error(rule.error);
  return readback(rule.value, context)
    .map(({ text }) => text)
    .join('');
};

const spring = { in: 'these', campaigns: [3] };
const letter = (
  did: LetterCondition['did'],
  many: LetterCondition['many'] = 'any',
  more: object = {},
): object => ({ kind: 'letter', did, letters: spring, many, ...more });
const but = (...left: Who[]): Who[] => everyone.filter((who) => !left.includes(who));

describe('one letter', () => {
  it.each<[string, object, Who[]]>([
    [
      'was sent it: whatever was tried, and nothing that was not',
      letter('sent'),
      but('never sent anything', 'being fixed, or stopped before it', 'got another one'),
    ],
    [
      'was not sent it',
      letter('sent', 'none'),
      ['never sent anything', 'being fixed, or stopped before it', 'got another one'],
    ],
    [
      'got it: not what came back or is uncertain',
      letter('delivered'),
      [
        'got it, did nothing',
        'opened',
        'a machine opened',
        'clicked, no open known',
        'a machine clicked',
        'replied',
        'left by it',
      ],
    ],
    ['opened, by people', letter('opened'), ['opened', 'came back after an open', 'left by it']],
    [
      'opened, by machines, too',
      letter('opened', 'any', { machines: true }),
      ['opened', 'a machine opened', 'came back after an open', 'left by it'],
    ],
    [
      'did not open: whoever was never sent it, too',
      letter('opened', 'none'),
      but('opened', 'came back after an open', 'left by it'),
    ],
    [
      'got it and did not open',
      letter('not opened'),
      [
        'got it, did nothing',
        'a machine opened',
        'clicked, no open known',
        'a machine clicked',
        'replied',
      ],
    ],
    [
      'got it, and not even a machine opened',
      letter('not opened', 'any', { machines: true }),
      ['got it, did nothing', 'clicked, no open known', 'a machine clicked', 'replied'],
    ],
    ['clicked', letter('clicked'), ['clicked, no open known']],
    [
      'clicked, by machines, too',
      letter('clicked', 'any', { machines: true }),
      ['clicked, no open known', 'a machine clicked'],
    ],
    [
      'clicked a given link',
      letter('clicked', 'any', { link: { number: 0 } }),
      ['clicked, no open known'],
    ],
    ['clicked another link', letter('clicked', 'any', { link: { number: 1 } }), []],
    [
      'a machine clicked a given link',
      letter('clicked', 'any', { link: { number: 1 }, machines: true }),
      ['a machine clicked'],
    ],
    [
      'clicked a link whose address contains a text, without regard to case',
      letter('clicked', 'any', { link: { contains: ' plants?X ' } }),
      ['clicked, no open known'],
    ],
    [
      'clicked a link of no such address',
      letter('clicked', 'any', { link: { contains: 'fern' } }),
      [],
    ],
    ['bounced', letter('bounced'), ['came back', 'came back after an open']],
    ['replied', letter('replied'), ['replied']],
    ['left by it', letter('left'), ['left by it']],
  ])('%s', (_, condition, expected) => {
    expect(whoIs(condition)).toEqual(expected);
  });
});

describe('several letters', () => {
  const opened = (...ids: number[]): LetterFact[] =>
    [1, 2, 3].map((id) => letterTo(id, ids.includes(id) ? { opened: then } : {}));
  const these = (ids: number[]) => ({ in: 'these', campaigns: ids });
  it.each<[string, object, LetterFact[], boolean]>([
    ['any of them', { letters: these([1, 2]), many: 'any' }, opened(2), true],
    ['any of them, none is', { letters: these([1, 2]), many: 'any' }, opened(3), false],
    ['all of them', { letters: these([1, 2]), many: 'all' }, opened(1, 2), true],
    ['all of them, one lacks', { letters: these([1, 2]), many: 'all' }, opened(2, 3), false],
    ['none of them', { letters: these([1, 2]), many: 'none' }, opened(3), true],
    [
      'at least two of three',
      { letters: these([1, 2, 3]), many: { atLeast: 2 } },
      opened(1, 3),
      true,
    ],
    ['at least two, one is', { letters: these([1, 2, 3]), many: { atLeast: 2 } }, opened(1), false],
    ['at most one', { letters: these([1, 2, 3]), many: { atMost: 1 } }, opened(1), true],
    ['at most none of them', { letters: these([1, 2, 3]), many: { atMost: 0 } }, opened(1), false],
    [
      'at least more than there are',
      { letters: these([1, 2]), many: { atLeast: 3 } },
      opened(1, 2),
      false,
    ],
    [
      'the last one of the office, never sent to them',
      { letters: { in: 'last', count: 1, whose: 'of the office' }, many: 'any' },
      opened(3),
      false,
    ],
    [
      'the last two of the office',
      { letters: { in: 'last', count: 2, whose: 'of the office' }, many: 'any' },
      opened(3),
      true,
    ],
    [
      'all of the last of the office',
      { letters: { in: 'last', count: 2, whose: 'of the office' }, many: 'all' },
      opened(3),
      false,
    ],
    [
      'the last one that they were sent',
      { letters: { in: 'last', count: 1, whose: 'that they were sent' }, many: 'all' },
      opened(3),
      true,
    ],
    [
      'the last two that they were sent, one was opened',
      { letters: { in: 'last', count: 2, whose: 'that they were sent' }, many: 'all' },
      opened(3),
      false,
    ],
    [
      'all of the last nine that they were sent: there are three',
      { letters: { in: 'last', count: 9, whose: 'that they were sent' }, many: 'all' },
      opened(1, 2, 3),
      true,
    ],
    [
      'all of the last, and none was sent',
      { letters: { in: 'last', count: 9, whose: 'that they were sent' }, many: 'all' },
      [],
      false,
    ],
    [
      'none of the last, and none was sent',
      { letters: { in: 'last', count: 9, whose: 'that they were sent' }, many: 'none' },
      [],
      true,
    ],
    [
      'since a campaign, itself included',
      { letters: { in: 'since', campaign: 2 }, many: 'any' },
      opened(2),
      true,
    ],
    [
      'since a campaign, not the one before',
      { letters: { in: 'since', campaign: 2 }, many: 'any' },
      opened(1),
      false,
    ],
    ['ever', { letters: { in: 'ever' }, many: { atLeast: 3 } }, opened(1, 2, 3), true],
    [
      'ever, of none that the office knows no more',
      { letters: { in: 'ever' }, many: 'any' },
      [letterTo(99, { opened: then })],
      false,
    ],
  ])('%s', (_, more, letters, expected) => {
    expect(isIn({ kind: 'letter', did: 'opened', ...more }, person(letters))).toBe(expected);
  });

  it('counts days as the office does: both clock changes, month ends, the first and the last minute', () => {
    const lately = (today: string, started: string, within: object): boolean => {
      const words = {
        ...context,
        today,
        campaigns: [{ id: 1, name: 'Letter', at: at(started), links: [] }],
      };
      return isIn(
        { kind: 'letter', did: 'opened', letters: { in: 'lately', within }, many: 'any' },
        person([letterTo(1, { opened: then })]),
        words,
      );
    };
    const days = (count: number) => ({ count, unit: 'days' });
    const months = (count: number) => ({ count, unit: 'months' });
    // Lisbon is on UTC in winter and an hour before it in summer.
    expect(lately('2026-03-29', '2026-03-28T00:00:00Z', days(1))).toBe(true);
    expect(lately('2026-03-29', '2026-03-27T23:59:59.999Z', days(1))).toBe(false);
    expect(lately('2026-03-30', '2026-03-29T23:00:00Z', days(0))).toBe(true);
    expect(lately('2026-03-30', '2026-03-29T22:59:59.999Z', days(0))).toBe(false);
    expect(lately('2026-10-25', '2026-10-24T23:00:00Z', days(0))).toBe(true);
    expect(lately('2026-10-26', '2026-10-26T00:00:00Z', days(0))).toBe(true);
    expect(lately('2026-10-26', '2026-10-25T23:59:59.999Z', days(0))).toBe(false);
    // A month before 31 March is the last day of February.
    expect(lately('2026-03-31', '2026-02-28T00:00:00Z', months(1))).toBe(true);
    expect(lately('2026-03-31', '2026-02-27T23:59:59.999Z', months(1))).toBe(false);
    expect(lately('2024-03-29', '2024-02-29T00:00:00Z', months(1))).toBe(true);
    expect(lately('2025-02-28', '2024-02-28T00:00:00Z', months(12))).toBe(true);
    expect(lately('2024-02-29', '2023-02-28T00:00:00Z', months(12))).toBe(true);
    expect(lately('2024-02-29', '2023-02-27T23:59:59.999Z', months(12))).toBe(false);
  });
});

describe('since a campaign', () => {
  const summer = at('2026-06-30T09:00:00Z');
  const came = (moment: number): Person => person([], { moments: { cameIn: moment, changed: 0 } });
  const tagged = (tags: Record<number, number>, has: number[]): Person =>
    person([], {
      tags: new Set(has),
      tagPutOn: new Map(Object.entries(tags).map(([tag, moment]) => [Number(tag), moment])),
    });
  it.each<[string, object, Person, boolean]>([
    ['came in just as it began', { did: 'came in', campaign: 'latest' }, came(summer), true],
    ['came in the moment before', { did: 'came in', campaign: 'latest' }, came(summer - 1), false],
    ['came in since a given one', { did: 'came in', campaign: 3 }, came(summer - 1), true],
    [
      'changed since',
      { did: 'changed', campaign: 'latest' },
      person([], { moments: { cameIn: 0, changed: summer } }),
      true,
    ],
    ['tagged since, with any', { did: 'tagged', campaign: 4 }, tagged({ 2: summer }, [2]), true],
    [
      'tagged since, and taken off again',
      { did: 'tagged', campaign: 4 },
      tagged({ 2: summer }, []),
      false,
    ],
    [
      'tagged since, taken off and put on again',
      { did: 'tagged', campaign: 4, tags: [1] },
      tagged({ 1: summer + 5 }, [1]),
      true,
    ],
    [
      'tagged before',
      { did: 'tagged', campaign: 4, tags: [1] },
      tagged({ 1: summer - 1 }, [1]),
      false,
    ],
    [
      'tagged since with another',
      { did: 'tagged', campaign: 4, tags: [1] },
      tagged({ 1: 0, 2: summer }, [1, 2]),
      false,
    ],
    [
      'has it, and nobody knows since when',
      { did: 'tagged', campaign: 4, tags: [1] },
      tagged({}, [1]),
      false,
    ],
  ])('%s', (_, more, one, expected) => {
    expect(isIn({ kind: 'since', ...more }, one)).toBe(expected);
  });

  it('finds nobody before the first campaign, and says so', () => {
    const words = { ...context, campaigns: [] };
    const latest = { kind: 'since', did: 'came in', campaign: 'latest' };
    expect(isIn(latest, came(summer), words)).toBe(false);
    const rule = read(latest, words);
    expect(
      rule.ok &&
        readback(rule.value, words)
          .map(({ text }) => text)
          .join(''),
    ).toContain('none has gone out yet');
  });
});

it('says in words which letters, how many, and who is in without having been sent one', () => {
  expect(said(letter('opened', 'none'))).toBe(
    'People who did not open Spring letter (or were never sent it).',
  );
  expect(said(letter('not opened'))).toBe('People who got and did not open Spring letter.');
  expect(said(letter('sent', 'none'))).toBe('People who were not sent Spring letter.');
  expect(
    said({
      kind: 'letter',
      did: 'opened',
      letters: { in: 'these', campaigns: [3, 2] },
      many: 'all',
    }),
  ).toBe('People who opened all of Spring letter and Winter letter.');
  expect(
    said({
      kind: 'letter',
      did: 'opened',
      letters: { in: 'last', count: 5, whose: 'of the office' },
      many: { atLeast: 2 },
      machines: true,
    }),
  ).toBe(
    'People who opened at least 2 letters of the last 5 letters of the office, by machines, too.',
  );
  expect(said({ kind: 'letter', did: 'opened', letters: { in: 'ever' }, many: 'none' })).toBe(
    'People who did not open any letter at all (or were never sent it).',
  );
  expect(said({ kind: 'since', did: 'came in', campaign: 'latest' })).toBe(
    'People who came in since the latest campaign (Summer letter, 30 June 2026).',
  );
});

it('says of one person what it saw', () => {
  const saw = (condition: object, letters: readonly LetterFact[]): string | undefined => {
    const rule = read(condition);
    if (!rule.ok) throw new Error(rule.error);
    return trace(rule.value.root, person(letters), context).items?.[0]?.saw;
  };
  expect(saw(letter('opened', 'none'), people.opened)).toBe(
    'Spring letter: opened on 1 April 2026',
  );
  expect(saw(letter('opened'), people['got it, did nothing'])).toBe(
    'Spring letter: arrived, not opened',
  );
  expect(saw(letter('opened'), [])).toBe('was sent none of these letters');
});

it.each<[string, Record<string, unknown>]>([
  ['a deed that is none', { kind: 'letter', did: 'eaten', letters: spring, many: 'any' }],
  [
    'a campaign that did not go out',
    { kind: 'letter', did: 'opened', letters: { in: 'these', campaigns: [9] }, many: 'any' },
  ],
  [
    'campaigns that are no list',
    { kind: 'letter', did: 'opened', letters: { in: 'these', campaigns: 3 }, many: 'any' },
  ],
  ['letters that are none', { kind: 'letter', did: 'opened', letters: null, many: 'any' }],
  [
    'too many of the last',
    {
      kind: 'letter',
      did: 'opened',
      letters: { in: 'last', count: 51, whose: 'of the office' },
      many: 'any',
    },
  ],
  ['at least nought', { kind: 'letter', did: 'opened', letters: spring, many: { atLeast: 0 } }],
  [
    'a link by number of several campaigns',
    { kind: 'letter', did: 'clicked', letters: { in: 'ever' }, many: 'any', link: { number: 0 } },
  ],
  ['a campaign since that is none', { kind: 'since', did: 'came in', campaign: 77 }],
  ['a tag since that is none', { kind: 'since', did: 'tagged', campaign: 3, tags: [9] }],
])('refuses %s with the place', (_, condition) => {
  expect(read(condition)).toMatchObject({
    ok: false,
    error: expect.stringContaining('condition 1'),
  });
});

it('is unfinished until it says which letters', () => {
  const open: Condition = {
    kind: 'letter',
    did: 'opened',
    letters: { in: 'these', campaigns: [] },
    many: 'any',
  };
  expect(isIn(open, person([]))).toBe(false);
});
