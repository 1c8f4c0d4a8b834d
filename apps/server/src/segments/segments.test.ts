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
  ask('/api/segments/sift', { pool: POOL, rule: given }, cookie);
const kept = async (given: object, name = 'A segment'): Promise<number> =>
  (await ask('/api/segments', { name, pool: POOL, rule: given })).id as number;
const behind = async (of: string): Promise<number> =>
  (await server.call('GET', `/api/people/summary?of=${of}`)).body.total as number;

it('counts whom it shows, and everybody they are taken from', async () => {
  expect(await sift(rule())).toMatchObject({ count: 0, everybody: 40, people: [] });
  const everybody = await sift(rule({ kind: 'everybody' }));
  expect(everybody).toMatchObject({ count: 40, everybody: 40 });
  expect(everybody.people).toHaveLength(8);
  const few = await sift(rule(town('Millrace'), hasTag()));
  expect(few).toMatchObject({ count: 2, everybody: 40 });
  // Towns go round by four; “person1” and “person10” to “person19” have the tag.
  expect((few.people as { address: string }[]).map(({ address }) => address).sort()).toEqual([
    'person12@example.com',
    'person16@example.com',
  ]);
});

it('opens into just the people it counts, whole and in part', async () => {
  const given = rule(town('Millrace'), hasTag());
  const id = await kept(given);
  const { left, alone } = await ask('/api/segments/strain', { pool: POOL, rule: given });
  expect(alone).toEqual({ 0: 10, 1: 11 });
  expect(left).toEqual([10, (await sift(given)).count]);
  expect(await behind(`segment.${id}`)).toBe(left[1]);
  expect(await behind(`segment.${id}.upto-1`)).toBe(left[0]);
  expect(await behind(`segment.${id}.only-1`)).toBe(alone[1]);
  expect((await server.call('GET', `/api/people?of=segment.${id}.only-7`)).status).toBe(404);
  expect((await server.call('GET', `/api/people?of=segment.${id}.upto-x`)).status).toBe(404);
});

it('has parts by their place in nested groups, and none left after each where one of them is enough', async () => {
  const given = anyRule(town('Saltcote'), { of: 'all', items: [town('Ashwick'), hasTag()] });
  const { left, alone } = await ask('/api/segments/strain', { pool: POOL, rule: given });
  expect(left).toEqual([]);
  expect(alone).toEqual({ 0: 10, '1.0': 10, '1.1': 11 });
  expect(await behind(`segment.${await kept(given)}.only-1-1`)).toBe(11);
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
    expect((await ask('/api/segments/why', { pool: POOL, rule: given, contact })).holds).toBe(
      inIt.has(contact),
    );
  }
  expect(
    (await server.call('POST', '/api/segments/why', { pool: POOL, rule: given, contact: 9999 }))
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
  expect(seen).toMatchObject({ count: 1, everybody: 1 });
  expect(
    await ask(
      '/api/segments/strain',
      { pool: POOL, rule: rule(town('Millrace'), hasTag()) },
      member,
    ),
  ).toEqual({ alone: { 0: 1, 1: 0 }, left: [1, 0] });
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
        { pool: POOL, rule: rule(), contact: body.rows[0].id },
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
