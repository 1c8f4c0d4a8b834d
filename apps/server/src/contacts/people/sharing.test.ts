// People shared with a colleague: seen and worked on by both, and for their owner to give, share and delete.
import { importPeople } from '../../testing/round.js';
import { startTestServer, type TestServer } from '../../testing/server.js';

let server: TestServer;
let rosa: { readonly id: number; readonly cookie: string };
let sven: { readonly id: number; readonly cookie: string };
/** Rosa's people, by name. */
const ids = new Map<string, number>();

const call = (
  method: string,
  path: string,
  body: unknown,
  { cookie }: { readonly cookie: string },
) => server.call(method, path, body, { cookie });
const many = (people: object, deed: object, who: { readonly cookie: string }) =>
  call('POST', '/api/deeds', { people, deed }, who);
const share = (people: object, colleague: number, who = rosa, put = true) =>
  many(people, { kind: 'share', colleague: String(colleague), put }, who);
const names = async (who: { readonly cookie: string }, query = ''): Promise<string[]> =>
  (
    (await call('GET', `/api/people?${query}`, undefined, who)).body.rows as { givenName: string }[]
  ).map(({ givenName }) => givenName);
const idOf = (name: string): number => ids.get(name) ?? 0;

beforeAll(async () => {
  server = await startTestServer();
  const account = async (name: string) => {
    const address = `${name.toLowerCase()}@example.com`;
    const id = await server.account({ name, address, role: 'member' });
    return { id, cookie: await server.signIn(address) };
  };
  rosa = await account('Rosa');
  sven = await account('Sven');
  for (const given_name of ['Abe', 'Bea', 'Cid', 'Dot']) {
    const values = { given_name, address: `${given_name}@shared.example.com`, town: 'Mere' };
    const { body } = await call(
      'POST',
      '/api/people',
      { values, permission: 'asked', source: 'x' },
      rosa,
    );
    ids.set(given_name, body.id as number);
  }
}, 60_000);
afterAll(() => server.stop());

it('a colleague sees and finds whom one shares, and nobody else', async () => {
  expect(await names(sven)).toEqual([]);
  const { body } = await share({ ids: [idOf('Abe'), idOf('Bea')] }, sven.id);
  expect(body).toMatchObject({ what: 'shared with Sven', count: 2, leftAlone: 0, isDone: true });
  expect(await names(sven)).toEqual(['Abe', 'Bea']);
  expect(await names(sven, 'q=mere')).toEqual([]);
  expect(await names(sven, 'q=bea')).toEqual(['Bea']);
  expect(await names(sven, 'sort=-town')).toEqual(['Abe', 'Bea']);
  const { body: summary } = await call('GET', '/api/people/summary', undefined, sven);
  expect(summary).toMatchObject({ total: 2, mayBeMailed: 2 });
  const { body: filter } = await call(
    'POST',
    '/api/filters',
    {
      rule: {
        v: 1,
        root: {
          of: 'all',
          items: [
            { kind: 'field', field: 'shared_with', op: 'has any of', value: [String(sven.id)] },
          ],
        },
      },
    },
    rosa,
  );
  expect(await names(rosa, `filter=${String(filter.key)}`)).toEqual(['Abe', 'Bea']);
  // Shared once more, nothing changes.
  expect((await share({ ids: [idOf('Abe')] }, sven.id)).body).toMatchObject({ count: 0 });
});

it('they work on them, but say neither whose they are nor who sees them, and delete nobody', async () => {
  const person = async (who = sven) =>
    (await call('GET', `/api/people/${idOf('Abe')}`, undefined, who)).body;
  const change = async (values: object) =>
    call(
      'PATCH',
      `/api/people/${idOf('Abe')}`,
      { version: (await person()).version, values },
      sven,
    );
  expect(await person()).toMatchObject({ owner: { name: 'Rosa' }, isOwn: false });
  expect((await change({ town: 'Tarn' })).status).toBe(200);
  expect((await change({ owner: 'Sven' })).status).toBe(403);
  expect((await change({ shared_with: '' })).status).toBe(403);
  const both = { ids: [idOf('Abe'), idOf('Bea'), idOf('Cid')] };
  for (const deed of [
    { kind: 'delete' },
    { kind: 'share', colleague: String(sven.id), put: false },
    { kind: 'field', field: 'owner', text: 'Sven' },
  ]) {
    const { body } = await many(both, deed, sven);
    expect(body).toMatchObject({ count: 0, leftAlone: 2, isDone: true });
    expect(body.whyLeft).toMatch(/owner/);
    expect(await names(sven, `of=change.${body.id as number}.left-alone`)).toEqual(['Abe', 'Bea']);
    // Who sees everybody sees whom somebody else had to leave.
    expect(
      await names({ cookie: server.coordinator }, `of=change.${body.id as number}.left-alone`),
    ).toEqual(['Abe', 'Bea']);
  }
  expect(await person(rosa)).toMatchObject({ owner: { name: 'Rosa' }, sharedWith: [sven.id] });
  // What the owner deletes is not in the colleague's bin.
  await many({ ids: [idOf('Bea')] }, { kind: 'delete' }, rosa);
  expect((await call('GET', '/api/bin', undefined, sven)).body).toMatchObject({ total: 0 });
  expect((await call('POST', `/api/bin/${idOf('Bea')}/bring-back`, undefined, sven)).status).toBe(
    404,
  );
  expect((await call('POST', `/api/bin/${idOf('Bea')}/bring-back`, undefined, rosa)).status).toBe(
    204,
  );
  expect(await names(sven)).toEqual(['Abe', 'Bea']);
});

it('on a page, the owner says who sees them; sharing is taken back where nobody changed it since', async () => {
  const cid = async () => (await call('GET', `/api/people/${idOf('Cid')}`, undefined, rosa)).body;
  const shared = async (value: string) =>
    call(
      'PATCH',
      `/api/people/${idOf('Cid')}`,
      { version: (await cid()).version, values: { shared_with: value } },
      rosa,
    );
  expect((await shared('nobody at all')).status).toBe(422);
  expect((await shared(`${sven.id}, 1`)).status).toBe(200);
  expect((await cid()).sharedWith).toEqual([1, sven.id]);
  const { body: all } = await share({}, sven.id);
  expect(all).toMatchObject({ count: 1 });
  expect(await names(sven)).toEqual(['Abe', 'Bea', 'Cid', 'Dot']);
  await share({ ids: [idOf('Dot')] }, 1);
  const { body: undone } = await call(
    'POST',
    `/api/changes/${all.id as number}/undo`,
    undefined,
    rosa,
  );
  expect(undone).toMatchObject({ count: 0, leftAlone: 1 });
  const { body: ended } = await share({}, sven.id, rosa, false);
  expect(ended).toMatchObject({ what: 'no longer shared with Sven', count: 4 });
  expect(await names(sven)).toEqual([]);
  expect((await cid()).sharedWith).toEqual([1]);
  expect(
    (await call('POST', `/api/changes/${ended.id as number}/undo`, undefined, rosa)).body,
  ).toMatchObject({ count: 4, leftAlone: 0 });
  expect(await names(sven)).toEqual(['Abe', 'Bea', 'Cid', 'Dot']);
});

it('whom one gave away one shares no longer, not even by taking back', async () => {
  const dot = { ids: [idOf('Dot')] };
  const { body: ended } = await share(dot, sven.id, rosa, false);
  await server.call('POST', '/api/deeds', {
    people: dot,
    deed: { kind: 'field', field: 'owner', text: 'Ines' },
  });
  expect(
    (await call('POST', `/api/changes/${ended.id as number}/undo`, undefined, rosa)).body,
  ).toMatchObject({ count: 0, leftAlone: 1 });
  expect(await names(sven)).toEqual(['Abe', 'Bea', 'Cid']);
  expect(await names(rosa)).toEqual(['Abe', 'Bea', 'Cid']);
});

it('an import by a colleague changes whom they share as their own', async () => {
  const caller = {
    call: (method: string, path: string, body?: unknown, options: object = {}) =>
      server.call(method, path, body, { ...options, cookie: sven.cookie }),
  };
  const id = await importPeople(
    caller,
    'email,town\nabe@shared.example.com,Lake\ndot@shared.example.com,Lake\n',
  );
  expect((await server.call('GET', `/api/imports/${id}`)).body).toMatchObject({
    changedCount: 1,
    elsewhereCount: 1,
  });
});
