// Nobody learns by counting what they may not see. The game: two offices that differ only in people whom a member
// does not look after (who they are, where they live, their tags, what they did, how many they are). Whatever the
// member asks, both answer the same; but for the numbers of segments and campaigns, which others defined.
import { beginImport, importPeople, makeCampaign, send, untilStatus } from '../testing/round.js';
import { startMailServer, type TestMailServer } from '../testing/mail-server.js';
import { startTestServer, until, type Reply, type TestServer } from '../testing/server.js';

interface World {
  readonly server: TestServer;
  readonly member: string;
  readonly own: readonly number[];
  readonly campaign: number;
}

interface Hidden {
  readonly rows: readonly string[];
  /** Who of the hidden has the tag, is on do not mail, opened the letter: by their place. */
  readonly tagged: readonly number[];
  readonly stopped: readonly number[];
  readonly opened: readonly number[];
}

const one: Hidden = {
  rows: [
    'zara@hidden.example.com,Zara,Quill,Ashwick,Q1',
    'yves@hidden.example.com,Yves,Rook,Ashwick,Q2',
    'xeno@hidden.example.com,Xeno,Finch,Tarn,Q3',
  ],
  tagged: [0],
  stopped: [1],
  opened: [0],
};
const other: Hidden = {
  rows: [
    'adam@other.example.org,Adam,Lark,Millrace,A9',
    'bert@other.example.org,Bert,Lark,Millrace,B8',
    'carl@other.example.org,Carl,Daw,Saltcote,C7',
    'doris@other.example.org,Doris,Daw,Saltcote,D6',
    'emil@other.example.org,Emil,Daw,Tarn,E5',
  ],
  tagged: [1, 2, 3],
  stopped: [],
  opened: [2, 3, 4],
};

let mail: TestMailServer;
let worlds: readonly World[];
let calls: readonly {
  readonly method: string;
  readonly path: string;
  readonly tells: string;
  readonly query: readonly string[];
}[];

async function makeWorld(hidden: Hidden): Promise<World> {
  const server = await startTestServer({ SMTP_URL: mail.url });
  await server.account({ name: 'Milo', address: 'milo@example.com', role: 'member' });
  const member = await server.signIn('milo@example.com');
  const own: number[] = [];
  for (const [name, town] of [
    ['Otto', 'Ashwick'],
    ['Olga', 'Millrace'],
    ['Ole', ''],
  ] as const) {
    const { body } = await server.call(
      'POST',
      '/api/people',
      {
        values: { given_name: name, town, address: `${name}@own.example.com` },
        permission: 'asked',
        source: 'x',
      },
      { cookie: member },
    );
    own.push(body.id as number);
  }
  const tag = (await server.call('POST', '/api/tags', { name: 'guest', colour: 'moss' })).body
    .id as number;
  await server.call(
    'POST',
    '/api/tagging',
    { people: { ids: [own[0]] }, tag, put: true },
    { cookie: member },
  );
  await importPeople(server, `email,first name,surname,town,postcode\n${hidden.rows.join('\n')}\n`);
  const people = ((await server.call('GET', '/api/people')).body.rows as { id: number }[]).map(
    ({ id }) => id,
  );
  const theirs = people.filter((id) => !own.includes(id)).sort((a, b) => a - b);
  await server.call('POST', '/api/tagging', {
    people: { ids: hidden.tagged.map((at) => theirs[at]) },
    tag,
    put: true,
  });
  mail.reset();
  const { campaign } = await makeCampaign(server);
  await send(server, campaign);
  await untilStatus(server, campaign, 'sent');
  for (const at of hidden.opened) {
    const letter = mail.taken.find(({ to }) => to === hidden.rows[at]?.split(',')[0]);
    const token = /\/o\/([\w-]+)/.exec(letter?.raw.replace(/=\r\n/g, '') ?? '')?.[1] ?? '';
    expect(
      (
        await server.call('GET', `/o/${token}`, undefined, {
          cookie: '',
          headers: { 'user-agent': 'Mozilla/5.0 (X11; Linux)' },
        })
      ).status,
    ).toBe(200);
  }
  for (const at of hidden.stopped)
    await server.call('POST', `/api/people/${theirs[at] ?? 0}/do-not-mail`, {
      put: true,
      note: 'private',
    });
  await new Promise((resolve) => setTimeout(resolve, 400));
  return { server, member, own, campaign };
}

beforeAll(async () => {
  mail = await startMailServer();
  worlds = [await makeWorld(one), await makeWorld(other)];
  const docs = (await worlds[0]?.server.call('GET', '/api/docs'))?.body as {
    paths: Record<
      string,
      Record<string, { 'x-tells': string; parameters: { name: string; in: string }[] }>
    >;
  };
  calls = Object.entries(docs.paths).flatMap(([path, methods]) =>
    Object.entries(methods).map(([method, operation]) => ({
      method,
      path,
      tells: operation['x-tells'],
      query: operation.parameters.filter((one_) => one_.in === 'query').map(({ name }) => name),
    })),
  );
}, 120_000);
afterAll(async () => {
  for (const { server } of worlds) await server.stop();
  await mail.stop();
});

/** What differs by when and where it was made, and says nothing of people. */
const bare = ({ status, text }: Reply): string =>
  // When it was, and which office wrote a file, says nothing of people.
  `${status} ${text.replace(/"\d{4}-\d\d-\d\dT[\d:.]+Z( \w+)?"/g, '"then"').replace(/"office":"[0-9a-f]{24}"/, '"office":"one"')}`;

async function ask(method: string, path: string, data?: unknown): Promise<readonly Reply[]> {
  const replies: Reply[] = [];
  for (const { server, member } of worlds)
    replies.push(await server.call(method, path, data, { cookie: member }));
  return replies;
}

async function same(method: string, path: string, data?: unknown): Promise<void> {
  const [first, second] = (await ask(method, path, data)).map(bare);
  expect({ method, path, data, answer: second }).toEqual({ method, path, data, answer: first });
}

const letters = 'abcdefghijklmnopqrstuvwxyz'.split('');
const sets = (campaign: number): string[] => [
  '',
  'segment.1',
  'tag.1',
  'since.1.came-in',
  'since.90.responded',
  'since.1.left',
  'change.1',
  'import.1',
  'import.1.new',
  ...[
    'matched',
    'receives',
    'opened',
    'not-opened',
    'clicked',
    'delivered',
    'bounced',
    'do-not-mail',
    'machine-opened',
    'link-0',
  ].map((part) => `campaign.${campaign}.${part}`),
];

it('has every route say whom it speaks of', () => {
  expect(calls.length).toBeGreaterThan(60);
  expect(new Set(calls.map(({ tells }) => tells))).toEqual(
    new Set(['nobody', 'own people', 'shared']),
  );
  // The numbers of everybody come from these alone, and none of them takes a search.
  const shared = calls.filter(({ tells, method }) => tells === 'shared' && method === 'get');
  expect(shared.map(({ path }) => path).sort()).toEqual([
    '/api/campaigns',
    '/api/campaigns/{id}',
    '/api/campaigns/{id}/live',
    '/api/campaigns/{id}/progress',
    '/api/campaigns/{id}/tally',
    '/api/campaigns/{id}/who',
    '/api/results',
    '/api/results/{id}',
    '/api/standby',
  ]);
  for (const { query } of shared)
    expect(query.filter((name) => name !== 'before' && name !== 'limit')).toEqual([]);
});

it('tells the same, whatever is searched for in whichever set of people', async () => {
  const campaign = worlds[0]?.campaign ?? 0;
  for (const path of [
    '/api/people',
    '/api/people/summary',
    '/api/people/tags',
    `/api/people/${worlds[0]?.own[0] ?? 0}/place`,
  ]) {
    for (const named of sets(campaign)) {
      const base = named === '' ? '' : `of=${named}&`;
      const narrowed = [
        'q=a',
        'tag=1',
        'standing=do%20not%20mail',
        ...(path.endsWith('summary')
          ? ['standing=may%20be%20mailed', 'pool=1', 'q=hidden&tag=1']
          : []),
      ];
      for (const query of narrowed) await same('GET', `${path}?${base}${query}`);
      // A set as others defined it: the list is one's own all the same, and only the sum names a number of others.
      if (!path.endsWith('summary')) await same('GET', `${path}?${base}`);
    }
  }
  for (const letter of letters) {
    await same('GET', `/api/people/summary?q=${letter}`);
    await same('GET', `/api/people/summary?of=segment.1&q=${letter}`);
    await same('GET', `/api/people/summary?of=campaign.${campaign}.opened&q=${letter}`);
  }
}, 60_000);

it('names a number of colleagues’ people only for segments and campaigns as they are', async () => {
  for (const named of sets(worlds[0]?.campaign ?? 0)) {
    const replies = await ask('GET', `/api/people/summary${named === '' ? '' : `?of=${named}`}`);
    const isShared = /^(segment|campaign)\./.test(named);
    for (const { status, body } of replies)
      if (status === 200 && !isShared)
        expect({ named, colleagues: body.colleagues }).toEqual({ named, colleagues: 0 });
    const [first, second] = replies.map(({ body }) => ({
      ...(body as object),
      colleagues: 0,
      type: 0,
    }));
    expect({ named, ...second }).toEqual({ named, ...first });
  }
});

it('tells the same, whatever rule is asked', async () => {
  const field = (name: string, op: string, value?: unknown) => ({
    kind: 'field',
    field: name,
    op,
    ...(value === undefined ? {} : { value }),
  });
  const conditions = [
    ...letters.map((letter) => field('address', 'starts with', letter)),
    ...['zara', 'adam'].map((name) => field('given_name', 'is', name)),
    ...['Ashwick', 'Millrace', 'Tarn'].map((town) => field('town', 'is', town)),
    field('town', 'is empty'),
    field('postcode', 'starts with', 'q'),
    field('owner', 'is one of', ['1']),
    field('permission', 'is one of', ['asked']),
    field('came_in', 'in the last days', 1),
    { kind: 'tag', op: 'has', tags: [1] },
  ];
  for (const condition of conditions) {
    const body = {
      pools: [1],
      rule: { v: 1, root: { of: 'all', items: [condition, { of: 'none', items: [condition] }] } },
    };
    await same('POST', '/api/segments/sift', {
      pools: [1],
      rule: { v: 1, root: { of: 'all', items: [condition] } },
    });
    for (const route of ['sift', 'strain']) await same('POST', `/api/segments/${route}`, body);
  }
}, 60_000);

it('tells the same on every route that is not a segment’s or a campaign’s number', async () => {
  const ids = [1, 2, 99, ...(worlds[0]?.own.slice(0, 1) ?? [])];
  for (const { method, path, tells } of calls) {
    if (method !== 'get' || tells === 'shared' || path.endsWith('/live') || path === '/api/docs')
      continue;
    for (const id of path.includes('{') ? ids : [0])
      await same('GET', path.replace(/\{\w+\}/g, String(id)));
  }
});

it('stops who tries one address after another', async () => {
  const { server, member } = worlds[1] as World;
  const statuses: number[] = [];
  for (let at = 0; at < 25; at++)
    statuses.push(
      (
        await server.call(
          'POST',
          '/api/people',
          { values: { address: 'bert@other.example.org' }, permission: 'asked', source: 'x' },
          { cookie: member },
        )
      ).status,
    );
  expect(statuses.filter((status) => status === 422)).toHaveLength(20);
  expect(statuses.filter((status) => status === 429)).toHaveLength(5);
});

it('brings in a list of a member as its numbers say, and no more people of colleagues than may be met in a day', async () => {
  const { server, member } = worlds[0] as World;
  const call: typeof server.call = (method, path, data, options) =>
    server.call(method, path, data, { ...options, cookie: member });
  const known = Array.from({ length: 21 }, (_, at) => `known${at}@hidden.example.com`);
  await importPeople(server, `email,first name\n${known.map((one) => `${one},K`).join('\n')}\n`);
  const bring = async (rows: readonly string[]) => {
    const { body } = await call(
      'POST',
      '/api/imports?name=mine.csv',
      `email,first name\n${rows.map((one) => `${one},Mine`).join('\n')}\n`,
      { headers: { 'content-type': 'text/csv' } },
    );
    const path = `/api/imports/${body.id as number}`;
    await beginImport({ call }, path);
    await until('the import', async () => (await call('GET', path)).body.state !== 'running');
    const { body: done } = await call('GET', path);
    const { body: list } = await call(
      'GET',
      `/api/people/summary?of=import.${body.id as number}.new`,
    );
    expect(list.total).toBe(done.newCount);
    return done as {
      newCount: number;
      elsewhereCount: number;
      state: string;
      stoppedBy: string | null;
    };
  };
  expect(await bring([...known.slice(0, 3), 'fresh.one@example.net'])).toMatchObject({
    newCount: 1,
    elsewhereCount: 3,
    state: 'done',
  });
  // Of a list with too many of them nothing comes in, and nothing is told; nor of the next.
  for (const more of [known, known.slice(0, 1)])
    expect(await bring([...more, `fresh.${more.length}@example.net`])).toMatchObject({
      newCount: 0,
      elsewhereCount: 0,
      state: 'cancelled',
      stoppedBy: 'people of colleagues',
    });
  expect(await bring(['fresh.last@example.net'])).toMatchObject({ newCount: 1, state: 'done' });
});

describe('do not mail', () => {
  const address = 'mine.too@example.com';
  let mine: number;
  const asMember = (method: string, path: string, data?: unknown) =>
    (worlds[0] as World).server.call(method, path, data, { cookie: (worlds[0] as World).member });
  const asCoordinator = (method: string, path: string, data?: unknown) =>
    (worlds[0] as World).server.call(method, path, data);
  beforeAll(async () => {
    const { body } = await asCoordinator('POST', '/api/people', {
      values: { address },
      permission: 'asked',
      source: 'x',
    });
    await asCoordinator('POST', `/api/people/${body.id as number}/do-not-mail`, {
      put: true,
      note: 'threatened us',
    });
    await (worlds[0] as World).server.database.db.execute(
      `update contacts set deleted_at = now() where id = ${body.id as number}`,
    );
    mine = (
      await asMember('POST', '/api/people', {
        values: { address },
        permission: 'asked',
        source: 'x',
      })
    ).body.id as number;
  });

  it('set by a coordinator is neither lifted nor read by who adds the same address', async () => {
    const { body } = await asMember('GET', `/api/people/${mine}`);
    expect(body.doNotMail).toMatchObject({ reason: 'by hand', note: null, mayTakeOff: false });
    expect(
      (await asMember('POST', `/api/people/${mine}/do-not-mail`, { put: false, note: '' })).status,
    ).toBe(403);
    expect((await asMember('GET', `/api/people/${mine}`)).body.doNotMail).not.toBeNull();
    expect((await asCoordinator('GET', `/api/people/${mine}`)).body.doNotMail).toMatchObject({
      note: 'threatened us',
      mayTakeOff: true,
    });
    expect(
      (await asCoordinator('POST', `/api/people/${mine}/do-not-mail`, { put: false, note: '' }))
        .status,
    ).toBe(204);
  });

  it('set by oneself is taken off again, its note read', async () => {
    expect(
      (await asMember('POST', `/api/people/${mine}/do-not-mail`, { put: true, note: 'on holiday' }))
        .status,
    ).toBe(204);
    expect((await asMember('GET', `/api/people/${mine}`)).body.doNotMail).toMatchObject({
      note: 'on holiday',
      mayTakeOff: true,
    });
    expect(
      (await asMember('POST', `/api/people/${mine}/do-not-mail`, { put: false, note: '' })).status,
    ).toBe(204);
  });

  it('set by the reader is taken back by nobody of the office', async () => {
    const { server } = worlds[0] as World;
    await server.database.db.execute(
      `insert into do_not_mail (address_hash, reason, at) select address_hash, 'left', now() from contacts where id = ${mine}`,
    );
    for (const call of [asMember, asCoordinator])
      expect(
        (await call('POST', `/api/people/${mine}/do-not-mail`, { put: false, note: '' })).status,
      ).toBe(422);
  });
});

describe('a write', () => {
  const asMember = (method: string, path: string, data?: unknown) =>
    (worlds[0] as World).server.call(method, path, data, { cookie: (worlds[0] as World).member });
  const asCoordinator = (method: string, path: string, data?: unknown) =>
    (worlds[0] as World).server.call(method, path, data);

  it('is judged by what the person will be: a member gives nobody away, nor takes', async () => {
    for (const owner of ['1', '3', '99'])
      expect(
        (
          await asMember('POST', '/api/people', {
            values: { given_name: 'Given', owner },
            permission: 'asked',
            source: 'x',
          })
        ).status,
      ).toBeGreaterThanOrEqual(400);
    expect(
      (
        await asMember('POST', '/api/people', {
          values: { given_name: 'Kept', owner: '2' },
          permission: 'asked',
          source: 'x',
        })
      ).status,
    ).toBe(201);
    const [own = 0] = (worlds[0] as World).own;
    const { version } = (await asMember('GET', `/api/people/${own}`)).body as { version: number };
    expect(
      (await asMember('PATCH', `/api/people/${own}`, { version, values: { owner: '1' } })).status,
    ).toBe(403);
  });

  it('is judged by what the person is now: who was given away since is left alone by an undo', async () => {
    const [, own = 0] = (worlds[0] as World).own;
    const tag = (await asMember('POST', '/api/tags', { name: 'was mine', colour: 'sky' })).body
      .id as number;
    const tagging = (
      await asMember('POST', '/api/tagging', { people: { ids: [own] }, tag, put: true })
    ).body as { id: number; count: number };
    expect(tagging.count).toBe(1);
    const { version } = (await asMember('GET', `/api/people/${own}`)).body as { version: number };
    const changed = (
      await asMember('PATCH', `/api/people/${own}`, { version, values: { town: 'Tarn' } })
    ).body as { changeSet: number };
    expect(
      (
        await asCoordinator('PATCH', `/api/people/${own}`, {
          version: version + 1,
          values: { owner: '1' },
        })
      ).status,
    ).toBe(200);
    for (const id of [tagging.id, changed.changeSet])
      expect((await asMember('POST', `/api/changes/${id}/undo`)).body).toMatchObject({
        count: 0,
        leftAlone: 1,
      });
    const { body } = await asCoordinator('GET', `/api/people/${own}`);
    expect(body.tags).toContain(tag);
    expect(
      (body.fields as { field: { key: string }; value: unknown }[]).find(
        ({ field }) => field.key === 'town',
      )?.value,
    ).toBe('Tarn');
  });
});
