// Numbers agree: whatever the rule, every place that counts its people counts the same, and the tally accounts for each.
import { parse } from 'csv-parse/sync';
import fc from 'fast-check';
import { importPeople } from '../testing/round.js';
import { startTestServer, type TestServer } from '../testing/server.js';

let server: TestServer;
let tags: number[];
beforeAll(async () => {
  server = await startTestServer();
  await importPeople(
    server,
    `email,first name,town\n${Array.from({ length: 60 }, (_, at) => `${at % 11 === 0 ? '' : `n${at}@example.com`},N${at},${['Ash', 'Birch', 'Cedar', ''][at % 4]}`).join('\n')}\n`,
  );
  await importPeople(
    server,
    `email,first name\n${Array.from({ length: 12 }, (_, at) => `u${at}@example.com,U${at}`).join('\n')}\n`,
    'unknown',
  );
  tags = [];
  for (const [name, q] of [
    ['one', 'n1'],
    ['two', 'n2'],
    ['three', 'u'],
  ]) {
    const made = await server.call('POST', '/api/tags', { name, colour: 'moss' });
    tags.push(made.body.id as number);
    await server.call('POST', '/api/tagging', { people: { q }, tag: made.body.id, put: true });
  }
}, 60_000);
afterAll(() => server.stop());

const condition = fc.oneof(
  fc.record({
    kind: fc.constant('tag'),
    op: fc.constantFrom('has any of', 'has all of', 'has none of'),
    tags: fc.subarray([0, 1, 2], { minLength: 1 }),
  }),
  fc.record({
    kind: fc.constant('field'),
    field: fc.constant('town'),
    op: fc.constantFrom('is', 'is not', 'contains'),
    value: fc.constantFrom('ash', 'Birch', 'e'),
  }),
  fc.record({
    kind: fc.constant('standing'),
    any: fc.subarray(['no address', 'may be mailed', 'no permission'], { minLength: 1 }),
  }),
  fc.constant({ kind: 'field', field: 'town', op: 'is empty' }),
  fc.constant({ kind: 'letter', did: 'opened', letters: { in: 'ever' }, many: 'none' }),
  fc.constant({ kind: 'everybody' }),
);
const group = fc.record({
  of: fc.constantFrom('all', 'any', 'none'),
  items: fc.array(condition, { minLength: 1, maxLength: 3 }),
});
const root = fc.record({
  of: fc.constantFrom('all', 'any', 'none'),
  items: fc.array(fc.oneof(condition, group), { minLength: 1, maxLength: 4 }),
});

/** Tags by their place become the office's. */
const real = (node: unknown): unknown => {
  if (Array.isArray(node)) return node.map(real);
  if (typeof node !== 'object' || node === null) return node;
  const one = Object.fromEntries(Object.entries(node).map(([key, value]) => [key, real(value)]));
  return one['kind'] === 'tag'
    ? { ...one, tags: (one['tags'] as number[]).map((at) => tags[at]) }
    : one;
};

const counts = async (rule: object): Promise<Record<string, number>> => {
  const { call } = server;
  const asked = { pools: [1], rule };
  const id = (await call('POST', '/api/segments', { name: 'Any', ...asked })).body.id as number;
  const of = `segment.${id}`;
  const listed = (await call('POST', '/api/segments', { name: 'Listed', people: { of } })).body
    .id as number;
  const asking = (
    await call('POST', '/api/segments', {
      name: 'Asks for it',
      rule: { v: 1, root: { of: 'all', items: [{ kind: 'segment', op: 'is in', segment: id }] } },
    })
  ).body.id as number;
  const filter = (await call('POST', '/api/filters', { rule })).body.key as string;
  const campaign = (await call('POST', '/api/campaigns', { name: 'To these', segment: id })).body
    .id as number;
  const { tally } = (await call('GET', `/api/campaigns/${campaign}/tally`)).body as {
    tally: { matched: number; receives: number; heldBack: Record<string, number> };
  };
  const total = async (query: string): Promise<number> =>
    (await call('GET', `/api/people/summary?${query}`)).body.total as number;
  const file = await fetch(`${server.url}/api/people/export`, {
    method: 'POST',
    headers: {
      'content-type': 'application/json',
      'x-requested-by': 'palabra',
      cookie: server.coordinator,
    },
    body: JSON.stringify({ people: { of }, format: 'csv', columns: ['given_name'] }),
  });
  const compared = (await call('POST', '/api/segments/compare', { segments: [id, listed] }))
    .body as {
    sizes: number[];
    parts: { inThese: number; count: number }[];
  };
  return {
    editor: (await call('POST', '/api/segments/sift', asked)).body.count as number,
    strainer: (await call('POST', '/api/segments/strain', asked)).body.count as number,
    list: await total(`of=${of}`),
    rows: ((await call('GET', `/api/people?of=${of}&limit=200`)).body.rows as unknown[]).length,
    filter: await total(`pool=1&filter=${filter}`),
    fixed: await total(`of=segment.${listed}`),
    asking: await total(`of=segment.${asking}`),
    matched: tally.matched,
    accounted: tally.receives + Object.values(tally.heldBack).reduce((sum, one) => sum + one, 0),
    file: (parse(Buffer.from(await file.arrayBuffer()), { bom: true }) as unknown[]).length - 1,
    compared: compared.sizes[0] ?? -1,
    both: compared.parts.find(({ inThese }) => inThese === 3)?.count ?? 0,
  };
};

it('counts the same people everywhere, for fifty rules of any shape', async () => {
  await fc.assert(
    fc.asyncProperty(root, async (given) => {
      const found = await counts({ v: 1, root: real(given) as object });
      expect(found).toEqual(
        Object.fromEntries(Object.keys(found).map((place) => [place, found['editor']])),
      );
    }),
    { numRuns: 50 },
  );
}, 180_000);

it('counts a tag in its page, in a segment of it and in the tally alike', async () => {
  const [tag = 0] = tags;
  const { body } = await server.call('GET', '/api/tags');
  const line = (body as { tags: { id: number; people: number }[] }).tags.find(
    ({ id }) => id === tag,
  );
  const found = await counts({
    v: 1,
    root: { of: 'all', items: [{ kind: 'tag', op: 'has', tags: [tag] }] },
  });
  expect([line?.people, found['editor'], found['matched']]).toEqual([
    found['list'],
    found['list'],
    found['list'],
  ]);
});
