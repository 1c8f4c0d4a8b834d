// What narrows a list and how a table is arranged is kept, sent to a colleague, and says so when it is out of date.
import { importPeople } from '../testing/round.js';
import { startTestServer, type TestServer } from '../testing/server.js';

const towns = ['Millrace', 'Saltcote', 'Ashwick', ''];
let server: TestServer;
let member: string;
let other: string;
let tag: number;

beforeAll(async () => {
  server = await startTestServer();
  for (const name of ['kasimir', 'mireille'])
    await server.account({ name, address: `${name}@example.com`, role: 'member' });
  member = await server.signIn('kasimir@example.com');
  other = await server.signIn('mireille@example.com');
  await importPeople(
    server,
    `email,first name,last name,town,phone\n${Array.from({ length: 40 }, (_, at) => `person${at}@example.com,Name ${at},F${String(at % 7)},${towns[at % 4]},0451 ${String(1000 + at)}`).join('\n')}\n`,
  );
  const made = await server.call('POST', '/api/tags', { name: 'guest', colour: 'moss' });
  tag = (made.body as { id: number }).id;
  await server.call('POST', '/api/tagging', { people: { q: 'person1' }, tag, put: true });
}, 60_000);
afterAll(() => server.stop());

const rule = (...items: unknown[]) => ({ v: 1, root: { of: 'all', items } });
const town = (value: string) => ({ kind: 'field', field: 'town', op: 'is', value });
const ask = async (
  method: 'GET' | 'POST' | 'PUT' | 'DELETE',
  path: string,
  data?: object,
  cookie?: string,
) => {
  const { status, body } = await server.call(method, path, data, cookie ? { cookie } : {});
  return { status, body: body as Record<string, never> & { detail?: string } };
};
const list = async (query: string): Promise<Record<string, unknown>[]> =>
  (await ask('GET', `/api/people?${query.includes('limit') ? '' : 'limit=200&'}${query}`)).body[
    'rows'
  ] ?? [];
const keep = async (given: object): Promise<string> =>
  (await ask('POST', '/api/filters', { rule: given })).body['key'] ?? '';

describe('a filter', () => {
  it('has one key however often it is kept, and narrows lists, sums and taggings', async () => {
    const key = await keep(rule(town('Millrace')));
    expect(await keep(rule(town('Millrace')))).toBe(key);
    expect(await list(`filter=${key}`)).toHaveLength(10);
    expect(await list(`filter=${key}&q=person1`)).toHaveLength(2);
    expect((await ask('GET', `/api/people/summary?filter=${key}`)).body).toMatchObject({
      total: 10,
    });
    const tagging = await ask('POST', '/api/tagging', { people: { filter: key }, tag, put: true });
    expect(tagging.body).toMatchObject({ count: 8 });
    await ask('POST', `/api/changes/${String(tagging.body['id'])}/undo`);
  });

  it('that asks for nothing finds nobody', async () => {
    expect(await list(`filter=${await keep(rule())}`)).toEqual([]);
    expect(await list(`filter=${await keep(rule({ kind: 'everybody' }))}`)).toHaveLength(40);
  });

  it('that is not there, or asks for what is gone, says so', async () => {
    expect(await ask('GET', '/api/people?filter=000000000000000000000000')).toMatchObject({
      status: 404,
      body: { detail: expect.stringContaining('not there any more') },
    });
    for (const odd of ['x', '1', 'DROP', '0123456789abcdef0123456'])
      expect((await ask('GET', `/api/people?filter=${odd}`)).status).toBe(400);
    expect(await ask('POST', '/api/filters', { rule: rule({ kind: 'weather' }) })).toMatchObject({
      status: 422,
    });
  });

  it('takes 20,000 addresses, and refuses more with a reason', async () => {
    const among = (count: number) =>
      ask('POST', '/api/filters', {
        rule: rule({
          kind: 'field',
          field: 'address',
          op: 'is one of',
          value: Array.from({ length: count }, (_, at) => `Person${at}@example.com`),
        }),
      });
    const kept = await among(20_000);
    expect(await list(`filter=${kept.body['key']}`)).toHaveLength(40);
    expect(await among(20_001)).toMatchObject({
      status: 422,
      body: { detail: expect.stringContaining('20,000 are the most') },
    });
  });

  it('tells a member of their own people only', async () => {
    const key = await keep(rule(town('Millrace')));
    expect(
      (await ask('GET', `/api/people/summary?filter=${key}`, undefined, member)).body,
    ).toMatchObject({
      total: 0,
      colleagues: 0,
    });
  });
});

describe('a list', () => {
  it('is sorted by several fields, without a value last, and paged so', async () => {
    const by = async (sort: string) =>
      (await list(`sort=${sort}&columns=town`)).map((row) => [
        (row['values'] as { town: string | null }).town,
        row['familyName'],
      ]);
    const sorted = await by('town,-name');
    expect(sorted.map(([own]) => own)).toEqual([
      ...Array.from({ length: 10 }, () => 'Ashwick'),
      ...Array.from({ length: 10 }, () => 'Millrace'),
      ...Array.from({ length: 10 }, () => 'Saltcote'),
      ...Array.from({ length: 10 }, () => null),
    ]);
    const first = sorted.slice(0, 10).map(([, family]) => String(family));
    expect(first).toEqual(first.toSorted().toReversed());
    expect((await by('-town')).at(-1)?.[0]).toBeNull();
    const pages = [
      ...(await list('sort=-came_in,address&limit=15&from=0')),
      ...(await list('sort=-came_in,address&limit=15&from=15')),
      ...(await list('sort=-came_in,address&limit=15&from=30')),
    ];
    expect(new Set(pages.map(({ id }) => id)).size).toBe(40);
  });

  it('knows a person’s place in its own order', async () => {
    const rows = await list('sort=-address');
    const at = 17;
    expect(
      (await ask('GET', `/api/people/${String(rows[at]?.['id'])}/place?sort=-address`)).body,
    ).toEqual({
      position: at + 1,
      total: 40,
      previous: rows[at - 1]?.['id'],
      next: rows[at + 1]?.['id'],
    });
  });

  it('passes over a field that is gone, and refuses what is none', async () => {
    expect(await list('sort=own_99,town&columns=own_99,town')).toHaveLength(40);
    for (const odd of ['sort=a,b,c,d,e', 'sort=;drop', 'columns=', 'columns=x%20y'])
      expect((await ask('GET', `/api/people?${odd}`)).status).toBe(400);
  });

  it('is searched by telephone number, however it is typed, and by tag', async () => {
    expect(await list('q=1007')).toHaveLength(1);
    expect(await list('q=04511007')).toHaveLength(1);
    expect(await list('q=0451-1007')).toHaveLength(1);
    expect(await list('q=gues')).toHaveLength(11);
    expect(await list('q=gues%20person12')).toHaveLength(1);
  });
});

describe('a view', () => {
  const arrangement = {
    order: ['name', 'town'],
    shown: ['name'],
    widths: {},
    pinned: [],
    sort: 'town',
  };
  const named = (name: string) => ({ name, sharedWithAll: false, sharedWith: [], arrangement });
  const seen = async (cookie?: string) =>
    (await ask('GET', '/api/views', undefined, cookie)).body as unknown as Record<
      string,
      unknown
    >[];

  it('is its maker’s alone, until it is shared', async () => {
    const { body } = await ask('POST', '/api/views', {
      ...named('By town'),
      rule: rule(town('Ashwick')),
    });
    const id = Number(body['id']);
    expect(await seen()).toMatchObject([{ id, name: 'By town', isMine: true, isStart: false }]);
    expect(await seen(member)).toEqual([]);
    expect((await ask('POST', `/api/views/${id}/start`, undefined, member)).status).toBe(404);
    const owners = (await ask('GET', '/api/vocabulary')).body['owners'] as unknown as {
      key: string;
      label: string;
    }[];
    const shared = {
      ...named('By town'),
      sharedWith: [Number(owners.find(({ label }) => label === 'kasimir')?.key)],
      rule: rule(town('Ashwick')),
    };
    expect(await ask('PUT', `/api/views/${id}`, { ...shared, version: 1 })).toMatchObject({
      status: 200,
      body: { version: 2 },
    });
    const [theirs] = await seen(member);
    expect(theirs).toMatchObject({ id, isMine: false, sharedWith: [], filter: expect.any(String) });
    expect(await seen(other)).toEqual([]);
    expect((await ask('PUT', `/api/views/${id}`, { ...shared, version: 2 }, member)).status).toBe(
      403,
    );
    expect((await ask('DELETE', `/api/views/${id}`, undefined, member)).status).toBe(403);
    expect((await ask('DELETE', `/api/views/${id}`, undefined, other)).status).toBe(404);
    expect((await ask('POST', `/api/views/${id}/restore`, undefined, other)).status).toBe(404);
    expect(await list(`filter=${String(theirs?.['filter'])}`)).toHaveLength(10);
  });

  it('is one’s own to begin with, deleted and brought back', async () => {
    const { body } = await ask('POST', '/api/views', named('Mine'), member);
    const id = Number(body['id']);
    expect((await ask('POST', `/api/views/${id}/start`, undefined, member)).status).toBe(204);
    expect((await seen(member)).find((one) => one['id'] === id)).toMatchObject({ isStart: true });
    await ask('DELETE', '/api/views/start', undefined, member);
    expect((await seen(member)).find((one) => one['id'] === id)).toMatchObject({ isStart: false });
    await ask('DELETE', `/api/views/${id}`, undefined, member);
    expect((await seen(member)).some((one) => one['id'] === id)).toBe(false);
    await ask('POST', `/api/views/${id}/restore`, undefined, member);
    expect((await seen(member)).some((one) => one['id'] === id)).toBe(true);
  });

  it('is kept by who was faster, and refuses what can’t be read', async () => {
    const { body } = await ask('POST', '/api/views', named('Two of us'));
    const path = `/api/views/${String(body['id'])}`;
    expect((await ask('PUT', path, { ...named('First'), version: 1 })).status).toBe(200);
    expect(await ask('PUT', path, { ...named('Second'), version: 1 })).toMatchObject({
      status: 409,
      body: { current: { version: 2, name: 'First' } },
    });
    for (const odd of [
      { ...named(''), version: 2 },
      { ...named('x'), arrangement: { ...arrangement, sort: 'a b' } },
      { ...named('x'), arrangement: { ...arrangement, order: ['<b>'] } },
      { ...named('x'), rule: { v: 2 } },
      { ...named('x'), sharedWith: ['everybody'] },
    ])
      expect([400, 422]).toContain((await ask('POST', '/api/views', odd)).status);
    const dropped = await ask('POST', '/api/views', {
      ...named('From elsewhere'),
      arrangement: {
        ...arrangement,
        weather: 'rain',
        widths: { name: 1e9, town: 120 },
        standing: 'rich',
      },
    });
    expect(dropped.status).toBe(201);
    expect((await seen()).at(-1)).toMatchObject({
      arrangement: { ...arrangement, widths: { town: 120 } },
    });
  });
});
