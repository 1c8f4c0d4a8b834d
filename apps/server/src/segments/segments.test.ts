// What a segment says of itself over HTTP: its count, its parts and the reasons agree with one another.
import { importPeople } from '../testing/round.js';
import { startTestServer, type TestServer } from '../testing/server.js';

const POOL = 1;
const towns = ['Millrace', 'Saltcote', 'Ashwick', ''];
let server: TestServer;
let member: string;
let tag: number;
beforeAll(async () => {
  server = await startTestServer();
  await server.account({ name: 'Kasimir', address: 'kasimir@example.com', role: 'member' });
  member = await server.signIn('kasimir@example.com');
  await importPeople(
    server,
    `email,first name,town\n${Array.from({ length: 40 }, (_, at) => `person${at}@example.com,Name ${at},${towns[at % 4]}`).join('\n')}\n`,
  );
  tag = (
    (await server.call('POST', '/api/tags', { name: 'guest', colour: 'moss' })).body as {
      id: number;
    }
  ).id;
  await server.call('POST', '/api/tagging', { people: { q: 'person1' }, tag, put: true });
}, 60_000);
afterAll(() => server.stop());

const town = (value: string) => ({ kind: 'field', field: 'town', op: 'is', value });
const hasTag = () => ({ kind: 'tag', op: 'has', tags: [tag] });
const rule = (...items: unknown[]) => ({ v: 1, root: { of: 'all', items } });
const anyRule = (...items: unknown[]) => ({ v: 1, root: { of: 'any', items } });
const ask = async (path: string, data: object, cookie?: string) =>
  (await server.call('POST', path, data, cookie ? { cookie } : {})).body;
const sift = (given: object, cookie?: string) =>
  ask('/api/segments/sift', { pools: [POOL], rule: given }, cookie);
const kept = async (given: object, name = 'A segment'): Promise<number> =>
  (await ask('/api/segments', { name, pools: [POOL], rule: given })).id as number;
const behind = async (of: string): Promise<number> =>
  (await server.call('GET', `/api/people/summary?of=${of}`)).body.total as number;

it('counts whom it shows', async () => {
  expect(await sift(rule())).toMatchObject({ count: 0, people: [] });
  const everybody = await sift(rule({ kind: 'everybody' }));
  expect(everybody).toMatchObject({ count: 40 });
  expect(everybody.people).toHaveLength(8);
  const few = await sift(rule(town('Millrace'), hasTag()));
  expect(few).toMatchObject({ count: 2 });
  // Towns go round by four; “person1” and “person10” to “person19” have the tag.
  expect((few.people as { address: string }[]).map(({ address }) => address).sort()).toEqual([
    'person12@example.com',
    'person16@example.com',
  ]);
});

it('opens into just the people it counts, and in part into those of a rule for it', async () => {
  const given = rule(town('Millrace'), hasTag());
  const id = await kept(given);
  const { count, steps, alone } = await ask('/api/segments/strain', { pools: [POOL], rule: given });
  expect(alone).toEqual({ 0: 10, 1: 11 });
  expect(steps).toEqual([
    { path: '0', came: 40, left: 10 },
    { path: '1', came: 10, left: count },
  ]);
  expect(count).toBe((await sift(given)).count);
  expect(await behind(`segment.${id}`)).toBe(count);
  expect((await server.call('GET', `/api/people?of=segment.${id}.upto-1`)).status).toBe(404);
});

it('goes through nested groups in order, and says what other choices would give', async () => {
  const given = anyRule(town('Saltcote'), { of: 'all', items: [town('Ashwick'), hasTag()] });
  const { count, steps, alone, whatIf } = await ask('/api/segments/strain', {
    pools: [POOL],
    rule: given,
  });
  // “person10”, “person14” and “person18” are of Ashwick.
  expect(count).toBe(13);
  expect(alone).toEqual({ 0: 10, 1: 3, '1.0': 10, '1.1': 11 });
  expect(steps).toEqual([
    { path: '0', came: 40, left: 10 },
    { path: '1', came: 30, left: 13 },
    { path: '1.0', came: 30, left: 10 },
    { path: '1.1', came: 10, left: 3 },
  ]);
  expect(whatIf).toEqual(
    expect.arrayContaining([
      { path: '', change: 'all', count: 0 },
      { path: '0', change: 'without', count: 3 },
      { path: '1.1', change: 'without', count: 20 },
    ]),
  );
});

describe('a draft beside the rule in force', () => {
  const sheet = (version: number, draft: object | null, more: object = {}) => ({
    version,
    name: 'To and fro',
    description: '',
    labels: [],
    sharing: 'all',
    sharedWith: [],
    draft,
    ...more,
  });
  const put = (id: number, data: object) => server.call('PUT', `/api/segments/${id}`, data);
  const use = (id: number, version: number) =>
    server.call('POST', `/api/segments/${id}/use`, { version });

  it('changes nothing until it is used, and says before who comes, who goes and which campaign waits', async () => {
    const id = await kept(rule(town('Millrace')));
    const campaign = await ask('/api/campaigns', { name: 'Waits', segment: id });
    const draft = { pools: [POOL], rule: rule(hasTag()) };
    expect((await put(id, sheet(1, draft))).body).toEqual({ version: 2 });
    expect(await behind(`segment.${id}`)).toBe(10);
    const { body } = await server.call('GET', `/api/segments/${id}/difference`);
    expect(body).toEqual({
      now: 10,
      comes: 9,
      goes: 8,
      campaigns: [{ id: campaign.id, name: 'Waits', waits: false }],
      blocks: [],
    });
    expect([await behind(`segment.${id}.comes`), await behind(`segment.${id}.goes`)]).toEqual([
      9, 8,
    ]);
    expect(await behind(`segment.${id}.draft`)).toBe(11);
    expect((await use(id, 1)).status).toBe(409);
    expect((await use(id, 2)).body).toEqual({ version: 3 });
    expect(await behind(`segment.${id}`)).toBe(11);
    expect((await server.call('GET', `/api/segments/${id}`)).body).toMatchObject({
      draft: null,
      rule: rule(hasTag()),
    });
    expect((await use(id, 3)).status).toBe(409);
    const older = (await server.call('GET', `/api/segments/${id}/rules`)).body;
    expect(older).toEqual([
      expect.objectContaining({ rule: rule(town('Millrace')), pools: [POOL], version: 2 }),
    ]);
  });

  it.each<[string, object, string]>([
    ['not finished', rule(town('Ashwick'), { kind: 'tag', op: 'has', tags: [] }), 'not finished'],
    [
      'switched off in part',
      rule(town('Millrace'), { ...town('Ashwick'), off: true }),
      'switched off',
    ],
    ['empty', rule(), 'asks for nobody'],
  ])('is not used while it is %s', async (_, given, why) => {
    const id = await kept(rule(town('Millrace')));
    await put(id, sheet(1, { pools: [POOL], rule: given }));
    const { body } = await server.call('GET', `/api/segments/${id}/difference`);
    expect(body.blocks).toEqual([expect.stringContaining(why)]);
    const refused = await use(id, 2);
    expect([refused.status, refused.body.detail]).toEqual([422, expect.stringContaining(why)]);
    expect(await behind(`segment.${id}`)).toBe(10);
  });

  it('refuses a circle with the way, and uses other segments by their rule in force', async () => {
    const asks = (segment: number) => rule({ kind: 'segment', op: 'is in', segment });
    const first = await kept(rule(town('Millrace')), 'First');
    const second = await kept(asks(first), 'Second');
    const third = await kept(asks(second), 'Third');
    const refused = await put(
      first,
      sheet(1, { pools: [POOL], rule: asks(third) }, { name: 'First' }),
    );
    expect([refused.status, refused.body.detail]).toEqual([
      422,
      expect.stringContaining('“First” → “Third” → “Second” → “First”'),
    ]);
    expect((await put(first, sheet(1, { pools: [POOL], rule: asks(first) }))).status).toBe(422);
    await put(first, sheet(1, { pools: [POOL], rule: rule(hasTag()) }));
    expect(await behind(`segment.${third}`)).toBe(10);
    expect((await use(first, 2)).status).toBe(200);
    expect(await behind(`segment.${third}`)).toBe(11);
    expect((await server.call('GET', `/api/segments/${first}`)).body.askedBy).toEqual([
      { id: second, name: 'Second' },
    ]);
    // What asks for a segment that is gone finds nobody, rather than too many.
    await server.call('DELETE', `/api/segments/${first}`);
    expect(await behind(`segment.${third}`)).toBe(0);
  });

  it('reads each segment once, however many ask for it, and refuses what would become too heavy', async () => {
    const twice = (segment: number) =>
      rule({ kind: 'segment', op: 'is in', segment }, { kind: 'segment', op: 'is in', segment });
    const foot = await kept(rule(town('Millrace')), 'Foot');
    const levels = [foot];
    // Each asks twice for the one before, so that the foot is asked for 2, 4, 8 … times.
    for (let level = 1; level <= 12; level++) {
      const made = await server.call('POST', '/api/segments', {
        name: `Level ${level}`,
        rule: twice(levels.at(-1) ?? foot),
      });
      if (made.status === 422) {
        expect(made.body.detail).toContain('more than 400 conditions');
        break;
      }
      expect(made.status).toBe(201);
      levels.push(made.body.id as number);
    }
    expect(levels).toHaveLength(8);
    const [lighter = 0, heaviest = 0] = levels.slice(-2);
    expect(await behind(`segment.${heaviest}`)).toBe(10);
    // The foot is asked for hundreds of times over: a few conditions more of it are too many for those above.
    await put(
      foot,
      sheet(1, {
        pools: [POOL],
        rule: rule(town('Millrace'), hasTag(), hasTag(), hasTag(), hasTag(), hasTag()),
      }),
    );
    const refused = await use(foot, 2);
    expect([refused.status, refused.body.detail]).toEqual([
      422,
      expect.stringContaining('asks for this segment'),
    ]);
    const together = (segments: readonly number[]) =>
      server.call('POST', '/api/segments/combine', { name: 'Both', segments, how: 'together' });
    expect((await together([heaviest, lighter])).status).toBe(422);
    expect((await together([lighter, foot])).status).toBe(201);
  });

  it('asks for segments so many deep at the most', async () => {
    let last = await kept(rule(town('Millrace')), 'Deep 0');
    const next = (level: number) =>
      server.call('POST', '/api/segments', {
        name: `Deep ${level}`,
        rule: rule({ kind: 'segment', op: 'is in', segment: last }),
      });
    for (let level = 1; level <= 20; level++) {
      const made = await next(level);
      expect(made.status).toBe(201);
      last = made.body.id as number;
    }
    expect(await behind(`segment.${last}`)).toBe(10);
    const refused = await next(21);
    expect([refused.status, refused.body.detail]).toEqual([
      422,
      expect.stringContaining('20 deep'),
    ]);
  });

  it('keeps so many MB of rules of everybody', async () => {
    const long = rule({
      kind: 'field',
      field: 'town',
      op: 'is one of',
      value: Array.from({ length: 19_000 }, (_, at) => `${at} ${'x'.repeat(40)}`),
    });
    const statuses: number[] = [];
    for (let at = 0; at < 25; at++)
      statuses.push(
        (await server.call('POST', '/api/segments', { name: `Long ${at}`, rule: long })).status,
      );
    expect(statuses.slice(0, 10).every((status) => status === 201)).toBe(true);
    expect(statuses.at(-1)).toBe(422);
    // Whoever has too much makes it smaller.
    const { body: lines } = await server.call('GET', '/api/segments');
    const first = (lines as unknown as { id: number; name: string }[]).find(
      ({ name }) => name === 'Long 0',
    );
    const draft = (value: object) =>
      put(first?.id ?? 0, sheet(1, { pools: [POOL], rule: value as never }, { name: 'Long 0' }));
    expect((await draft(long)).status).toBe(422);
    expect((await draft(rule(town('Millrace')))).status).toBe(200);
    const longer = rule({
      kind: 'field',
      field: 'town',
      op: 'is one of',
      value: Array.from({ length: 2000 }, (_, at) => `${at} ${'x'.repeat(800)}`),
    });
    const refused = await server.call('POST', '/api/segments', { name: 'Longer', rule: longer });
    expect([refused.status, refused.body.detail]).toEqual([
      422,
      expect.stringContaining('a million signs'),
    ]);
  });
});

describe('a fixed segment', () => {
  it('stays as it was on the day, and is listed by hand, from a list and from addresses', async () => {
    const live = await kept(rule(town('Millrace')), 'Live');
    const fixed = await ask('/api/segments', { name: 'Listed', people: { of: `segment.${live}` } });
    const id = fixed.id as number;
    expect(await behind(`segment.${id}`)).toBe(10);
    const members = (path: string, data: object) =>
      server.call('POST', `/api/segments/${id}/members${path}`, data);
    expect((await members('', { people: { q: 'person1' } })).body).toMatchObject({ changed: 9 });
    expect(await behind(`segment.${id}`)).toBe(19);
    // Who was in before stays when it is taken back.
    const again = await members('', { people: { q: 'person3' } });
    expect(again.body).toMatchObject({ changed: 9 });
    expect((await members('/undo', { at: again.body.at })).body).toMatchObject({ changed: 9 });
    expect(await behind(`segment.${id}`)).toBe(19);
    expect((await members('/take', { people: { q: 'person1' } })).body).toMatchObject({
      changed: 11,
    });
    const outside = await members('/take', { people: { q: 'person' } });
    expect(await behind(`segment.${id}`)).toBe(0);
    await members('/undo', { at: outside.body.at });
    expect(await behind(`segment.${id}`)).toBe(8);
    const added = await members('/addresses', {
      text: 'email;x\nPERSON1@example.com;1\nnobody@example.net;2\nperson2@example.com',
    });
    expect(added.body).toMatchObject({
      found: 2,
      changed: 2,
      unknown: ['nobody@example.net'],
      unknownCount: 1,
    });
    expect((await members('/addresses', { text: 'none here' })).status).toBe(422);
    expect(await behind(`segment.${id}`)).toBe(10);
    // Of it a live one can ask, too.
    const asking = await kept(
      rule({ kind: 'segment', op: 'is in', segment: id }, town('Ashwick')),
      'Of the list',
    );
    expect(await behind(`segment.${asking}`)).toBe(1);
    const { body } = await server.call('GET', '/api/people?q=person2@example.com');
    const own = (await server.call('GET', `/api/segments/of/${body.rows[0].id}`)).body as {
      id: number;
    }[];
    expect(own.map((one) => one.id)).toEqual(expect.arrayContaining([id, asking]));
  });

  it('becomes live by its rule, and fixed again', async () => {
    const id = await kept(rule(hasTag()), 'Back and forth');
    const step = async (what: string) => {
      const { version } = (await server.call('GET', `/api/segments/${id}`)).body;
      return server.call('POST', `/api/segments/${id}/${what}`, { version });
    };
    expect((await step('unfix')).status).toBe(409);
    expect((await step('fix')).body).toMatchObject({ changed: 11 });
    await server.call('POST', '/api/tagging', { people: { q: 'person3@' }, tag, put: true });
    expect(await behind(`segment.${id}`)).toBe(11);
    expect((await step('unfix')).status).toBe(200);
    expect(await behind(`segment.${id}`)).toBe(12);
    await server.call('POST', '/api/tagging', { people: { q: 'person3@' }, tag, put: false });
  });
});

it('puts segments together and compares them, every part counted', async () => {
  const mill = await kept(rule(town('Millrace')), 'Mill');
  const guests = await kept(rule(hasTag()), 'Tagged');
  const combined = async (how: string) =>
    behind(
      `segment.${(await ask('/api/segments/combine', { name: how, segments: [mill, guests], how })).id}`,
    );
  expect([await combined('together'), await combined('both'), await combined('without')]).toEqual([
    19, 2, 8,
  ]);
  expect(await ask('/api/segments/compare', { segments: [mill, guests] })).toEqual({
    sizes: [10, 11],
    parts: [
      { inThese: 1, count: 8 },
      { inThese: 2, count: 9 },
      { inThese: 3, count: 2 },
    ],
  });
});

it('says why somebody is in it or not, as the list does', async () => {
  const given = rule(town('Millrace'), hasTag());
  const id = await kept(given);
  const { body } = await server.call('GET', '/api/people?limit=40');
  const inIt = new Set(
    ((await server.call('GET', `/api/people?of=segment.${id}`)).body.rows as { id: number }[]).map(
      (row) => row.id,
    ),
  );
  for (const { id: contact } of (body.rows as { id: number }[]).slice(0, 12)) {
    expect((await ask('/api/segments/why', { pools: [POOL], rule: given, contact })).holds).toBe(
      inIt.has(contact),
    );
  }
  expect(
    (await server.call('POST', '/api/segments/why', { pools: [POOL], rule: given, contact: 9999 }))
      .status,
  ).toBe(404);
});

it('tells a member of the own people only, and of a segment as it is kept how many there are of others', async () => {
  const own = (
    (
      await server.call(
        'POST',
        '/api/people',
        { values: { given_name: 'Own', town: 'Millrace' }, permission: 'asked', source: 'x' },
        { cookie: member },
      )
    ).body as { id: number }
  ).id;
  const seen = await sift(rule(town('Millrace')), member);
  expect(seen).toMatchObject({ count: 1 });
  expect(
    await ask(
      '/api/segments/strain',
      { pools: [POOL], rule: rule(town('Millrace'), hasTag()) },
      member,
    ),
  ).toMatchObject({ count: 0, everybody: 1, alone: { 0: 1, 1: 0 } });
  const id = await kept(rule(town('Millrace')), 'Kept');
  const summary = async (query: string) =>
    (await server.call('GET', `/api/people/summary?${query}`, undefined, { cookie: member })).body;
  expect(await summary(`of=segment.${id}`)).toMatchObject({ total: 1, colleagues: 10 });
  for (const narrowed of ['q=person', `tag=${tag}`, 'standing=may%20be%20mailed', `pool=${POOL}`])
    expect(await summary(`of=segment.${id}&${narrowed}`)).toMatchObject({ colleagues: 0 });
  expect((seen.people as { id: number }[]).map(({ id }) => id)).toEqual([own]);
  const { body } = await server.call('GET', '/api/people?q=person3@');
  expect(
    (
      await server.call(
        'POST',
        '/api/segments/why',
        { pools: [POOL], rule: rule(), contact: body.rows[0].id },
        { cookie: member },
      )
    ).status,
  ).toBe(404);
});

it('is deleted and brought back with its people', async () => {
  const id = await kept(rule(hasTag()), 'To and fro');
  expect((await server.call('DELETE', `/api/segments/${id}`)).status).toBe(204);
  expect((await server.call('GET', `/api/segments/${id}`)).status).toBe(404);
  expect((await server.call('GET', `/api/people?of=segment.${id}`)).status).toBe(404);
  expect((await server.call('POST', `/api/segments/${id}/restore`)).status).toBe(204);
  expect(await behind(`segment.${id}`)).toBe(11);
});

it.each<[string, object]>([
  ['a condition without a value', { kind: 'field', field: 'town', op: 'is', value: null }],
  ['a tag condition without tags', { kind: 'tag', op: 'has', tags: [] }],
])(
  'keeps %s and says that it isn’t finished, but sends to nobody by it',
  async (what, condition) => {
    const id = await kept(rule(condition), `Unfinished ${what}`);
    const letter = (await ask('/api/letters', { name: 'x', template: 'note' })).id as number;
    const campaign = (await ask('/api/campaigns', { name: 'x', segment: id, letter })).id as number;
    const { checks, tally } = (await server.call('GET', `/api/campaigns/${campaign}/tally`))
      .body as { checks: { weight?: string; text?: string }[]; tally: object };
    expect(JSON.stringify(checks)).toContain(`Unfinished ${what}`);
    const { version } = (await server.call('GET', `/api/campaigns/${campaign}`)).body as {
      version: number;
    };
    expect(
      (await server.call('POST', `/api/campaigns/${campaign}/send`, { version, seen: tally }))
        .status,
    ).toBe(422);
  },
);

it('names the segments of a person, the same as the lists behind them', async () => {
  const mill = await kept(rule(town('Millrace')), 'Of Millrace');
  const guests = await kept(rule(hasTag()), 'Guests');
  await kept(rule(), 'Nobody yet');
  const everybody = (await server.call('GET', '/api/people?limit=200')).body.rows as {
    id: number;
  }[];
  const inThem = async (of: number): Promise<Set<number>> =>
    new Set(
      (
        (await server.call('GET', `/api/people?of=segment.${of}&limit=200`)).body.rows as {
          id: number;
        }[]
      ).map(({ id }) => id),
    );
  const lists = { [mill]: await inThem(mill), [guests]: await inThem(guests) };
  for (const { id } of everybody.slice(0, 16)) {
    const { body } = await server.call('GET', `/api/segments/of/${id}`);
    const own = (body as { id: number; name: string }[]).map((one) => one.id);
    for (const one of [mill, guests])
      expect([one, own.includes(one)]).toEqual([one, lists[one]?.has(id)]);
    expect((body as { name: string }[]).map(({ name }) => name)).not.toContain('Nobody yet');
  }
  const [first] = everybody;
  const asMember = await server.call('GET', `/api/segments/of/${first?.id}`, undefined, {
    cookie: member,
  });
  expect(asMember.status).toBe(404);
});

describe('of a member', () => {
  it('reaches their own people only, whoever asks, and is theirs until they share it', async () => {
    await server.call(
      'POST',
      '/api/people',
      { values: { given_name: 'Mine', town: 'Saltcote' }, permission: 'asked', source: 'x' },
      { cookie: member },
    );
    const made = await server.call(
      'POST',
      '/api/segments',
      { name: 'Mine', rule: rule(town('Saltcote')) },
      { cookie: member },
    );
    const id = made.body.id as number;
    expect((await server.call('GET', `/api/segments/${id}`)).status).toBe(404);
    expect((await server.call('GET', `/api/people?of=segment.${id}`)).status).toBe(404);
    const asking = rule({ kind: 'segment', op: 'is in', segment: id });
    expect(
      (await server.call('POST', '/api/segments/sift', { pools: [POOL], rule: asking })).status,
    ).toBe(422);
    const asMember = { cookie: member };
    const summary = await server.call(
      'GET',
      `/api/people/summary?of=segment.${id}`,
      undefined,
      asMember,
    );
    expect(summary.body).toMatchObject({ total: 1, colleagues: 0 });
    const shared = await server.call(
      'PUT',
      `/api/segments/${id}`,
      {
        version: 1,
        name: 'Mine',
        description: '',
        labels: [],
        sharing: 'all',
        sharedWith: [],
        draft: null,
      },
      asMember,
    );
    expect(shared.status).toBe(200);
    expect(await behind(`segment.${id}`)).toBe(1);
    expect((await sift(asking)).count).toBe(1);
    const office = await kept(rule(town('Saltcote')), 'Of the office');
    expect(
      (await server.call('DELETE', `/api/segments/${office}`, undefined, asMember)).status,
    ).toBe(403);
  });
});
