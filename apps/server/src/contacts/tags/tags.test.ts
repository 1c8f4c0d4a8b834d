// Tags: named once, told apart, merged and deleted with what names them, and all of it taken back.
import { sql } from 'drizzle-orm';
import { execute } from '../../platform/database.js';
import { importPeople } from '../../testing/round.js';
import { startTestServer, until, type TestServer } from '../../testing/server.js';

let server: TestServer;
let pool = 1;
beforeAll(async () => {
  server = await startTestServer();
  const { body } = await server.call('GET', '/api/vocabulary');
  pool = (body.pools as { id: number }[])[0]?.id ?? 1;
  await importPeople(
    server,
    `email,first name\n${Array.from({ length: 30 }, (_, at) => `p${at}@example.com,P${at}`).join('\n')}\n`,
  );
}, 60_000);
afterAll(() => server.stop());

interface Line {
  readonly id: number;
  readonly name: string;
  readonly purpose: string;
  readonly version: number;
  readonly people: number;
  readonly uses: { readonly kind: string; readonly id: number }[];
}
const list = async (cookie?: string) =>
  (await server.call('GET', '/api/tags', undefined, cookie ? { cookie } : {})).body as {
    tags: Line[];
    alike: { one: number; other: number }[];
  };
const line = async (id: number): Promise<Line | undefined> =>
  (await list()).tags.find((one) => one.id === id);
const make = async (name: string): Promise<number> =>
  (await server.call('POST', '/api/tags', { name, colour: 'moss' })).body.id as number;
const put = (tag: number, q: string, on = true) =>
  server.call('POST', '/api/tagging', { people: { q }, tag, put: on });
const segment = async (name: string, tags: number[], op = 'has any of') => {
  const rule = { v: 1, root: { of: 'all', items: [{ kind: 'tag', op, tags }] } };
  return (await server.call('POST', '/api/segments', { name, pools: [pool], rule })).body
    .id as number;
};
const rule = async (id: number) =>
  (await server.call('GET', `/api/segments/${id}`)).body.rule.root.items as { tags: number[] }[];
/** A campaign's draft to some tags, and not to others. */
const draft = async (name: string, to: number[], notTo: number[]) => {
  const { id } = (await server.call('POST', '/api/campaigns', { name })).body as { id: number };
  const refs = (tags: number[]) => tags.map((tag) => ({ kind: 'tag', id: tag }));
  const kept = await server.call('PUT', `/api/campaigns/${id}`, {
    version: 1,
    name,
    who: { to: refs(to), notTo: refs(notTo) },
    letterId: null,
    topicId: null,
    senderName: 'Garden',
    senderAddress: 'letters@example.com',
    replyTo: '',
    sendAt: null,
  });
  if (kept.status !== 200) throw new Error(kept.text);
  return id;
};
const whoOf = async (id: number) => (await server.call('GET', `/api/campaigns/${id}`)).body.who;
const total = async (query: string): Promise<number> =>
  (await server.call('GET', `/api/people/summary?${query}`)).body.total as number;
const undo = async (id: number) => {
  const reply = await server.call('POST', `/api/changes/${id}/undo`);
  if (reply.status !== 200) return reply;
  const now = () => server.call('GET', `/api/changes/${reply.body.id as number}`);
  await until('the undoing', async () => (await now()).body.isDone === true);
  return now();
};

it('is named once, whatever the signs, described and recoloured; who was slower sees the other state', async () => {
  const id = await make('V.I.P.');
  expect((await server.call('POST', '/api/tags', { name: ' vip ', colour: 'sky' })).status).toBe(
    422,
  );
  const change = (version: number, name: string, purpose = 'Gave for the roof') =>
    server.call('PUT', `/api/tags/${id}`, { version, name, colour: 'plum', purpose });
  expect((await change(1, 'Very important')).body).toMatchObject({ version: 2 });
  expect(await line(id)).toMatchObject({ name: 'Very important', purpose: 'Gave for the roof' });
  const late = await change(1, 'Rather important');
  expect(late.status).toBe(409);
  expect(late.text).toContain('Very important');
  await make('guest');
  expect((await change(2, 'G-U-E-S-T')).status).toBe(422);
  // Its own name in other signs is no other tag's.
  expect((await change(2, 'VERY-important')).status).toBe(200);
  expect((await change(9, '')).status).toBe(400);
});

it('a merge takes people, rules and sheets along, and gives them back', async () => {
  const [gone, stays, third] = [
    await make('workshops list'),
    await make('workshop list'),
    await make('school'),
  ];
  await put(gone, 'p1');
  await put(stays, 'p2');
  await put(stays, 'p12');
  const only = await total(`of=tag.${gone}.without-${stays}`);
  const both = await total(`of=tag.${gone}.and-${stays}`);
  const [before, there] = [await total(`tag=${gone}`), await total(`tag=${stays}`)];
  expect([only, both]).toEqual([before - both, 1]);
  const pair = { one: Math.min(gone, stays), other: Math.max(gone, stays) };
  expect((await list()).alike).toEqual([pair]);
  const asking = await segment('Asks for both', [gone, stays, third]);
  const leaving = await segment('Not these', [gone], 'has not');
  const campaign = await draft('News', [gone], [stays]);
  const who = await whoOf(campaign);
  expect((await line(gone))?.uses).toEqual([
    expect.objectContaining({ kind: 'segment', id: asking }),
    expect.objectContaining({ kind: 'segment', id: leaving }),
    expect.objectContaining({ kind: 'campaign', id: campaign, waits: false }),
  ]);
  for (const [from, into, status] of [
    [gone, gone, 422],
    [gone, 99_999, 404],
    [99_999, stays, 404],
  ] as const)
    expect((await server.call('POST', `/api/tags/${from}/merge`, { into })).status).toBe(status);
  const { body: merged } = await server.call('POST', `/api/tags/${gone}/merge`, { into: stays });
  expect(merged).toMatchObject({
    what: 'merged the tag “workshops list” into “workshop list”',
    count: before,
    isDone: true,
    canUndo: true,
  });
  expect(await total(`tag=${stays}`)).toBe(there + only);
  expect(await line(gone)).toBeUndefined();
  expect(await rule(asking)).toEqual([expect.objectContaining({ tags: [stays, third] })]);
  expect(await rule(leaving)).toEqual([expect.objectContaining({ tags: [stays] })]);
  expect(await whoOf(campaign)).toEqual({
    to: [{ kind: 'tag', id: stays }],
    notTo: [{ kind: 'tag', id: stays }],
  });
  // In a circle: it is gone.
  expect((await server.call('POST', `/api/tags/${stays}/merge`, { into: gone })).status).toBe(404);
  // One of them is written anew meanwhile, and stays as it is then.
  const { body: now } = await server.call('GET', `/api/segments/${leaving}`);
  const written = await server.call('PUT', `/api/segments/${leaving}`, {
    version: now.version as number,
    name: now.name as string,
    description: '',
    labels: [],
    sharing: 'all',
    sharedWith: [],
    draft: {
      pools: [pool],
      rule: { v: 1, root: { of: 'any', items: [{ kind: 'tag', op: 'has', tags: [third] }] } },
    },
  });
  await server.call('POST', `/api/segments/${leaving}/use`, {
    version: written.body.version as number,
  });
  // Its name is somebody else’s meanwhile.
  const taken = await make('Workshops-List');
  expect((await undo(merged.id as number)).status).toBe(422);
  await server.call('DELETE', `/api/tags/${taken}`);
  expect((await undo(merged.id as number)).body).toMatchObject({ count: before, leftAlone: 0 });
  expect([await total(`tag=${gone}`), await total(`tag=${stays}`)]).toEqual([before, there]);
  expect(await rule(asking)).toEqual([expect.objectContaining({ tags: [gone, stays, third] })]);
  expect(await rule(leaving)).toEqual([expect.objectContaining({ tags: [third] })]);
  expect(await whoOf(campaign)).toEqual(who);
});

it('a deletion clears what names the tag, is taken back, and done again from there', async () => {
  const [tag, other] = [await make('press'), await make('donor')];
  await put(tag, 'p1');
  const alone = await segment('Press alone', [tag], 'has');
  const more = await segment('Press and donors', [tag, other]);
  const before = await total(`tag=${tag}`);
  const { body: deleted } = await server.call('DELETE', `/api/tags/${tag}`);
  expect(deleted).toMatchObject({ what: 'deleted the tag “press”', count: before });
  expect((await server.call('GET', `/api/people?tag=${tag}`)).body.rows).toEqual([]);
  expect(await rule(more)).toEqual([expect.objectContaining({ tags: [other] })]);
  // What asked for nothing else is not whole any more: nobody, and not everybody.
  expect(await rule(alone)).toEqual([expect.objectContaining({ tags: [] })]);
  expect(await total(`of=segment.${alone}`)).toBe(0);
  expect((await put(tag, 'p1')).status).toBe(404);
  const { body: back } = await undo(deleted.id as number);
  expect(back).toMatchObject({ count: before });
  expect([await total(`tag=${tag}`), await total(`of=segment.${alone}`)]).toEqual([before, before]);
  const { body: again } = await undo(back.id as number);
  expect(again).toMatchObject({ count: before });
  expect(await line(tag)).toBeUndefined();
  expect(await rule(more)).toEqual([expect.objectContaining({ tags: [other] })]);
  // One on nobody is taken back, too.
  const { body: nobodys } = await server.call('DELETE', `/api/tags/${other}`);
  expect(nobodys).toMatchObject({ count: 0, canUndo: true });
  expect((await undo(nobodys.id as number)).status).toBe(200);
  expect(await line(other)).toBeDefined();
});

it('tags that are said to be two are not pointed out again', async () => {
  const [one, other] = [await make('allotment'), await make('allotments')];
  const pairs = async () => (await list()).alike.filter((pair) => pair.one === one);
  expect(await pairs()).toEqual([{ one, other }]);
  const tell = (areTwo: boolean) =>
    server.call('PUT', '/api/tags/apart', { one: other, other: one, areTwo });
  expect((await tell(true)).status).toBe(204);
  expect(await pairs()).toEqual([]);
  await tell(false);
  expect(await pairs()).toHaveLength(1);
  expect(
    (await server.call('PUT', '/api/tags/apart', { one, other: one, areTwo: true })).status,
  ).toBe(404);
});

it('shows how the number went over a year, and when it was put on last', async () => {
  const tag = await make('course');
  await put(tag, 'p1');
  const now = await total(`tag=${tag}`);
  await execute(
    server.database.db,
    sql`update change_sets set at = at - interval '62 days' where id = (select max(id) from change_sets)`,
  );
  await put(tag, 'p2');
  await put(tag, 'p20', false);
  const course = (
    (await server.call('GET', '/api/tags/courses')).body as unknown as {
      tag: number;
      months: number[];
      lastPutOn: string;
    }[]
  ).find((one) => one.tag === tag);
  expect(course?.months).toHaveLength(13);
  expect(course?.months[0]).toBe(0);
  expect(course?.months.at(-2)).toBe(now);
  expect(course?.months.at(-1)).toBe(await total(`tag=${tag}`));
  expect(Date.now() - Date.parse(course?.lastPutOn ?? '')).toBeLessThan(60_000);
});

it('a tag that a planned campaign goes by is not taken away; a member makes tags and changes none', async () => {
  const tag = await make('planned');
  const id = await draft('Soon', [tag], []);
  await execute(
    server.database.db,
    sql`update campaigns set status = 'scheduled', send_at = now() + interval '9 days' where id = ${id}`,
  );
  const refused = await server.call('DELETE', `/api/tags/${tag}`);
  expect(refused.status).toBe(422);
  expect(refused.text).toContain('“Soon”');
  await server.account({ name: 'Rosa', address: 'rosa@example.com', role: 'member' });
  const cookie = await server.signIn('rosa@example.com');
  const as = (method: string, path: string, body?: unknown) =>
    server.call(method, path, body, { cookie });
  expect((await as('POST', '/api/tags', { name: 'mine', colour: 'sky' })).status).toBe(201);
  for (const [method, path, body] of [
    ['PUT', `/api/tags/${tag}`, { version: 1, name: 'x', colour: 'sky' }],
    ['POST', `/api/tags/${tag}/merge`, { into: 1 }],
    ['DELETE', `/api/tags/${tag}`, undefined],
    ['PUT', '/api/tags/apart', { one: 1, other: 2, areTwo: true }],
  ] as const)
    expect((await as(method, path, body)).status).toBe(403);
  // The numbers are of the own people.
  expect((await list(cookie)).tags.map(({ people }) => people)).not.toContain(30);
  expect((await list(cookie)).tags.every(({ people }) => !people)).toBe(true);
});

describe('automatic tags', () => {
  const [left, bounced, lately, never, fresh] = [1, 2, 3, 4, 5].map((at) => 900_000_000 + at);
  const set = (q: string, values: string) =>
    execute(
      server.database.db,
      sql`update contacts set ${sql.raw(values)} where address_key like ${`${q}%`}`,
    );
  const tagged = (tag = 0) => total(`tag=${tag}`);

  it('are as things are, at once', async () => {
    const all = await total('');
    expect(await tagged(fresh)).toBe(all);
    await set('p1@', "created_at = now() - interval '31 days'");
    expect(await tagged(fresh)).toBe(all - 1);
    await set('p2@', 'delivered_count = 2');
    await set('p3@', 'delivered_count = 3');
    await set(
      'p4@',
      "delivered_count = 9, opened_count = 1, last_opened_at = now() - interval '91 days'",
    );
    await set(
      'p5@',
      "delivered_count = 9, clicked_count = 1, last_clicked_at = now() - interval '89 days'",
    );
    expect([await tagged(never), await tagged(lately)]).toEqual([1, 1]);
    const someone = async (q: string) =>
      (await server.call('GET', `/api/people?q=${q}`)).body.rows[0].id as number;
    const tagsOf = async (q: string) =>
      (await server.call('GET', `/api/people/${await someone(q)}`)).body.tags as number[];
    expect(await tagsOf('p3@')).toEqual(expect.arrayContaining([never, fresh]));
    expect(await tagsOf('p5@')).toContain(lately);
    await execute(
      server.database.db,
      sql`insert into do_not_mail (address_hash, address, reason, at) select address_hash, address, case address_key when 'p6@example.com' then 'left' else 'hard bounce' end, now() from contacts where address_key in ('p6@example.com', 'p7@example.com')`,
    );
    expect([await tagged(left), await tagged(bounced)]).toEqual([1, 1]);
  });

  it('serve wherever a tag serves', async () => {
    const answered = await tagged(lately);
    const asking = await segment('Answered', [lately as number], 'has');
    expect(await total(`of=segment.${asking}`)).toBe(answered);
    const not = await segment(
      'Neither new nor silent',
      [fresh as number, never as number],
      'has none of',
    );
    expect(await total(`of=segment.${not}`)).toBe(1);
    const campaign = await draft('To the silent', [never as number], []);
    const { body } = await server.call('GET', `/api/campaigns/${campaign}/tally`);
    expect(body.tally).toMatchObject({ matched: 1 });
    const uses = (await list()).tags.find(({ id }) => id === never)?.uses;
    expect(uses).toEqual([
      expect.objectContaining({ kind: 'segment', id: not }),
      expect.objectContaining({ kind: 'campaign', id: campaign }),
    ]);
  });

  it('are put on, changed and taken away by nobody, and no other tag is called like one', async () => {
    const own = await make('wanderer');
    const tries = [
      await server.call('POST', '/api/tagging', { people: { q: 'p1' }, tag: left, put: true }),
      await server.call('PUT', `/api/tags/${left}`, { version: 1, name: 'gone', colour: 'sky' }),
      await server.call('DELETE', `/api/tags/${left}`),
      await server.call('POST', `/api/tags/${left}/merge`, { into: own }),
      await server.call('POST', `/api/tags/${own}/merge`, { into: left }),
      await server.call('POST', '/api/tags', { name: 'Answered Lately', colour: 'sky' }),
      await server.call('PUT', `/api/tags/${own}`, { version: 1, name: 'NEW', colour: 'sky' }),
    ];
    expect(tries.map(({ status }) => status)).toEqual([422, 422, 422, 422, 422, 422, 422]);
  });

  it('one that an older tag of the office is called like says which it is', async () => {
    await execute(
      server.database.db,
      sql`insert into tags (name, name_key, colour, created_at) values ('New', 'new', 'moss', now())`,
    );
    const names = (await list()).tags.map(({ name }) => name);
    expect(names).toEqual(expect.arrayContaining(['New', 'new (automatic)']));
  });
});
