// Every path of the OpenAPI document, asked for things no interface would ask: whatever comes, the answer is in
// order, in the problem format where it is a refusal, and never 500.
import fc from 'fast-check';
import { answers, type Document, type Operation } from './testing/openapi.js';
import { importPeople, makeCampaign } from './testing/round.js';
import { startTestServer, type Reply, type TestServer } from './testing/server.js';
import { underWatch } from './testing/watchdog.js';

/** Ends the session, or would throttle the account that asks. */
const LEFT_OUT = new Set([
  'delete /api/session',
  'delete /api/sessions/{id}',
  'post /api/session',
  'put /api/password',
]);
/** How long odd values are tried, in seconds; every path is walked once at the least. */
const SECONDS = process.env['ROUND'] === 'long' ? 600 : 15;
const SEED = Number(process.env['SEED'] ?? Date.now() % 1_000_000_000);
const RUNS = 3;
/** What takes longer may have held up others, or was held up itself: it is asked for once more under watch. */
const LONG_MS = 500;

let server: TestServer;
let docs: Document;
let differs: ReturnType<typeof answers>;
let calls: readonly {
  readonly method: string;
  readonly path: string;
  readonly operation: Operation;
}[];
beforeAll(async () => {
  server = await startTestServer();
  await importPeople(server, 'email,first name\nada@example.com,Ada\nben@example.com,Ben\n');
  await makeCampaign(server);
  // So that the first of each kind is there, and odd requests reach beyond “not found”.
  await server.call('POST', '/api/tags', { name: 'guest', colour: 'moss' });
  await server.call('POST', '/api/topics', { name: 'News', description: '' });
  await server.call('POST', '/api/fields', { label: 'likes', type: 'text' });
  await server.call('POST', '/api/segments', { name: 'Listed', people: {} });
  docs = (await server.call('GET', '/api/docs')).body as Document;
  differs = answers(docs);
  calls = Object.entries(docs.paths).flatMap(([path, methods]) =>
    Object.entries(methods).map(([method, operation]) => ({ method, path, operation })),
  );
}, 60_000);
afterAll(() => server.stop());

const odd = fc.oneof(
  fc.constantFrom<unknown>(
    0,
    -1,
    1,
    2,
    1.5,
    2 ** 31,
    2 ** 53,
    -(2 ** 63),
    1e308,
    null,
    true,
    '',
    ' ',
    '\0',
    'null',
    '__proto__',
    "'; drop table contacts; --",
    '<script>alert(1)</script>',
    '{{ contact.first_name }}',
    '2026-02-30',
    '9999-12-31T23:59:59Z',
    'a'.repeat(5000),
    '\ud800',
    'segment.1',
    [],
    [[]],
    {},
    { $ne: 1 },
  ),
  fc.string({ unit: 'binary', maxLength: 40 }),
  fc.jsonValue({ maxDepth: 3 }),
  fc.array(fc.oneof(fc.integer(), fc.string()), { maxLength: 4 }),
);

const inOrder = (reply: Reply, what: string, operationId?: string): void => {
  // 503 is an answer, too: the mail server of this test can't be reached.
  if (reply.status >= 500 && reply.status !== 503)
    throw new Error(`${what} answered ${reply.status}: ${reply.text.slice(0, 300)}`);
  if (reply.status < 400) {
    // What has a body is JSON, but for files.
    if (operationId && reply.body !== undefined)
      expect(differs(operationId, reply.status, reply.body)).toBeUndefined();
    return;
  }
  expect({ what, type: reply.headers.get('content-type') }).toEqual({
    what,
    type: expect.stringContaining('application/problem+json'),
  });
  expect(reply.body).toMatchObject({
    type: expect.stringMatching(/^(about:blank|\/problems\/[a-z]+\/[a-z-]+)$/),
    status: reply.status,
    title: expect.any(String),
    detail: expect.any(String),
  });
};

const textOf = (value: unknown): string =>
  typeof value === 'string' ? value : (JSON.stringify(value) ?? '');
const encoded = (value: unknown): string =>
  encodeURIComponent(textOf(value).replace(/[\ud800-\udfff]/g, '?'));

it('describes itself', () => {
  expect(calls.length).toBeGreaterThan(60);
  expect(docs.components.schemas['TaggingRequest']).toMatchObject({
    required: expect.arrayContaining(['tag', 'put']),
  });
  expect(docs.paths['/api/people/{id}']?.['patch']).toMatchObject({
    parameters: [{ name: 'id', in: 'path' }],
    requestBody: expect.anything(),
  });
  const problems = docs.components.schemas['Problem']?.properties?.['type']?.['enum'];
  expect(problems).toContain('/problems/campaigns/in-the-past');
});

it('answers what it says, for everything that is there', async () => {
  // Before anything odd was asked for: what that takes away or makes differs from run to run.
  const read = calls.filter(({ method, path }) => method === 'get' && !path.endsWith('/live'));
  let described = 0;
  for (const { path, operation } of read) {
    const reply = await server.call('GET', path.replace(/\{\w+\}/g, '1'));
    if (reply.status !== 200 || reply.body === undefined) continue;
    expect(differs(operation.operationId, 200, reply.body)).toBeUndefined();
    described++;
  }
  expect(described).toBeGreaterThan(25);
  // And for what is made anew.
  for (const [path, body] of [
    ['/api/letters', { name: 'Spring' }],
    [
      '/api/segments',
      {
        name: 'All',
        pools: [1],
        rule: { v: 1, root: { of: 'all', items: [{ kind: 'everybody' }] } },
      },
    ],
    ['/api/campaigns', { name: 'Spring' }],
    ['/api/people', { values: { town: 'Ash', given_name: 'A' }, permission: 'asked', source: '' }],
  ] as const) {
    const reply = await server.call('POST', path, body);
    const { operationId } = docs.paths[path]?.['post'] ?? {};
    expect({ path, status: reply.status }).toEqual({ path, status: 201 });
    expect(operationId && differs(operationId, 201, reply.body)).toBeUndefined();
  }
});

it(
  'answers odd values everywhere in order, and keeps nobody waiting',
  async () => {
    process.stdout.write(`Odd values by SEED=${SEED}\n`);
    const long = new Map<string, () => Promise<unknown>>();
    const began = Date.now();
    const walked = calls.filter(
      ({ method, path }) => !LEFT_OUT.has(`${method} ${path}`) && !path.endsWith('/live'),
    );
    for (let walk = 0; walk < walked.length || Date.now() - began < SECONDS * 1000; walk++) {
      const call = walked[walk % walked.length];
      if (!call) throw new Error('there is nothing to walk');
      const { method, path, operation } = call;
      const schema = operation.requestBody?.content['application/json'].schema.$ref
        .split('/')
        .at(-1);
      const fields = Object.keys(docs.components.schemas[schema ?? '']?.properties ?? {});
      const request = fc.record({
        // Ids near those that exist reach further than noise does.
        params: fc.array(fc.oneof(fc.constantFrom(1, 2, 99), odd), { minLength: 3, maxLength: 3 }),
        query: fc.array(odd, {
          minLength: operation.parameters.length,
          maxLength: operation.parameters.length,
        }),
        body: fc.oneof(
          fc.record(
            Object.fromEntries(
              fields.map((name) => [name, fc.oneof(odd, fc.constantFrom(1, 'text', true))]),
            ),
            { requiredKeys: [] },
          ),
          odd,
        ),
        extra: fc.boolean(),
      });
      await fc.assert(
        fc.asyncProperty(request, async ({ params, query, body, extra }) => {
          let used = 0;
          const address = path.replace(/\{\w+\}/g, () => encoded(params[used++]) || '%20');
          const search = operation.parameters.flatMap(({ name, in: place }, at) =>
            place === 'query'
              ? [`${name}=${encoded(query[at])}`, ...(extra ? [`${name}=again`] : [])]
              : [],
          );
          const url = `${address}${search.length > 0 ? `?${search.join('&')}` : ''}`;
          const data =
            method === 'get' || method === 'delete'
              ? undefined
              : typeof body === 'object' && body !== null && extra && !Array.isArray(body)
                ? { ...body, unheardOf: 1 }
                : body;
          const what = `${method} ${url} ${JSON.stringify(data)?.slice(0, 300)}`;
          const ask = (): Promise<Reply> =>
            server.call(
              method.toUpperCase(),
              url,
              data === undefined ? undefined : JSON.stringify(data),
              { headers: { 'content-type': 'application/json' } },
            );
          const asked = performance.now();
          inOrder(await ask(), what, operation.operationId);
          if (performance.now() - asked > LONG_MS) long.set(what, ask);
        }),
        { numRuns: RUNS, seed: SEED + walk },
      );
    }
    for (const [what, ask] of long) await underWatch(server.url, what, ask);
    // Nothing of all that ended the session or the office.
    expect((await server.call('GET', '/api/me')).body).toMatchObject({
      needsSetUp: false,
      user: { role: 'coordinator' },
    });
  },
  SECONDS * 1000 + 240_000,
);

it('answers odd shapes, methods and headers in order', async () => {
  const deep = `${'['.repeat(5000)}${']'.repeat(5000)}`;
  for (const { path } of calls.filter(({ method }) => method === 'post')) {
    if (LEFT_OUT.has(`post ${path}`)) continue;
    const url = path.replace(/\{\w+\}/g, '1');
    for (const body of [
      deep,
      '{',
      '"text"',
      '12',
      'null',
      `{"a":${'9'.repeat(400)}}`,
      `{"__proto__":{"x":1},"constructor":1}`,
    ])
      inOrder(
        await server.call('POST', url, body, { headers: { 'content-type': 'application/json' } }),
        `POST ${url} ${body.slice(0, 30)}`,
      );
    inOrder(
      await server.call('POST', url, '<a/>', { headers: { 'content-type': 'application/xml' } }),
      `POST ${url} as XML`,
    );
  }
  for (const path of Object.keys(docs.paths)) {
    const url = path.replace(/\{\w+\}/g, '1');
    for (const method of ['PUT', 'DELETE', 'PATCH', 'OPTIONS']) {
      if (docs.paths[path]?.[method.toLowerCase()]) continue;
      const reply = await server.call(method, url);
      if (method !== 'OPTIONS')
        expect({ url, method, isRefused: reply.status >= 400 }).toEqual({
          url,
          method,
          isRefused: true,
        });
      inOrder(reply, `${method} ${url}`);
    }
  }
}, 120_000);

it('lets nobody in without a session, nor change anything from another site', async () => {
  for (const { method, path, operation } of calls) {
    if (LEFT_OUT.has(`${method} ${path}`)) continue;
    const url = path.replace(/\{\w+\}/g, '1');
    const isOpen = (operation as unknown as { security: unknown[] }).security.length === 0;
    const reply = await server.call(
      method.toUpperCase(),
      url,
      method === 'get' || method === 'delete' ? undefined : {},
      { cookie: 'palabra_session=forged' },
    );
    if (!isOpen)
      expect({ url, method, status: reply.status }).toEqual({ url, method, status: 401 });
    if (method !== 'get') {
      for (const headers of [
        { 'x-requested-by': 'other' },
        { 'sec-fetch-site': 'cross-site' },
        { origin: 'https://evil.example' },
      ] as Record<string, string>[]) {
        expect({
          url,
          headers,
          status: (await server.call(method.toUpperCase(), url, {}, { headers })).status,
        }).toEqual({ url, headers, status: 403 });
      }
    }
  }
}, 60_000);
