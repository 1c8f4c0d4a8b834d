// A member walks every path of the API, reading and writing, and never sees or touches a colleague's people.
import { sql } from 'drizzle-orm';
import { execute } from './platform/database.js';
import { beginImport, importPeople, makeCampaign, send, untilStatus } from './testing/round.js';
import { startMailServer, type TestMailServer } from './testing/mail-server.js';
import { watch } from './testing/watchdog.js';
import { startTestServer, type TestServer, until } from './testing/server.js';

/** Stands in the name, address, town and own field of everybody who is not the member's. */
const SECRET = 'zirbelnuss';

let mail: TestMailServer;
let server: TestServer;
let member = '';
let own = 0;
let theirs: number[] = [];
let campaign = 0;
let importId = 0;
let changeId = 0;

beforeAll(async () => {
  mail = await startMailServer();
  server = await startTestServer({ SMTP_URL: mail.url });
  await server.account({ name: 'Milo', address: 'milo@example.com', role: 'member' });
  member = await server.signIn('milo@example.com');
  importId = await importPeople(
    server,
    `email,first name,town\n${Array.from({ length: 5 }, (_, at) => `${SECRET}${at}@example.com,${SECRET} ${at},${SECRET}ville`).join('\n')}\nbroken ${SECRET},x,y\n`,
  );
  theirs = ((await server.call('GET', '/api/people')).body.rows as { id: number }[]).map(
    ({ id }) => id,
  );
  own = (
    await server.call(
      'POST',
      '/api/people',
      {
        values: { given_name: 'Own', address: 'own@example.com' },
        permission: 'asked',
        source: 'x',
      },
      { cookie: member },
    )
  ).body.id as number;
  const tag = (await server.call('POST', '/api/tags', { name: 'guest', colour: 'moss' })).body
    .id as number;
  changeId = (await server.call('POST', '/api/tagging', { people: {}, tag, put: true })).body
    .id as number;
  campaign = (await makeCampaign(server)).campaign;
  await send(server, campaign);
  await untilStatus(server, campaign, 'sent');
}, 90_000);
afterAll(async () => {
  await server.stop();
  await mail.stop();
});

const asMember = (method: string, path: string, data?: unknown) =>
  server.call(method, path, data, { cookie: member });
/** Everything that is kept about colleagues' people, as one text, but for their rating, which follows from their letters soon after. */
const state = async (): Promise<string> => {
  const { rows } = await execute(
    server.database.db,
    sql`
    select to_jsonb(c) - array['rating', 'band', 'rating_due', 'rating_high', 'rating_low', 'recent_letters', 'recent_accepted', 'recent_opened', 'recent_clicked', 'recent_bounced'] as person, (select array_agg(tag_id order by tag_id) from contact_tags t where t.contact_id = c.id) as tags, (select count(*) from do_not_mail d where d.address_hash = c.address_hash) as refused
    from contacts c where c.id = any(${sql.param(theirs)}::int[]) order by c.id`,
  );
  return JSON.stringify(rows);
};

it('finds a colleague’s people nowhere, whatever is asked', async () => {
  const before = await state();
  const docs = (await server.call('GET', '/api/docs')).body as {
    paths: Record<string, Record<string, { parameters: { name: string; in: string }[] }>>;
  };
  const ids = [...new Set([1, importId, changeId, campaign, ...theirs.slice(0, 2), own])];
  const sets = [
    '',
    `import.${importId}`,
    `import.${importId}.new`,
    `change.${changeId}`,
    `campaign.${campaign}.receives`,
    `campaign.${campaign}.matched`,
    'segment.1',
    'tag.1',
    'since.1.came-in',
  ];
  let asked = 0;
  const dog = await watch(server.url);
  for (const [path, methods] of Object.entries(docs.paths)) {
    for (const [method, operation] of Object.entries(methods)) {
      if (path.endsWith('/live') || path.startsWith('/api/session')) continue;
      const isRead = method === 'get';
      for (const id of path.includes('{') ? ids : [0]) {
        const names = operation.parameters
          .filter((one) => one.in === 'query')
          .map(({ name }) => name);
        const queries =
          isRead && names.includes('of')
            ? sets.map((of) => (of ? `?of=${of}&q=` : '?q=zir'))
            : names.includes('as')
              ? [`?as=${theirs[0] ?? 0}`, '']
              : [''];
        for (const query of queries) {
          const body = {
            people: { ids: theirs },
            ids: theirs,
            tag: 1,
            put: true,
            values: { town: 'changed' },
            version: 1,
            note: '',
            permission: 'unknown',
            source: '',
            contact: theirs[0],
            pools: [1],
            kind: 'bounce',
            bounce: 'hard',
            rule: { v: 1, root: { of: 'all', items: [{ kind: 'everybody' }] } },
            task: { kind: 'call', text: '', due: null, remind: false },
          };
          for (const data of isRead
            ? [undefined]
            : [
                body,
                // All the other ways to ask are tried where somebody could be met: at a colleague’s person.
                ...(id === theirs[0] || id === 0
                  ? [
                      ...Object.keys(body).map((key) => ({
                        [key]: body[key as keyof typeof body],
                      })),
                      { people: { ids: theirs }, tag: 1, put: false },
                      { version: 1, values: { town: 'changed' } },
                      { put: true, note: '' },
                      { pools: [1], rule: body.rule },
                      { pools: [1], rule: body.rule, contact: theirs[0] },
                    ]
                  : []),
              ]) {
            const reply = await asMember(
              method.toUpperCase(),
              `${path.replace(/\{\w+\}/g, String(id))}${query}`,
              data,
            );
            asked++;
            expect({
              method,
              path,
              id,
              query,
              leaks: reply.text.toLowerCase().includes(SECRET),
            }).toEqual({ method, path, id, query, leaks: false });
          }
        }
      }
    }
  }
  const { slowest, limit } = await dog.stop();
  expect(slowest).toBeLessThan(3 * limit);
  expect(asked).toBeGreaterThan(300);
  expect(await state()).toBe(before);
}, 240_000);

it('is not told whose an address is, and brings nobody’s people by a list', async () => {
  const taken = await asMember('POST', '/api/people', {
    values: { address: `${SECRET}1@example.com` },
    permission: 'asked',
    source: 'x',
  });
  expect(taken.status).toBe(422);
  expect(taken.body).not.toHaveProperty('person');
  const before = await state();
  const { body: uploaded } = await server.call(
    'POST',
    '/api/imports?name=mine.csv',
    `email,first name\n${SECRET}1@example.com,Mine\n${SECRET}1@example.com,Mine\nnew.one@example.com,New\nnew.one@example.com,New\n`,
    { cookie: member, headers: { 'content-type': 'text/csv' } },
  );
  const path = `/api/imports/${uploaded.id as number}`;
  const seen = async (of: string) => {
    await until(
      'the look',
      async () => ((await asMember('GET', of)).body.look as { isCurrent: boolean }).isCurrent,
    );
    return asMember('GET', of);
  };
  const { body: looked } = await seen(path);
  // Not even beforehand is it told who is known here.
  expect(looked.look).toMatchObject({ counts: { outcomes: { new: 2, elsewhere: 0, changed: 0 } } });
  const rows = await asMember('GET', `${path}/rows?part=new`);
  expect(rows.body.rows).toMatchObject([
    { outcome: 'new', contact: null, problems: [] },
    { outcome: 'new', contact: null, problems: [] },
  ]);
  expect((await asMember('GET', `${path}/rows?part=elsewhere`)).body.rows).toEqual([]);
  expect((await asMember('GET', `${path}/rows?part=again`)).body.rows).toMatchObject([
    { sameAs: 1, contact: null, problems: [] },
    { sameAs: 3, contact: null, problems: [] },
  ]);
  await beginImport({ call: asMember }, path);
  let done = (await asMember('GET', path)).body;
  for (let left = 100; done.state !== 'done' && left > 0; left--) {
    await new Promise((resolve) => setTimeout(resolve, 50));
    done = (await asMember('GET', path)).body;
  }
  // What is counted as new is what the list behind the number holds.
  expect(done).toMatchObject({ newCount: 1, changedCount: 0, refusedCount: 0, elsewhereCount: 1 });
  expect(
    (await asMember('GET', `/api/people/summary?of=import.${uploaded.id as number}.new`)).body,
  ).toMatchObject({ total: 1 });
  expect((await server.call('GET', path)).body).toMatchObject({
    newCount: 1,
    refusedCount: 0,
    elsewhereCount: 1,
  });
  expect(
    (await server.call('GET', `/api/people/summary?of=import.${uploaded.id as number}.elsewhere`))
      .body,
  ).toMatchObject({ total: 1 });
  expect(
    (await asMember('GET', `/api/people/summary?of=import.${uploaded.id as number}.elsewhere`))
      .status,
  ).toBe(404);
  expect(await state()).toBe(before);
});

it('sees the figures of a campaign, and in its lists the own people and a number', async () => {
  expect((await asMember('GET', `/api/results/${campaign}`)).body.counts).toMatchObject({
    accepted: 6,
  });
  expect(
    (await asMember('GET', `/api/people?of=campaign.${campaign}.receives`)).body.rows,
  ).toHaveLength(1);
  expect(
    (await asMember('GET', `/api/people/summary?of=campaign.${campaign}.receives`)).body,
  ).toMatchObject({ total: 1, colleagues: 5 });
  expect((await asMember('GET', `/api/changes/${changeId}`)).status).toBe(404);
  expect((await asMember('GET', `/api/imports/${importId}`)).status).toBe(404);
  expect((await asMember('POST', `/api/changes/${changeId}/undo`)).status).toBe(404);
});
