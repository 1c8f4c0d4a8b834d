// The API as somebody who wants to break it finds it: clear answers, nothing lost, no 500, nobody else's people.
import { knownRefusals } from './platform/refusals.js';
import { until, startTestServer, PASSWORD, type TestServer } from './testing/server.js';
import { importPeople, makeCampaign } from './testing/round.js';

let server: TestServer;
let member: string;
beforeAll(async () => {
  server = await startTestServer();
  await server.account({ name: 'Kasimir', address: 'kasimir@example.com', role: 'member' });
  await server.account({ name: 'Tobias', address: 'tobias@example.com', role: 'manager' });
  member = await server.signIn('kasimir@example.com');
}, 60_000);
afterAll(() => server.stop());

const upload = (contents: string | Buffer, name = 'list.csv') =>
  server.call('POST', `/api/imports?name=${encodeURIComponent(name)}`, contents, {
    headers: { 'content-type': 'text/csv' },
  });

it('refuses a second set-up', async () => {
  const setUp = {
    code: server.setUpCode,
    officeName: 'Other',
    postalAddress: 'x',
    timeZone: 'UTC',
    name: 'x',
    address: 'x@example.com',
    password: PASSWORD,
  };
  expect((await server.call('POST', '/api/setup', setUp)).status).toBe(409);
  expect((await server.call('GET', '/api/health', undefined, { cookie: '' })).status).toBe(200);
});

describe('requests of odd shape', () => {
  const odd: [string, string, unknown][] = [
    ['POST', '/api/people', 'not json'],
    ['POST', '/api/people', []],
    ['POST', '/api/people', { values: 'x', permission: 'asked', source: '' }],
    ['POST', '/api/people', { values: { given_name: 5 }, permission: 'asked', source: '' }],
    [
      'POST',
      '/api/people',
      { values: { given_name: 'x' }, permission: 'asked', source: '', extra: 1 },
    ],
    [
      'POST',
      '/api/people',
      { values: { __proto__: 'x', constructor: 'y' }, permission: 'asked', source: '' },
    ],
    ['POST', '/api/people', { values: {}, permission: 'asked', source: '' }],
    [
      'POST',
      '/api/people',
      {
        values: { address: 'a@example.com\r\nBcc: b@example.com' },
        permission: 'asked',
        source: '',
      },
    ],
    ['PATCH', '/api/people/1', { version: 'x', values: {} }],
    ['PATCH', '/api/people/99999999', { version: 1, values: {} }],
    ['GET', '/api/people/999999999999999999', undefined],
    ['GET', '/api/people/-1', undefined],
    ['GET', '/api/people/1.5', undefined],
    ['GET', '/api/people?limit=100000', undefined],
    ['GET', '/api/people?tag=x', undefined],
    ['GET', '/api/people?of=campaign.1.%27', undefined],
    ['GET', '/api/people?of=segment.1&of=segment.2', undefined],
    ['GET', '/api/people?of[x]=1', undefined],
    ['GET', '/api/people?from=AAAA', undefined],
    ['GET', '/api/people/1/timeline?before=yesterday', undefined],
    ['POST', '/api/tagging', { people: { ids: ['x'] }, tag: 1, put: true }],
    ['POST', '/api/tagging', { people: null, tag: 1, put: true }],
    ['POST', '/api/tagging', { people: { ids: [1] }, tag: 999, put: true }],
    ['POST', '/api/tags', { name: '   ', colour: 'moss' }],
    ['POST', '/api/tags', { name: 'x', colour: '#ff0000' }],
    [
      'POST',
      '/api/segments',
      {
        name: 'x',
        pools: [1],
        rule: {
          v: 1,
          root: { of: 'all', items: [{ kind: 'field', field: 'shoe_size', op: 'is', value: 'x' }] },
        },
      },
    ],
    [
      'POST',
      '/api/segments',
      {
        name: 'x',
        pools: [77],
        rule: { v: 1, root: { of: 'all', items: [{ kind: 'everybody' }] } },
      },
    ],
    [
      'POST',
      '/api/segments/sift',
      {
        pools: [1],
        rule: { v: 1, root: { of: 'all', items: [{ kind: 'tag', op: 'has', tags: [12345] }] } },
      },
    ],
    ['POST', '/api/letters', { name: 'x', template: 'none such' }],
    [
      'PUT',
      '/api/letters/1',
      {
        version: 1,
        name: 'x',
        content: { v: 1, subject: [], preview: [], blocks: [{ id: 'x', kind: 'script' }] },
      },
    ],
    ['GET', '/api/letters/1/preview?as=0', undefined],
    ['POST', '/api/campaigns', { name: '' }],
    ['POST', '/api/campaigns', { name: 'x', segment: 9999 }],
    ['POST', '/api/campaigns/1/send', { version: 1, seen: { matched: -1 } }],
    ['POST', '/api/campaigns/999/move/pause', undefined],
    ['POST', '/api/campaigns/1/move/fly', undefined],
    ['DELETE', '/api/campaigns', undefined],
    ['GET', '/api/results?before=x', undefined],
    ['GET', '/api/results/x', undefined],
    ['POST', '/api/imports/999/start', { version: 1 }],
    ['POST', '/api/changes/999/undo', undefined],
    ['GET', '/api/nothing/here', undefined],
  ];
  it.each(odd)('%s %s %j is answered with a problem and a sentence', async (method, path, data) => {
    const reply = await server.call(method, path, data);
    expect(reply.status).toBeGreaterThanOrEqual(400);
    expect(reply.status).toBeLessThan(500);
    expect(reply.headers.get('content-type')).toContain('application/problem+json');
    expect(reply.body).toMatchObject({
      type: expect.any(String),
      status: reply.status,
      title: expect.any(String),
      detail: expect.stringMatching(/[a-z]/),
    });
    const { type } = reply.body as { type: string };
    expect([undefined, reply.status]).toContain(knownRefusals.get(type));
    expect(type === 'about:blank' || knownRefusals.has(type)).toBe(true);
  });

  it('survives depth, size and signs that can’t be stored', async () => {
    const deep = `${'{"a":'.repeat(20_000)}1${'}'.repeat(20_000)}`;
    for (const body of [
      deep,
      `{"values":{"given_name":"${'x'.repeat(3_000_000)}"},"permission":"asked","source":""}`,
    ]) {
      const reply = await server.call('POST', '/api/people', body, {
        headers: { 'content-type': 'application/json' },
      });
      expect(reply.status).toBeGreaterThanOrEqual(400);
      expect(reply.status).toBeLessThan(500);
    }
    const named = await server.call('POST', '/api/segments', {
      name: 'a\u0000b',
      pools: [1],
      rule: { v: 1, root: { of: 'all', items: [{ kind: 'everybody' }] } },
    });
    expect(named.status).toBe(201);
    expect(
      (
        await server.call('POST', '/api/segments/sift', {
          pools: [1],
          rule: {
            v: 1,
            root: {
              of: 'all',
              items: [{ kind: 'field', field: 'town', op: 'is', value: 'a\u0000b' }],
            },
          },
        })
      ).status,
    ).toBeLessThan(500);
    expect((await server.call('GET', '/api/people?q=%00%25_')).status).toBeLessThan(500);
    expect((await server.call('GET', '/api/people?q=%F0%9F')).status).toBeLessThan(500);
  });

  it('answers forged addresses of letters with a page, and counts nothing', async () => {
    for (const path of [
      '/c/forged-token-that-is-long',
      '/leave/forged-token-that-is-long',
      '/c/x',
      '/leave/%00',
    ]) {
      const reply = await server.call('GET', path, undefined, { cookie: '' });
      expect(reply.status).toBe(404);
      expect(reply.text).toContain('This link does not work');
    }
    expect((await server.call('GET', '/o/forged', undefined, { cookie: '' })).status).toBe(404);
    expect(
      (await server.call('POST', '/leave/forged-token-that-is-long', '', { cookie: '' })).status,
    ).toBe(404);
    expect(
      (await server.call('GET', '/files/..%2f..%2fetc%2fpasswd', undefined, { cookie: '' })).status,
    ).toBe(404);
  });
});

describe('files that are none', () => {
  it.each<[string, string | Buffer, RegExp]>([
    ['nothing', '', /empty/],
    ['only blank lines', '\n\n  \n', /empty/],
    ['a header alone', 'email,name\n', /no rows/],
    ['a workbook', Buffer.from('PK\u0003\u0004xxxx', 'latin1'), /workbook/],
    ['a PDF', '%PDF-1.7 ...', /PDF/],
    ['a program', Buffer.from(Array.from({ length: 4000 }, (_, at) => at % 7)), /not text/],
    [
      'a quotation mark never closed',
      `email,name\n"a@example.com,x\n${'y\n'.repeat(1_200_000)}`,
      /can’t be read|quotation|sign/,
    ],
  ])('%s is refused with what to do', async (_, contents, message) => {
    const reply = await upload(contents);
    expect(reply.status).toBeGreaterThanOrEqual(400);
    expect(reply.status).toBeLessThan(500);
    expect(reply.body.detail).toMatch(message);
  });

  it('takes what only looks odd: NUL signs, formulas, markup, short and long rows', async () => {
    const csv =
      'email;first name;town\nnul@example.com;N\u0000ul;Mill\u0000race\nformula@example.com;=1+1;"@SUM(A1)"\nmarkup@example.com;<b>{{ x }}</b>;"a ""quoted"" town"\nshort@example.com\nlong@example.com;L;T;one too many\n';
    const id = await importPeople(server, csv);
    const { body } = await server.call('GET', `/api/imports/${id}`);
    expect(body).toMatchObject({ newCount: 4, refusedCount: 1, cursor: 5 });
    const { body: page } = await server.call('GET', `/api/people?of=import.${id}.new`);
    expect((page.rows as { givenName: string }[]).map(({ givenName }) => givenName).sort()).toEqual(
      ['', '<b>{{ x }}</b>', '=1+1', 'Nul'],
    );
    const refused = await server.call('GET', `/api/imports/${id}/refused.csv`);
    expect(refused.text).toContain('the row has 4 cells, the header 3');
  });

  it('escapes formulas when refused rows go out again', async () => {
    const id = await importPeople(server, 'email,first name\nnot an address,=cmd()\n');
    const { text } = await server.call('GET', `/api/imports/${id}/refused.csv`);
    expect(text).toContain("'=cmd()");
  });

  it('counts somebody on two rows as one person, and takes the whole import back', async () => {
    const id = await importPeople(
      server,
      'email,town\ntwice@example.com,Millrace\nTWICE@example.com,Ashwick\ntwice@example.com,Ashwick\nformula@example.com,Saltcote\n',
    );
    const { body } = await server.call('GET', `/api/imports/${id}`);
    expect(body).toMatchObject({
      newCount: 1,
      changedCount: 1,
      unchangedCount: 0,
      againCount: 2,
      refusedCount: 0,
    });
    const { body: before } = await server.call('GET', '/api/people?q=twice@example');
    expect(before.rows).toMatchObject([{ town: 'Ashwick' }]);
    const back = await server.call('POST', `/api/imports/${id}/take-back`);
    expect(back.status).toBe(200);
    expect((await server.call('GET', '/api/people?q=twice@example')).body.rows).toEqual([]);
    expect((await server.call('GET', '/api/people?q=formula@example')).body.rows).toMatchObject([
      { town: '@SUM(A1)' },
    ]);
    expect((await server.call('POST', `/api/imports/${id}/take-back`)).status).toBe(422);
  });

  it('refuses pictures that are none, and keeps those that are at a letter’s width', async () => {
    const send = (contents: Buffer | string) =>
      server.call('POST', '/api/pictures', contents, { headers: { 'content-type': 'image/png' } });
    expect((await send('this is no picture')).status).toBe(415);
    expect(
      (await send('<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>'))
        .status,
    ).toBe(415);
    expect((await send(Buffer.alloc(11 * 1024 * 1024, 1))).status).toBe(413);
    const { default: sharp } = await import('sharp');
    const picture = await sharp({
      create: { width: 2400, height: 600, channels: 3, background: '#2B6B55' },
    })
      .png()
      .toBuffer();
    const kept = await send(picture);
    expect(kept.body).toMatchObject({ width: 1056, height: 264 });
    const served = await server.call('GET', `/files/${kept.body.file as string}`, undefined, {
      cookie: '',
    });
    expect(served.headers.get('content-type')).toBe('image/png');
  });
});

describe('two at once', () => {
  it('loses neither state of a letter, a segment or a person', async () => {
    const { letter, segment } = await makeCampaign(server, 'Two tabs');
    const first = (await server.call('GET', `/api/letters/${letter}`)).body as {
      version: number;
      content: object;
    };
    expect(
      (
        await server.call('PUT', `/api/letters/${letter}`, {
          version: first.version,
          name: 'Mine',
          content: first.content,
        })
      ).status,
    ).toBe(200);
    const late = await server.call('PUT', `/api/letters/${letter}`, {
      version: first.version,
      name: 'Theirs',
      content: first.content,
    });
    expect(late.status).toBe(409);
    expect(late.body.current).toMatchObject({ name: 'Mine', version: first.version + 1 });

    const sheet = (name: string): object => ({
      name,
      description: '',
      labels: [],
      sharing: 'all',
      sharedWith: [],
      draft: { pools: [1], rule: { v: 1, root: { of: 'any', items: [] } } },
    });
    expect(
      (
        await server.call('PUT', `/api/segments/${segment}`, {
          version: 1,
          ...sheet('A'),
        })
      ).status,
    ).toBe(200);
    expect(
      (
        await server.call('PUT', `/api/segments/${segment}`, {
          version: 1,
          ...sheet('B'),
        })
      ).body.current,
    ).toMatchObject({ name: 'A', version: 2 });

    const { body } = await server.call('GET', '/api/people?q=short@example');
    const id = (body.rows as { id: number }[])[0]?.id ?? 0;
    expect(
      (await server.call('PATCH', `/api/people/${id}`, { version: 1, values: { town: 'A' } }))
        .status,
    ).toBe(200);
    expect(
      (await server.call('PATCH', `/api/people/${id}`, { version: 1, values: { town: 'B' } }))
        .status,
    ).toBe(409);
  });

  it('undoes a change once, and leaves alone what was changed since', async () => {
    const tag = (
      (await server.call('POST', '/api/tags', { name: 'for undo', colour: 'plum' })).body as {
        id: number;
      }
    ).id;
    const { body: change } = await server.call('POST', '/api/tagging', {
      people: { q: 'example.com' },
      tag,
      put: true,
    });
    expect(change.count).toBeGreaterThan(2);
    const { body: page } = await server.call('GET', `/api/people?of=change.${change.id as number}`);
    const one = (page.rows as { id: number }[])[0]?.id;
    await server.call('POST', '/api/tagging', { people: { ids: [one] }, tag, put: false });
    const undone = await server.call('POST', `/api/changes/${change.id as number}/undo`);
    expect(undone.body).toMatchObject({ count: (change.count as number) - 1, leftAlone: 1 });
    expect((await server.call('POST', `/api/changes/${change.id as number}/undo`)).status).toBe(
      422,
    );
    expect((await server.call('GET', `/api/people/summary?tag=${tag}`)).body.total).toBe(0);
  });
});

describe('a member', () => {
  const asMember = (method: string, path: string, data?: unknown) =>
    server.call(method, path, data, { cookie: member });
  it('sees the own people and nothing of the others', async () => {
    const own = (
      (
        await asMember('POST', '/api/people', {
          values: { given_name: 'Own', address: 'own@example.com' },
          permission: 'asked',
          source: 'x',
        })
      ).body as { id: number }
    ).id;
    const { body: list } = await asMember('GET', '/api/people');
    expect((list.rows as { id: number }[]).map(({ id }) => id)).toEqual([own]);
    const { body: summary } = await asMember('GET', '/api/people/summary');
    expect(summary.total).toBe(1);
    // What they ask themselves tells nothing of others.
    expect(summary.colleagues).toBe(0);
    const { body: all } = await server.call('GET', '/api/people');
    const other = (all.rows as { id: number }[]).find(({ id }) => id !== own)?.id ?? 0;
    for (const [method, path, data] of [
      ['GET', `/api/people/${other}`, undefined],
      ['GET', `/api/people/${other}/timeline`, undefined],
      ['GET', `/api/people/${other}/place`, undefined],
      ['PATCH', `/api/people/${other}`, { version: 1, values: { town: 'x' } }],
      ['POST', `/api/people/${other}/do-not-mail`, { put: true, note: '' }],
      ['GET', `/api/letters/1/preview?as=${other}`, undefined],
    ] as const) {
      expect((await asMember(method, path, data)).status).toBe(404);
    }
    const tag = (
      (await asMember('POST', '/api/tags', { name: 'by member', colour: 'sky' })).body as {
        id: number;
      }
    ).id;
    expect(
      (await asMember('POST', '/api/tagging', { people: { ids: [own, other] }, tag, put: true }))
        .body,
    ).toMatchObject({ count: 1 });
    expect(
      (await asMember('POST', '/api/tagging', { people: {}, tag, put: true })).body,
    ).toMatchObject({ count: 0 });
    const { body: sifted } = await asMember('POST', '/api/segments/sift', {
      pools: [1],
      rule: { v: 1, root: { of: 'all', items: [{ kind: 'everybody' }] } },
    });
    expect(sifted.people).toHaveLength(1);
    expect(sifted).toMatchObject({ count: 1 });
  });

  it('neither writes letters nor sends nor changes settings', async () => {
    const { campaign } = await makeCampaign(server, 'Not for members');
    for (const [method, path, data] of [
      ['POST', '/api/letters', { name: 'x' }],
      ['POST', '/api/campaigns', { name: 'x' }],
      [
        'POST',
        `/api/campaigns/${campaign}/send`,
        { version: 1, seen: { matched: 0, heldBack: {}, receives: 0 } },
      ],
      ['POST', `/api/campaigns/${campaign}/move/pause`, undefined],
      ['POST', `/api/campaigns/${campaign}/proof`, undefined],
      ['POST', '/api/accounts', { name: 'x', address: 'y@example.com', role: 'coordinator' }],
    ] as const) {
      expect((await asMember(method, path, data)).status).toBe(403);
    }
  });
});

it('comes back by itself when the database process is killed', async () => {
  const before = server.database.childPid();
  process.kill(before ?? 0, 'SIGKILL');
  await until(
    'the database to be back',
    async () =>
      server.database.childPid() !== before &&
      (await server.call('GET', '/api/health')).status === 200,
  );
  expect((await server.call('GET', '/api/people')).status).toBe(200);
}, 30_000);
