// A campaign to people chosen in a list: just these, or whoever the list's rule finds when it goes out.
import { importPeople } from '../testing/round.js';
import { startTestServer, type TestServer } from '../testing/server.js';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
  await importPeople(
    server,
    `email,first name,town\n${Array.from({ length: 30 }, (_, at) => `p${at}@example.com,N${at},${at % 3 ? 'Mere' : 'Tarn'}`).join('\n')}\n`,
  );
}, 60_000);
afterAll(() => server.stop());

const post = async (path: string, data: object) => server.call('POST', path, data);
const campaignTo = async (people: object): Promise<{ id: number; who: object }> => {
  const { body: chosen } = await post('/api/campaigns/people', { people });
  const { body } = await post('/api/campaigns', { name: 'To them' });
  const campaign = body as {
    id: number;
    version: number;
    senderName: string;
    senderAddress: string;
  };
  const who = { to: [{ kind: 'people', id: chosen['id'] }], notTo: [] };
  const { status } = await server.call('PUT', `/api/campaigns/${campaign.id}`, {
    version: campaign.version,
    name: 'To them',
    who,
    letterId: null,
    senderName: 'Garden',
    senderAddress: 'letters@example.com',
    replyTo: '',
    sendAt: null,
  });
  expect(status).toBe(200);
  return { id: campaign.id, who };
};
const matched = async (id: number): Promise<number> =>
  ((await server.call('GET', `/api/campaigns/${id}/tally`)).body as { tally: { matched: number } })
    .tally.matched;
const names = async (id: number): Promise<object> =>
  (await server.call('GET', `/api/campaigns/${id}`)).body['names'] as object;

it('goes to just the people who were chosen, however they change', async () => {
  const rows = (await server.call('GET', '/api/people?limit=4')).body['rows'] as { id: number }[];
  const { id } = await campaignTo({ ids: rows.map((row) => row.id) });
  expect(await matched(id)).toBe(4);
  expect(Object.values(await names(id))).toEqual([
    { name: '4 people chosen in a list', gone: false },
  ]);
});

it('goes to whomever the rule of the list finds, also when nobody looks at the filter any more', async () => {
  const rule = {
    v: 1,
    root: { of: 'all', items: [{ kind: 'field', field: 'town', op: 'is', value: 'Tarn' }] },
  };
  const { body } = await post('/api/filters', { rule });
  const { id } = await campaignTo({ filter: body['key'], q: 'p' });
  expect(await matched(id)).toBe(10);
  await post('/api/people', {
    values: { address: 'p99@example.com', given_name: 'P', town: 'Tarn' },
    permission: 'asked',
    source: '',
  });
  expect(await matched(id)).toBe(11);
  expect(await matched((await campaignTo({})).id)).toBe(31);
});

it('refuses people that are none, and says when they are gone', async () => {
  expect((await post('/api/campaigns/people', { people: { of: 'segment.999' } })).status).toBe(404);
  expect((await post('/api/campaigns/people', { people: { filter: 'x' } })).status).toBe(400);
  expect((await post('/api/campaigns/people', {})).status).toBe(400);
  expect((await server.call('GET', '/api/people?of=people.999')).status).toBe(404);
});
