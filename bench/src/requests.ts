// What a click waits for, over HTTP: each kind of request many times with other values.
import { at, latencyRow, time, timed, type Row, type Times } from './measure.js';
import { startWorld, type RunningServer } from './world.js';

/** In a world of a million each takes its time. */
const roundsAt = (contacts: number): number => (contacts > 300_000 ? 10 : 40);
const words = [
  'ash',
  'marl',
  'fern',
  'ode',
  'mill',
  'will',
  'abe',
  'cast',
  'lin',
  'oak',
  'ros',
  'thorn',
  'brook',
  'wren',
  'hale',
  'dun',
  'sef',
  'juno',
  'ola',
  'ivo',
];
const towns = ['Quillwater', 'Millrace', 'Lower Ashby', 'Saltcote', 'East Tarn', 'North Fell'];
const pick = <T>(list: readonly T[], round: number): T => list[round % list.length] as T;

const ratings: Record<string, (round: number) => unknown> = {
  'rating at least': (round) => ({
    kind: 'field',
    field: 'rating',
    op: 'at least',
    value: 30 + round,
  }),
  'rating rose': (round) => ({ kind: 'rating', op: 'rose', by: 10 + (round % 20), within: 30 }),
  'rating fell': (round) => ({ kind: 'rating', op: 'fell', by: 5 + (round % 20), within: 60 }),
};

/** Somebody about whom 2,000 notes are there; they are written when they are not. */
async function muchWrittenAbout(server: RunningServer): Promise<number> {
  const id = 4711;
  const { body } = (await server.call('GET', `/api/people/${id}/timeline?part=notes`)) as {
    body: { entries: unknown[] };
  };
  const text = {
    type: 'doc',
    content: [{ type: 'paragraph', content: [{ type: 'text', text: 'Rang about the tour.' }] }],
  };
  for (let at = body.entries.length < 50 ? 2000 : 0; at > 0; at--)
    await server.call('POST', `/api/people/${id}/notes`, {
      kind: 'call',
      text,
      pinned: false,
      tell: [],
    });
  return id;
}

/** One condition of each kind; these and those of `asked` stand in hand-written SQL in rules.ts. */
export const conditions = {
  'tag has': (round) => ({ kind: 'tag', op: 'has', tags: [1 + (round % 8)] }),
  'tag has any of': (round) => ({
    kind: 'tag',
    op: 'has any of',
    tags: [1 + (round % 8), 1 + ((round + 3) % 8)],
  }),
  'text is': (round) => ({ kind: 'field', field: 'town', op: 'is', value: pick(towns, round) }),
  'text contains': (round) => ({
    kind: 'field',
    field: 'town',
    op: 'contains',
    value: pick(words, round),
  }),
  'own choice is': (round) => ({
    kind: 'field',
    field: 'own_3',
    op: 'is one of',
    value: [pick(['c1', 'c2', 'c3'], round)],
  }),
  'own number more': (round) => ({
    kind: 'field',
    field: 'own_6',
    op: 'more than',
    value: round % 10,
  }),
  'own date in the next days': (round) => ({
    kind: 'field',
    field: 'own_4',
    op: 'in the next',
    value: { count: 30 + round, unit: 'days' },
  }),
  'came in, last days': (round) => ({
    kind: 'field',
    field: 'came_in',
    op: 'in the last',
    value: { count: 20 + round, unit: 'days' },
  }),
  permission: () => ({ kind: 'field', field: 'permission', op: 'is one of', value: ['asked'] }),
  'on do not mail': () => ({ kind: 'do not mail', reasons: ['left'] }),
  'has dropped a topic': (round) => ({
    kind: 'topic',
    op: 'has dropped',
    topics: [1 + (round % 3)],
  }),
} satisfies Record<string, (round: number) => unknown>;

const letter = (did: string, letters: object, many: unknown = 'any') => ({
  kind: 'letter',
  did,
  letters,
  many,
});
const these = (round: number) => ({ in: 'these', campaigns: [20 + (round % 8)] });
const last = (count: number) => ({ in: 'last', count, whose: 'of the office' });
const near = {
  kind: 'place',
  op: 'within',
  km: 25,
  place: { name: 'Quillwater', lat: 38.72, lon: -9.14 },
};
const opened = (round: number): unknown => letter('opened', these(round));
const delivered = (round: number): unknown => letter('delivered', these(round));
/** What is asked of letters, places and since campaigns. */
export const asked = {
  'letter sent': (round) => letter('sent', these(round)),
  'letter not sent': (round) => letter('sent', these(round), 'none'),
  'letter delivered': delivered,
  'letter got, not opened': (round) => letter('not opened', these(round)),
  'letter opened': opened,
  'none of the last 3 opened': () => letter('opened', last(3), 'none'),
  'at least 3 of the last 5 opened': () => letter('opened', last(5), { atLeast: 3 }),
  'at least 3 of the last 5 delivered': () => letter('delivered', last(5), { atLeast: 3 }),
  'any letter ever delivered': () => letter('delivered', { in: 'ever' }),
  'no letter ever opened': () => letter('opened', { in: 'ever' }, 'none'),
  'the last 3 that they were sent, none opened': () =>
    letter('opened', { in: 'last', count: 3, whose: 'that they were sent' }, 'none'),
  'letter clicked': (round) => letter('clicked', these(round)),
  bounced: () => letter('bounced', { in: 'ever' }),
  'came in since a campaign': (round) => ({
    kind: 'since',
    did: 'came in',
    campaign: 20 + (round % 8),
  }),
  'tagged since a campaign': (round) => ({
    kind: 'since',
    did: 'tagged',
    campaign: 20 + (round % 8),
  }),
  'within 25 km': () => near,
} satisfies Record<string, (round: number) => unknown>;
/** What is put together of others. */
const further: Record<string, (round: number) => unknown> = {
  'links with a text clicked': () => ({
    ...letter('clicked', { in: 'ever' }),
    link: { contains: 'plant' },
  }),
  'in another segment': () => ({ kind: 'segment', op: 'is in', segment: 3 }),
};

/** As coordinators make them; one condition is another each time. */
const six: Record<string, (round: number) => readonly unknown[]> = {
  'guests nearby, close or keen, who opened nothing lately': (round) => [
    { kind: 'tag', op: 'has', tags: [1] },
    { ...near, km: 25 + round / 100 },
    {
      of: 'any',
      items: [
        { kind: 'field', field: 'closeness', op: 'is one of', value: ['close', 'known'] },
        { kind: 'field', field: 'band', op: 'is one of', value: ['keen', 'steady'] },
      ],
    },
    {
      of: 'none',
      items: [
        letter('opened', { in: 'since', campaign: 20 }),
        { kind: 'field', field: 'owner', op: 'is one of', value: ['3'] },
      ],
    },
  ],
  'readers of some towns who never click': (round) => [
    { kind: 'tag', op: 'has any of', tags: [1, 2] },
    { kind: 'field', field: 'town', op: 'is one of', value: ['Millrace', 'Ashwick'] },
    letter('opened', last(3)),
    letter('clicked', { in: 'ever' }, 'none'),
    { kind: 'standing', any: ['may be mailed'] },
    {
      kind: 'field',
      field: 'came_in',
      op: 'longer ago than',
      value: { count: 180 + round, unit: 'days' },
    },
  ],
};
const both = (round: number): unknown => ({
  of: 'any',
  items: Object.values(six).map((items) => ({ of: 'all', items: items(round) })),
});

export async function requests(
  contacts: number,
  databaseUrl: string | undefined,
): Promise<{ rows: Row[]; p95: Record<string, number> }> {
  const measured = async (url?: string): Promise<[string, Times, string][]> => {
    const server = await startWorld(contacts, url);
    try {
      return await clicks(server, roundsAt(contacts));
    } finally {
      await server.stop();
    }
  };
  const all = await measured();
  const onServer = databaseUrl === undefined ? [] : await measured(databaseUrl);
  return {
    rows: all.map(([work, times, aim], place) =>
      latencyRow(work, times, aim, onServer[place]?.[1]),
    ),
    p95: Object.fromEntries(all.map(([work, times]) => [work, at(times, 0.95)])),
  };
}

async function clicks(server: RunningServer, rounds: number): Promise<[string, Times, string][]> {
  const get = (path: string): Promise<unknown> => server.call('GET', path);
  const campaigns = ((await get('/api/results?limit=30')) as { body: { id: number }[] }).body.map(
    ({ id }) => id,
  );
  const drafts = (
    (await get('/api/campaigns')) as {
      body: { id: number; status: string; receives: number | null }[];
    }
  ).body
    .filter(({ status }) => status === 'draft')
    .map(({ id }) => id);
  const page = 'p95 ≤ 100 ms';
  const count = 'p95 ≤ 200 ms';
  const out: [string, Times, string][] = [];
  const add = async (
    work: string,
    aim: string,
    run: (round: number) => Promise<unknown>,
  ): Promise<void> => {
    out.push([work, await timed(rounds, run), aim]);
  };
  await add('people, first page', page, () => get('/api/people'));
  await add('people, pages further on', page, (round) =>
    get(`/api/people?from=${200 * (1 + round)}&limit=200`),
  );
  await add('people, anywhere in the list', page, (round) =>
    get(`/api/people?from=${(round * 7919) % 100_000}&limit=200`),
  );
  for (const [name, sort, aim] of [
    ['address, of an index', 'address', page],
    ['when they came in, latest first', '-came_in', page],
    ['town', 'town', 'p95 ≤ 300 ms'],
    ['an own number, then town', '-own_6,town', 'p95 ≤ 300 ms'],
  ] as const)
    await add(`people, sorted by ${name}`, aim, (round) =>
      get(
        `/api/people?sort=${sort}&columns=town,own_3,own_6&from=${(round * 7919) % 90_000}&limit=100`,
      ),
    );
  // Nobody's place is known any more once somebody has changed.
  for (const [name, sort] of [
    ['town', 'town'],
    ['an own number, then town', '-own_6,town'],
  ] as const) {
    const times: number[] = [];
    for (let round = 0; round < 12; round++) {
      await server.call('POST', '/api/deeds', {
        people: { ids: [1 + round] },
        deed: { kind: 'field', field: 'position', text: `bench ${Date.now()}` },
      });
      times.push(await time(() => get(`/api/people?sort=${sort}&from=50000&limit=100`)));
    }
    out.push([
      `people, sorted by ${name}, just after a change`,
      { sorted: times.sort((one, other) => one - other) },
      'p95 ≤ 300 ms',
    ]);
  }
  const filter = (
    (await server.call('POST', '/api/filters', {
      rule: {
        v: 1,
        root: {
          of: 'all',
          items: [
            { kind: 'tag', op: 'has', tags: [1] },
            { kind: 'field', field: 'permission', op: 'is one of', value: ['asked'] },
          ],
        },
      },
    })) as { body: { key: string } }
  ).body.key;
  await add('people, filtered by a rule of two conditions', page, (round) =>
    get(`/api/people?filter=${filter}&from=${(round * 101) % 2000}&limit=100`),
  );
  await add('how many of them, and who may be mailed', count, () =>
    get(`/api/people/summary?filter=${filter}`),
  );
  await add('people, search', page, (round) => get(`/api/people?q=${pick(words, round)}`));
  await add('people, search of two words', page, (round) =>
    get(`/api/people?q=${pick(words, round)}%20${pick(words, round + 7)}`),
  );
  await add('people, with a tag', page, (round) => get(`/api/people?tag=${1 + (round % 8)}`));
  await add('who of them may be mailed', count, (round) =>
    get(`/api/people/summary?q=${pick(words, round)}`),
  );
  await add('who of everybody may be mailed', count, () => get('/api/people/summary'));
  await add('tags among everybody', count, () => get('/api/people/tags'));
  await add('all tags, with their people and what names them', count, () => get('/api/tags'));
  await add('who has an automatic tag', count, (round) =>
    get(`/api/people/summary?of=tag.${900_000_001 + (round % 5)}`),
  );
  await add('a person', 'p95 ≤ 150 ms', (round) => get(`/api/people/${100 + round * 37}`));
  await add('a person’s timeline', 'p95 ≤ 150 ms', (round) =>
    get(`/api/people/${100 + round * 37}/timeline`),
  );
  await add('a person’s rating, explained', 'p95 ≤ 150 ms', (round) =>
    get(`/api/people/${100 + round * 37}/rating`),
  );
  await add('the segments a person is in', 'p95 ≤ 150 ms', (round) =>
    get(`/api/segments/of/${100 + round * 37}`),
  );
  const known = await muchWrittenAbout(server);
  await add('a timeline of 2,000 happenings', 'p95 ≤ 150 ms', () =>
    get(`/api/people/${known}/timeline`),
  );
  await add('who rose and who is fading', count, () => get('/api/ratings/moved'));
  await add('people, sorted by rating', page, (round) =>
    get(`/api/people?sort=-rating&columns=rating,band&from=${100 * (1 + (round % 9))}`),
  );
  const beside = (path: 'sift' | 'strain', items: readonly unknown[]): Promise<unknown> =>
    server.call('POST', `/api/segments/${path}`, {
      pools: [1],
      rule: { v: 1, root: { of: 'all', items } },
    });
  /** Just after somebody was changed: nothing is known of anybody any more. */
  const addAnew = async (
    work: string,
    aim: string,
    run: (round: number) => Promise<unknown>,
  ): Promise<void> => {
    const all: number[] = [];
    for (let round = 0; round < rounds; round++) {
      await server.call('POST', '/api/deeds', {
        people: { ids: [1 + round] },
        deed: { kind: 'field', field: 'position', text: `bench ${Date.now()}` },
      });
      all.push(await time(() => run(round)));
    }
    out.push([work, { sorted: all.sort((one, other) => one - other) }, aim]);
  };
  const quick = 'p95 ≤ 150 ms';
  for (const [name, condition] of Object.entries({
    ...conditions,
    ...ratings,
    ...asked,
    ...further,
  }))
    await addAnew(`rule: ${name}, count and first people`, quick, (round) =>
      beside('sift', [condition(round)]),
    );
  for (const [name, items] of Object.entries(six)) {
    const rule = `rule of six: ${name}`;
    await addAnew(`${rule}, just after a change of somebody`, 'stated', (round) =>
      beside('sift', items(round)),
    );
    await add(`${rule}, one condition changed`, quick, (round) =>
      beside('sift', items(1000 + round)),
    );
    await add(`${rule}, everything beside it, one condition changed`, 'p95 ≤ 300 ms', (round) =>
      beside('strain', items(2000 + round)),
    );
  }
  await add('everything beside a rule of twelve, two conditions changed', 'p95 ≤ 300 ms', (round) =>
    beside('strain', [both(3000 + round)]),
  );
  await add('one’s own tasks', page, () => get('/api/tasks?whose=mine&state=open'));
  await add('a person’s place in a list', 'p95 ≤ 150 ms', (round) =>
    get(`/api/people/${100 + round * 37}/place?q=a`),
  );
  await add('tally of a campaign', count, (round) =>
    get(`/api/campaigns/${pick(drafts, round)}/tally`),
  );
  await add('people behind a number of results', page, (round) =>
    get(`/api/people?of=campaign.${pick(campaigns, round)}.opened`),
  );
  await add('results of a campaign', 'p95 ≤ 300 ms', (round) =>
    get(`/api/results/${pick(campaigns, round)}`),
  );
  await add('list of results', page, () => get('/api/results'));
  const once = async (work: string, aim: string, run: () => Promise<unknown>): Promise<void> => {
    out.push([work, { sorted: [await time(run)] }, aim]);
  };
  /** Asked about until it is done. */
  const done = async (path: string, data: object): Promise<number> => {
    const { id } = ((await server.call('POST', path, data)) as { body: { id: number } }).body;
    for (;;) {
      const { body } = (await get(`/api/changes/${id}`)) as { body: { isDone: boolean } };
      if (body.isDone) return id;
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
  };
  // As it is every night: all letters are read, and hardly anything comes out another.
  await once('everybody’s rating counted anew', '≤ 10 s', async () => {
    const { body } = (await get('/api/ratings/scale')) as {
      body: { version: number; scale: object };
    };
    const { version, scale } = body;
    await server.call('PUT', '/api/ratings/scale', { version, scale });
    for (let isCounting = true; isCounting;) {
      await new Promise((resolve) => setTimeout(resolve, 500));
      const { body: now } = (await get('/api/ratings/scale')) as { body: { counting: unknown } };
      isCounting = now.counting !== null;
    }
  });
  const tag = (
    (await server.call('POST', '/api/tags', {
      name: `bench ${Date.now()}`,
      colour: 'moss',
    })) as { body: { id: number } }
  ).body.id;
  let tagged = 0;
  await once('tagging everybody in the house pool', '≤ 5 s', async () => {
    tagged = await done('/api/tagging', { people: {}, tag, put: true });
  });
  await once('taking that back', 'stated', () => done(`/api/changes/${tagged}/undo`, {}));
  let set = 0;
  await once('a field set for everybody in the house pool', 'stated', async () => {
    set = await done('/api/deeds', {
      people: {},
      deed: { kind: 'field', field: 'closeness', text: 'known' },
    });
  });
  await once('taking that back, too', 'stated', () => done(`/api/changes/${set}/undo`, {}));
  for (const format of ['csv', 'xlsx', 'vcf'])
    await once(`everybody taken out as ${format}`, 'stated', () =>
      server.call('POST', '/api/people/export', {
        people: {},
        format,
        columns: ['given_name', 'family_name', 'address', 'town', 'own_3', 'tags'],
      }),
    );
  return out;
}
