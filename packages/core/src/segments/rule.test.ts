import { builtInFields, type Field } from '../contacts/index.js';
import {
  compile,
  compileRule,
  emptyRule,
  finds,
  holds,
  isActive,
  parseRule,
  readback,
  trace,
  reader,
  segmentDepth,
  segmentsNamed,
  tooHeavy,
  unfinished,
  weightOf,
  type Group,
  type Person,
  type RuleContext,
  type RuleNode,
  type SegmentInRule,
} from './index.js';

const own: Field[] = [
  { key: 'own_1', label: 'likes', type: 'text' },
  { key: 'own_2', label: 'visits', type: 'number' },
  { key: 'own_3', label: 'member until', type: 'date' },
  { key: 'own_4', label: 'has a dog', type: 'yes or no' },
];
const context: RuleContext = {
  fields: [
    ...builtInFields({
      owners: [
        { key: '1', label: 'Ines' },
        { key: '2', label: 'Kasimir' },
      ],
    }),
    ...own,
  ],
  tags: [
    { id: 1, name: 'guest' },
    { id: 2, name: 'family' },
    { id: 3, name: 'school' },
  ],
  topics: [{ id: 1, name: 'Newsletter' }],
  campaigns: [],
  segments: [],
  today: '2026-03-10',
  timeZone: 'UTC',
};

const person = (values: Person['values'], ...tags: number[]): Person => ({
  values,
  tags: new Set(tags),
  tagPutOn: new Map(tags.map((tag) => [tag, Date.parse('2026-03-03T12:00:00Z')])),
  standing: 'may be mailed',
  doNotMail: null,
  droppedTopics: new Set(),
});
const all = (...items: RuleNode[]): Group => ({ of: 'all', items });
const any = (...items: RuleNode[]): Group => ({ of: 'any', items });
const none = (...items: RuleNode[]): Group => ({ of: 'none', items });
const text = (group: Group): string =>
  readback({ v: 1, root: group }, context)
    .map((phrase) => phrase.text)
    .join('');

const guest: RuleNode = { kind: 'tag', op: 'has', tags: [1] };
const inMillrace: RuleNode = { kind: 'field', field: 'town', op: 'is', value: 'Millrace' };

describe('a rule for one person', () => {
  const ada = person(
    {
      town: 'MILLRACE',
      own_1: 'Old roses',
      own_2: 3,
      own_3: '2026-03-20',
      own_4: true,
      permission: 'asked',
      owner: '1',
      came_in: '2026-03-01',
    },
    1,
    2,
  );
  const nobody = person({});
  it.each<[string, RuleNode, boolean, boolean]>([
    ['has a tag', guest, true, false],
    ['has not', { kind: 'tag', op: 'has not', tags: [1] }, false, true],
    ['has all of', { kind: 'tag', op: 'has all of', tags: [1, 2] }, true, false],
    ['has all of, one missing', { kind: 'tag', op: 'has all of', tags: [1, 3] }, false, false],
    ['has any of', { kind: 'tag', op: 'has any of', tags: [3, 2] }, true, false],
    ['has none of', { kind: 'tag', op: 'has none of', tags: [3] }, true, true],
    ['text is, without regard to case', inMillrace, true, false],
    [
      'text is not includes people without a value',
      { kind: 'field', field: 'town', op: 'is not', value: 'Ashwick' },
      true,
      true,
    ],
    ['contains', { kind: 'field', field: 'own_1', op: 'contains', value: 'ROSE' }, true, false],
    [
      'does not contain includes the empty',
      { kind: 'field', field: 'own_1', op: 'does not contain', value: 'fern' },
      true,
      true,
    ],
    [
      'starts with',
      { kind: 'field', field: 'own_1', op: 'starts with', value: 'old' },
      true,
      false,
    ],
    [
      'a text between two, with what begins like the second',
      { kind: 'field', field: 'town', op: 'between', value: ['ash', 'mill'] },
      true,
      false,
    ],
    [
      'a text before the first of two',
      { kind: 'field', field: 'town', op: 'between', value: ['millrace a', 'z'] },
      false,
      false,
    ],
    ['is empty', { kind: 'field', field: 'town', op: 'is empty' }, false, true],
    ['is filled', { kind: 'field', field: 'town', op: 'is filled' }, true, false],
    ['number is', { kind: 'field', field: 'own_2', op: 'is', value: 3 }, true, false],
    [
      'more than is strict',
      { kind: 'field', field: 'own_2', op: 'more than', value: 3 },
      false,
      false,
    ],
    ['less than', { kind: 'field', field: 'own_2', op: 'less than', value: 4 }, true, false],
    [
      'before is strict',
      { kind: 'field', field: 'own_3', op: 'before', value: '2026-03-20' },
      false,
      false,
    ],
    ['after', { kind: 'field', field: 'own_3', op: 'after', value: '2026-03-19' }, true, false],
    [
      'in the next days, the last included',
      { kind: 'field', field: 'own_3', op: 'in the next', value: { count: 10, unit: 'days' } },
      true,
      false,
    ],
    [
      'in the next days, one too few',
      { kind: 'field', field: 'own_3', op: 'in the next', value: { count: 9, unit: 'days' } },
      false,
      false,
    ],
    [
      'in the last days',
      { kind: 'field', field: 'came_in', op: 'in the last', value: { count: 9, unit: 'days' } },
      true,
      false,
    ],
    ['is yes', { kind: 'field', field: 'own_4', op: 'is yes' }, true, false],
    ['is no is not empty', { kind: 'field', field: 'own_4', op: 'is no' }, false, false],
    [
      'is one of',
      { kind: 'field', field: 'permission', op: 'is one of', value: ['asked', 'customer'] },
      true,
      false,
    ],
    [
      'is none of includes the empty',
      { kind: 'field', field: 'owner', op: 'is none of', value: ['2'] },
      true,
      true,
    ],
    ['an empty group sifts nobody out', all(guest, any()), true, false],
    ['what is switched off is not asked', all({ ...guest, off: true }, inMillrace), true, false],
    ['nor a group that is', all(guest, { ...none(guest), off: true }), true, false],
    ['at least', { kind: 'field', field: 'own_2', op: 'at least', value: 3 }, true, false],
    ['at most', { kind: 'field', field: 'own_2', op: 'at most', value: 2 }, false, false],
    ['between', { kind: 'field', field: 'own_2', op: 'between', value: [3, 5] }, true, false],
    ['ends with', { kind: 'field', field: 'own_1', op: 'ends with', value: 'ROSES' }, true, false],
    [
      'text is one of',
      { kind: 'field', field: 'town', op: 'is one of', value: ['Ashwick', 'millrace'] },
      true,
      false,
    ],
    [
      'text is none of includes the empty',
      { kind: 'field', field: 'town', op: 'is none of', value: ['Ashwick'] },
      true,
      true,
    ],
    [
      'between days',
      { kind: 'field', field: 'own_3', op: 'between', value: ['2026-03-20', '2026-03-21'] },
      true,
      false,
    ],
    [
      'longer ago than is strict',
      {
        kind: 'field',
        field: 'came_in',
        op: 'longer ago than',
        value: { count: 9, unit: 'days' },
      },
      false,
      false,
    ],
    [
      'within weeks',
      { kind: 'field', field: 'own_3', op: 'in the next', value: { count: 2, unit: 'weeks' } },
      true,
      false,
    ],
    [
      'a month of any year',
      { kind: 'field', field: 'own_3', op: 'is in the month', value: 3 },
      true,
      false,
    ],
    [
      'a day of any year',
      { kind: 'field', field: 'own_3', op: 'is on the day', value: '03-20' },
      true,
      false,
    ],
    [
      'tagged within the last days',
      { kind: 'tag', op: 'has', tags: [1], within: { count: 7, unit: 'days' } },
      true,
      false,
    ],
    [
      'tagged longer ago',
      { kind: 'tag', op: 'has', tags: [1], within: { count: 6, unit: 'days' } },
      false,
      false,
    ],
    ['may be mailed', { kind: 'standing', any: ['may be mailed'] }, true, true],
    ['is on do not mail', { kind: 'do not mail', reasons: [] }, false, false],
    ['wants a topic', { kind: 'topic', op: 'wants', topics: [1] }, true, true],
    ['has dropped a topic', { kind: 'topic', op: 'has dropped', topics: [1] }, false, false],
    ['everybody', { kind: 'everybody' }, true, true],
    ['all of', all(guest, inMillrace), true, false],
    ['any of', any({ kind: 'tag', op: 'has', tags: [3] }, inMillrace), true, false],
    ['none of', none(guest), false, true],
    [
      'unfinished sifts nobody',
      all(guest, { kind: 'field', field: 'town', op: 'is' }),
      true,
      false,
    ],
    [
      'an unfinished negation sifts nobody either',
      all(guest, none({ kind: 'tag', op: 'has', tags: [] })),
      true,
      false,
    ],
  ])('%s', (_, node, forAda, forNobody) => {
    expect(holds(node, ada, context)).toBe(forAda);
    expect(holds(node, nobody, context)).toBe(forNobody);
  });
});

describe('reading a rule', () => {
  it('keeps what it understands', () => {
    const raw = {
      v: 1,
      root: { of: 'any', items: [guest, { of: 'none', items: [inMillrace] }] },
      extra: 'dropped',
    };
    expect(parseRule(raw, context)).toEqual({
      ok: true,
      value: { v: 1, root: any(guest, none(inMillrace)) },
    });
    expect(parseRule(emptyRule, context).ok).toBe(true);
  });

  it.each<[string, unknown, RegExp]>([
    ['another version', { v: 2, root: {} }, /version/],
    ['no object', 'everybody', /version/],
    [
      'an unknown field',
      { v: 1, root: all({ kind: 'field', field: 'shoe_size', op: 'is', value: 'x' }) },
      /condition 1: there is no field “shoe_size”/,
    ],
    [
      'a tag that is gone',
      { v: 1, root: all(any({ kind: 'tag', op: 'has', tags: [9] })) },
      /condition 1.1: one of its tags no longer exists/,
    ],
    [
      'an operator of another type',
      { v: 1, root: all({ kind: 'field', field: 'own_2', op: 'contains', value: 'x' }) },
      /can't be asked that way/,
    ],
    [
      'a wrong kind of value',
      { v: 1, root: all({ kind: 'field', field: 'own_2', op: 'is', value: 'x' }) },
      /needs a number/,
    ],
    [
      'a day that is none',
      { v: 1, root: all({ kind: 'field', field: 'own_3', op: 'is', value: '2026-02-30' }) },
      /needs a day/,
    ],
    ['an unknown kind', { v: 1, root: { of: 'all', items: [{ kind: 'weather' }] } }, /not known/],
    ['a condition at the outside', { v: 1, root: guest }, /must be a group/],
    ['a hole', { v: 1, root: { of: 'all', items: [null] } }, /condition 1 is missing/],
  ])('refuses %s', (_, raw, message) =>
    expect(parseRule(raw, context)).toMatchObject({
      ok: false,
      error: expect.stringMatching(message),
    }),
  );

  it('refuses what is nested without end', () => {
    let node: RuleNode = all();
    for (let depth = 0; depth < 20; depth++) node = all(node);
    expect(parseRule({ v: 1, root: node }, context).ok).toBe(false);
  });

  it('names unfinished conditions by their place', () => {
    expect(
      unfinished(
        {
          v: 1,
          root: all(
            guest,
            any(
              { kind: 'tag', op: 'has', tags: [] },
              { kind: 'field', field: 'town', op: 'is', value: '  ' },
            ),
          ),
        },
        context,
      ),
    ).toEqual(['1.0', '1.1']);
    expect(unfinished({ v: 1, root: all(guest, any()) }, context)).toEqual(['1']);
    expect(unfinished({ v: 1, root: all({ ...any(), off: true }) }, context)).toEqual(['']);
    expect(unfinished(emptyRule, context)).toEqual(['']);
  });
});

describe('the rule in plain words', () => {
  it.each<[Group, string]>([
    [all(), 'Nobody yet: the rule asks for nothing.'],
    [any(), 'Nobody yet: the rule asks for nothing.'],
    [none(), 'Nobody yet: the rule asks for nothing.'],
    [all({ ...guest, off: true }), 'Nobody yet: the rule asks for nothing.'],
    [all({ kind: 'everybody' }), 'People who are in the pool.'],
    [
      all({ kind: 'tag', op: 'has', tags: [1], within: { count: 1, unit: 'weeks' } }),
      'People tagged guest within the last 1 week.',
    ],
    [
      all({ kind: 'field', field: 'town', op: 'is one of', value: [...'abcdefgh'] }),
      'People whose town is a or b or c or d or one of 4 more.',
    ],
    [
      all({ kind: 'field', field: 'own_3', op: 'is on the day', value: '02-29' }),
      'People whose member until is on 29 February of any year.',
    ],
    [
      all({ kind: 'do not mail', reasons: ['left'], within: { count: 2, unit: 'months' } }),
      'People who are on do not mail because left since 2 months at most.',
    ],
    [all(guest, inMillrace), 'People tagged guest and whose town is Millrace.'],
    [any(guest, inMillrace), 'People tagged guest or whose town is Millrace.'],
    [
      all(guest, any(inMillrace, { kind: 'tag', op: 'has', tags: [2] })),
      'People tagged guest and (whose town is Millrace or tagged family).',
    ],
    [
      all(guest, none(inMillrace, { kind: 'tag', op: 'has', tags: [3] })),
      'People tagged guest, but not those whose town is Millrace or those tagged school.',
    ],
    [none(guest), 'Everybody, but not those tagged guest.'],
    [
      all(none(guest), inMillrace),
      'Everybody, but not those tagged guest and whose town is Millrace.',
    ],
    [
      all({ kind: 'field', field: 'town', op: 'is not', value: 'Ashwick' }),
      'People whose town is not Ashwick (or is empty).',
    ],
    [
      all({ kind: 'field', field: 'permission', op: 'is one of', value: ['asked', 'customer'] }),
      'People whose permission is asked for it or customer.',
    ],
    [all({ kind: 'tag', op: 'has all of', tags: [1, 2] }), 'People tagged guest and family.'],
    [
      all({ kind: 'field', field: 'own_3', op: 'in the next', value: { count: 30, unit: 'days' } }),
      'People whose member until is within the next 30 days.',
    ],
    [all({ kind: 'field', field: 'own_1', op: 'is empty' }), 'People with no likes.'],
  ])('%#: %s', (group, expected) => expect(text(group)).toBe(expected));

  it('says where each clause comes from', () => {
    const phrases = readback({ v: 1, root: all(guest, any(inMillrace, guest)) }, context);
    expect(phrases.filter(({ strong }) => strong).map(({ path }) => path)).toEqual([
      '0',
      '1.0',
      '1.1',
    ]);
  });
});

describe('why a person is in or out', () => {
  it('says of each part whether it holds', () => {
    const result = trace(
      all(guest, any(inMillrace, none(guest))),
      person({ town: 'Ashwick' }, 1),
      context,
    );
    expect(result).toMatchObject({
      path: '',
      holds: false,
      items: [
        { path: '0', holds: true },
        {
          path: '1',
          holds: false,
          items: [
            { path: '1.0', holds: false },
            { path: '1.1', holds: false, items: [{ path: '1.1.0', holds: true }] },
          ],
        },
      ],
    });
  });
});

describe('the rule as SQL', () => {
  it('never carries a value in its text', () => {
    const nasty = "x'); drop table contacts; --%_\\";
    const pieces = compile(
      all(
        { kind: 'field', field: 'town', op: 'contains', value: nasty },
        { kind: 'field', field: 'own_1', op: 'is', value: nasty },
      ),
      context,
    );
    const sql = pieces.filter((piece) => typeof piece === 'string').join('');
    expect(sql).not.toContain('drop');
    expect(pieces).toContainEqual({
      param: "x'); drop table contacts; --%_\\",
      type: 'text',
    });
  });
});

describe('the size of a rule', () => {
  const read = (root: Group) => parseRule({ v: 1, root }, context);
  it('has an end in conditions, and in groups', () => {
    expect(read(all(...Array.from({ length: 200 }, () => guest))).ok).toBe(true);
    expect(read(all(...Array.from({ length: 201 }, () => guest)))).toMatchObject({
      ok: false,
      error: expect.stringContaining('more than 200 conditions'),
    });
    expect(read(any(...Array.from({ length: 199 }, () => all(guest)))).ok).toBe(true);
    expect(read(any(...Array.from({ length: 1500 }, () => any())))).toMatchObject({
      ok: false,
      error: expect.stringContaining('more than 200 groups'),
    });
  });

  it('has an end in depth', () => {
    let node: RuleNode = guest;
    for (let depth = 1; depth <= 12; depth++) node = all(node);
    expect(parseRule({ v: 1, root: node }, context).ok).toBe(true);
    expect(parseRule({ v: 1, root: all(node) }, context)).toMatchObject({
      ok: false,
      error: expect.stringContaining('deeper than 12 groups'),
    });
  });

  it('is weighed by the length of what is looked through, and of what is sought', () => {
    const weight = (field: string, value: string, op = 'contains'): number =>
      weightOf({ kind: 'field', field, op, value } as RuleNode, {
        ...context,
        fields: [
          ...context.fields,
          { key: 'notes', label: 'Notes', type: 'long text' },
          { key: 'tel', label: 'Telephone', type: 'phone' },
        ],
      });
    expect([
      weight('town', 'x'),
      weight('town', 'x'.repeat(1000)),
      weight('town', 'x'.repeat(1000), 'is'),
      weight('tel', '12'),
      weight('notes', 'x'),
      weight('notes', 'x'.repeat(1000)),
    ]).toEqual([1, 6, 1, 3, 40, 240]);
  });

  it('is weighed by what it looks at: each tag of “has all of” is a look of its own', () => {
    const every: RuleNode = { kind: 'tag', op: 'has all of', tags: [1, 2, 3] };
    const some: RuleNode = { kind: 'tag', op: 'has any of', tags: [1, 2, 3] };
    expect([
      weightOf(guest, context),
      weightOf(every, context),
      weightOf(some, context),
      weightOf(all(every, none(some, inMillrace)), context),
    ]).toEqual([1, 3, 1, 5]);
    const heavy = (count: number): string | undefined =>
      tooHeavy({ v: 1, root: all(...Array.from({ length: count }, () => every)) }, context);
    expect(heavy(133)).toBeUndefined();
    expect(heavy(134)).toContain('more than 400 looks');
    // What is in use already is read all the same.
    expect(read(all(...Array.from({ length: 134 }, () => every))).ok).toBe(true);
  });

  it('has an end with the segments that it asks for, each of which is read once', () => {
    let reads = 0;
    // Each asks twice for the one before it.
    const segments = Array.from({ length: 18 }, (_, id): SegmentInRule => {
      const root =
        id === 0
          ? all(guest)
          : all(...[1, 2].map((): RuleNode => ({ kind: 'segment', op: 'is in', segment: id - 1 })));
      const read = reader({ v: 1, root });
      return {
        id,
        name: `${id}`,
        kind: 'live',
        pools: [],
        read: (inThis) => {
          reads++;
          return read(inThis);
        },
      };
    });
    const asking = (segment: number) =>
      parseRule(
        { v: 1, root: all({ kind: 'segment', op: 'is in', segment }) },
        { ...context, segments },
      );
    expect(asking(6).ok).toBe(true);
    expect(reads).toBe(7);
    reads = 0;
    const far = asking(17);
    expect(far.ok && unfinished(far.value, { ...context, segments })).toEqual(['', '0']);
    expect(reads).toBeLessThanOrEqual(2 * 18);
  });

  it('takes 20,000 texts to compare with, and says what to do with more', () => {
    const among = (count: number) =>
      read(
        all({
          kind: 'field',
          field: 'address',
          op: 'is one of',
          value: Array.from({ length: count }, (_, at) => `a${at}@example.com`),
        }),
      );
    expect(among(20_000).ok).toBe(true);
    expect(among(20_001)).toMatchObject({
      ok: false,
      error: expect.stringMatching(/20,001 texts, and 20,000 are the most. Import them/),
    });
  });
});

describe('a rule that finds', () => {
  const finding = (root: Group): boolean =>
    finds({ v: 1, root }, person({ town: 'x' }, 1), context);
  it.each<[string, Group, boolean]>([
    ['nobody while it asks for nothing', all(), false],
    ['nobody by a group without conditions', any(all(), none()), false],
    ['nobody by what is unfinished', none({ kind: 'tag', op: 'has', tags: [] }), false],
    ['nobody by what is switched off', all({ ...guest, off: true }), false],
    ['nobody when it is switched off as a whole', { ...all(guest), off: true }, false],
    ['everybody in words', all({ kind: 'everybody' }), true],
    ['all but some', none(inMillrace), true],
  ])('%s', (_, root, expected) => {
    expect(finding(root)).toBe(expected);
    const sql = compileRule({ v: 1, root }, context);
    if (!isActive(root, context)) expect(sql).toEqual(['false']);
  });
});

describe('a rule of an older version', () => {
  it('counts days where there were no weeks', () =>
    expect(
      parseRule(
        {
          v: 1,
          root: {
            of: 'all',
            items: [{ kind: 'field', field: 'own_3', op: 'in the next days', value: 30 }],
          },
        },
        context,
      ),
    ).toMatchObject({
      value: { root: { items: [{ op: 'in the next', value: { count: 30, unit: 'days' } }] } },
    }));
});

describe('days that come round', () => {
  const on = (today: string, days: number, day: string): boolean =>
    holds(
      {
        kind: 'field',
        field: 'own_3',
        op: 'comes round in the next',
        value: { count: days, unit: 'days' },
      },
      person({ own_3: day }),
      { ...context, today },
    );
  it.each([
    ['2026-03-10', 5, '1980-03-10', true],
    ['2026-03-10', 5, '1980-03-15', true],
    ['2026-03-10', 5, '1980-03-16', false],
    ['2026-03-10', 5, '1980-03-09', false],
    ['2026-12-28', 10, '1980-01-07', true],
    ['2026-12-28', 10, '1980-12-31', true],
    ['2026-12-28', 10, '1980-06-01', false],
    ['2026-02-27', 3, '1980-02-29', true],
    ['2026-03-10', 400, '1980-06-01', true],
  ])('from %s, %i days on: %s %s', (today, days, day, expected) =>
    expect(on(today, days, day)).toBe(expected),
  );
});

describe('a field whose kind has changed', () => {
  const guest = { key: 'c1', label: 'Guest' };
  const donor = { key: 'c2', label: 'Donor' };
  const as = (field: Partial<Field>): RuleContext => ({
    ...context,
    fields: [...context.fields, { key: 'own_70', label: 'kind', type: 'text', ...field }],
  });
  const choice = as({ type: 'choice', choices: [guest, donor] });
  const choices = as({ type: 'choices', choices: [guest, donor] });
  const text = as({ formerChoices: [guest, donor] });
  const asked = (op: string, value: unknown, within: RuleContext) => {
    const rule = parseRule(
      { v: 1, root: { of: 'all', items: [{ kind: 'field', field: 'own_70', op, value }] } },
      within,
    );
    if (!rule.ok) return rule.error;
    const [only] = rule.value.root.items as unknown as { op: string; value: unknown }[];
    return { op: only?.op, value: only?.value, open: unfinished(rule.value, within).length > 0 };
  };
  it.each<[string, string, unknown, RuleContext, object]>([
    [
      'texts',
      'is one of',
      ['guest', 'Donor'],
      choice,
      { op: 'is one of', value: ['c1', 'c2'], open: false },
    ],
    ['texts', 'is none of', ['guest'], choice, { op: 'is none of', value: ['c1'], open: false }],
    ['a text', 'is not', 'GUEST', choice, { op: 'is none of', value: ['c1'], open: false }],
    [
      'a text that is no choice',
      'is not',
      'nobody',
      choice,
      { op: 'is none of', value: [], open: true },
    ],
    [
      'a text that is no choice',
      'is none of',
      ['Guest', 'nobody'],
      choice,
      { op: 'is none of', value: ['c1', 'nobody'], open: true },
    ],
    ['texts', 'is one of', ['guest'], choices, { op: 'has any of', value: ['c1'], open: false }],
    [
      'texts',
      'is none of',
      ['nobody'],
      choices,
      { op: 'has none of', value: ['nobody'], open: true },
    ],
    [
      'choices',
      'is one of',
      ['c1', 'c2'],
      text,
      { op: 'is one of', value: ['Guest', 'Donor'], open: false },
    ],
    ['choices', 'is none of', ['c2'], text, { op: 'is none of', value: ['Donor'], open: false }],
    ['a text like any other', 'is', 'Rose', text, { op: 'is', value: 'Rose', open: false }],
  ])('asks the same of %s, %s %j', (_, op, value, within, expected) => {
    expect(asked(op, value, within)).toEqual(expected);
  });
});

describe('segments that ask for segments', () => {
  const asks = (segment: number): RuleNode => ({ kind: 'segment', op: 'is in', segment });
  const rule = (...segments: number[]) => ({ v: 1 as const, root: all(...segments.map(asks)) });

  it.each<[string, readonly number[], Record<number, number[]>, number]>([
    ['none', [], {}, 0],
    ['one that asks for none', [1], {}, 1],
    ['a chain', [3], { 3: [2], 2: [1] }, 3],
    ['the longer of two ways', [1, 4], { 4: [3, 1], 3: [2], 2: [1] }, 4],
    ['a circle, which ends', [1], { 1: [2], 2: [1] }, 2],
  ])('lead so deep: %s', (_, first, further, depth) => {
    expect(segmentDepth(rule(...first), (id) => further[id] ?? [])).toBe(depth);
  });

  it('lead as deep as there are segments, without a stack of calls', () => {
    expect(segmentDepth(rule(50_000), (id) => (id > 1 ? [id - 1] : []))).toBe(50_000);
  });

  it('are named anywhere in what is received, and by keys alone', () => {
    const raw = [
      rule(3),
      { deep: { down: [asks(5), { kind: 'segment', segment: '7' }, { kind: 'tag', segment: 8 }] } },
      { kind: 'segment', segment: 1e20 },
      { kind: 'segment', segment: -1 },
      null,
      'segment',
    ];
    expect([...segmentsNamed(raw)].sort()).toEqual([3, 5]);
  });
});
