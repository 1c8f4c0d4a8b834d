import { builtInFields, type Field } from '../contacts/index.js';
import {
  readSegmentFile,
  segmentFile,
  type FileWords,
  type Rule,
  type RuleContext,
} from './index.js';

/** An office, with keys of its own for the same names. */
function office(shift: number, owner: string): { words: FileWords; context: RuleContext } {
  const own: Field[] = [
    { key: `own_${1 + shift}`, label: 'Likes', type: 'text' },
    {
      key: `own_${2 + shift}`,
      label: 'Size',
      type: 'choice',
      choices: [
        { key: `c${1 + shift}`, label: 'small' },
        { key: `c${2 + shift}`, label: 'large' },
      ],
    },
  ];
  const words: FileWords = {
    fields: [...builtInFields({ owners: [{ key: owner, label: 'Ines' }] }), ...own],
    tags: [{ id: 5 + shift, name: 'guest' }],
    topics: [{ id: 7 + shift, name: 'Offers' }],
    campaigns: [{ id: 11 + shift, name: 'Spring letter', at: 0, links: [] }],
    segments: [{ id: 13 + shift, name: 'Near', kind: 'fixed', pools: [1] }],
    pools: [{ id: 1 + shift, name: 'house' }],
    office: `office ${shift}`,
  };
  return { words, context: { ...words, today: '2026-03-10', timeZone: 'UTC' } };
}

const rule = (shift: number, owner: string): Rule => ({
  v: 1,
  root: {
    of: 'all',
    items: [
      { kind: 'tag', op: 'has', tags: [5 + shift, 900_000_001] },
      { kind: 'field', field: `own_${1 + shift}`, op: 'is one of', value: ['roses', 'c1'] },
      {
        of: 'any',
        items: [
          { kind: 'field', field: `own_${2 + shift}`, op: 'is one of', value: [`c${2 + shift}`] },
          { kind: 'field', field: 'owner', op: 'is one of', value: [owner] },
          { kind: 'topic', op: 'wants', topics: [7 + shift] },
        ],
      },
      {
        kind: 'letter',
        did: 'opened',
        letters: { in: 'these', campaigns: [11 + shift] },
        many: 'none',
      },
      { kind: 'since', did: 'tagged', campaign: 11 + shift, tags: [5 + shift] },
      { kind: 'segment', op: 'is in', segment: 13 + shift },
      { kind: 'place', op: 'within', km: 25, place: { name: 'Quillwater', lat: 38.7, lon: -9.1 } },
      { kind: 'everybody' },
    ],
  },
});
const segment = {
  name: 'Near and fond',
  description: 'For the spring',
  labels: ['spring'],
  pools: ['house'],
};
const here = office(0, '1');
const there = office(100, '42');
/** The automatic tag is known everywhere. */
for (const { words } of [here, there])
  (words.tags as { id: number; name: string }[]).push({ id: 900_000_001, name: 'left' });

const write = (): unknown =>
  JSON.parse(JSON.stringify(segmentFile({ ...segment, rule: rule(0, '1') }, here.words)));

it('is read where it was written, and in another office by the names of what it asks for', () => {
  expect(readSegmentFile(write(), here.words, here.context)).toEqual({
    ok: true,
    value: { ...segment, pools: [1], rule: rule(0, '1') },
  });
  expect(readSegmentFile(write(), there.words, there.context)).toEqual({
    ok: true,
    value: { ...segment, pools: [101], rule: rule(100, '42') },
  });
});

it.each<[string, (words: FileWords) => FileWords, string]>([
  ['a tag', (words) => ({ ...words, tags: [] }), 'the tag “guest”'],
  [
    'a field',
    (words) => ({ ...words, fields: builtInFields({ owners: [{ key: '9', label: 'Ines' }] }) }),
    'the field “Likes”',
  ],
  [
    'a colleague',
    (words) => ({
      ...words,
      fields: words.fields.map((one) => (one.key === 'owner' ? { ...one, choices: [] } : one)),
    }),
    'the choice “Ines”',
  ],
  [
    'a campaign',
    (words) => ({ ...words, campaigns: [] }),
    'the campaign that went out “Spring letter”',
  ],
  ['a segment', (words) => ({ ...words, segments: [] }), 'the segment “Near”'],
])('says that %s is not there, and takes nothing in', (_, change, said) => {
  const words = change(there.words);
  expect(readSegmentFile(write(), words, { ...there.context, ...words })).toEqual({
    ok: false,
    error: expect.stringContaining(said),
  });
});

it.each<[string, unknown]>([
  ['no object', 'segment'],
  ['another file', { version: 1 }],
  ['a later version', { palabra: 'segment', version: 2 }],
  ['no name', { palabra: 'segment', version: 1, name: ' ', rule: rule(0, '1') }],
  ['no rule', { palabra: 'segment', version: 1, name: 'x' }],
  [
    'names that are none',
    { palabra: 'segment', version: 1, name: 'x', names: 7, rule: rule(0, '1') },
  ],
  [
    'a name that is inherited',
    {
      palabra: 'segment',
      version: 1,
      name: 'x',
      names: { tags: {} },
      rule: {
        v: 1,
        root: { of: 'all', items: [{ kind: 'tag', op: 'has', tags: ['constructor'] }] },
      },
    },
  ],
  [
    'conditions of odd shapes',
    {
      palabra: 'segment',
      version: 1,
      name: 'x',
      rule: {
        v: 1,
        root: {
          of: 'all',
          items: [{ kind: 'tag' }, { kind: 'letter' }, { kind: 'field' }, 7, null],
        },
      },
    },
  ],
])('refuses %s in words', (_, raw) => {
  expect(readSegmentFile(raw, here.words, here.context)).toEqual({
    ok: false,
    error: expect.stringContaining(' '),
  });
});

describe('a file whose names are not alone', () => {
  const twice = {
    ...there.words,
    campaigns: [
      { id: 300, name: 'Spring letter', at: 86_400_000, links: [] },
      ...there.words.campaigns,
    ],
  };
  const inTwice = { ...there.context, campaigns: twice.campaigns };

  it('means the campaign of that day', () => {
    const read = readSegmentFile(write(), twice, inTwice);
    expect(read.ok && read.value.rule).toEqual(rule(100, '42'));
  });

  it('is asked about where nothing tells the campaigns apart', () => {
    const { dates: _, ...undated } = write() as { dates: object };
    expect(readSegmentFile(undated, twice, inTwice)).toEqual({
      ok: false,
      error: expect.stringContaining('several are called so: the campaign that went out'),
    });
  });

  it('means what it meant, in the office that wrote it, whatever things are called by now', () => {
    const words = {
      ...here.words,
      campaigns: [
        { id: 99, name: 'Spring letter', at: 0, links: [] },
        ...here.words.campaigns.map((one) => ({ ...one, name: 'Renamed' })),
      ],
    };
    const read = readSegmentFile(write(), words, { ...here.context, ...words });
    expect(read.ok && read.value.rule).toEqual(rule(0, '1'));
  });
});

it.each<[string, object, string]>([
  ['a pool that is not there', { pools: ['house', 'Fernhill'] }, 'the pool “Fernhill”'],
  ['a description that is too long', { description: 'x'.repeat(501) }, '500 signs'],
  ['a label that is too long', { labels: ['x'.repeat(41)] }, '40 signs'],
  ['too many labels', { labels: Array.from({ length: 21 }, String) }, 'at most 20'],
  ['labels that are none', { labels: 'spring' }, 'labels'],
  ['pools that are none', { pools: [1] }, 'pools'],
  ['names that are no texts', { names: { tags: { 5: 7 } } }, 'names'],
])('refuses %s rather than leave it out', (_, part, said) => {
  expect(readSegmentFile({ ...(write() as object), ...part }, here.words, here.context)).toEqual({
    ok: false,
    error: expect.stringContaining(said),
  });
});

it.each<[string, unknown, readonly number[] | undefined]>([
  ['of any pool', [], []],
  ['of the house, where none is named', undefined, undefined],
])('is %s', (_, pools, read) => {
  const { pools: __, ...rest } = write() as { pools: unknown };
  const file = pools === undefined ? rest : { ...rest, pools };
  expect(readSegmentFile(file, here.words, here.context)).toMatchObject({
    value: { pools: read },
  });
});
