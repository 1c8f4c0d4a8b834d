// Who gets in, and who only tries: guesses, proxies, first visits, odd roles, other names, other sites.
import { request } from 'node:http';
import { sql } from 'drizzle-orm';
import { execute } from '../platform/database.js';
import { ReturnedImap } from '../delivery/returned.imap.js';
import { Lane } from '../delivery/smtp.js';
import { startMailbox } from '../testing/imap-server.js';
import { startMailServer } from '../testing/mail-server.js';
import { PASSWORD, startTestServer, type Reply, type TestServer } from '../testing/server.js';

let server: TestServer;
let proxied: TestServer;
beforeAll(async () => {
  server = await startTestServer();
  proxied = await startTestServer({
    TRUSTED_PROXIES: 'loopback',
    PUBLIC_URL: 'https://letters.example.com',
  });
  for (const one of [server, proxied])
    await one.account({ name: 'Milo', address: 'milo@example.com', role: 'member' });
}, 90_000);
afterAll(async () => {
  await server.stop();
  await proxied.stop();
});
beforeEach(async () => {
  for (const { database } of [server, proxied]) await execute(database.db, sql`delete from tries`);
});

const guess = (
  { call }: TestServer,
  address: string,
  headers: Record<string, string> = {},
  password = 'not this one here',
): Promise<Reply> => call('POST', '/api/session', { address, password }, { cookie: '', headers });
const statuses = async (replies: Promise<Reply>[]): Promise<Record<number, number>> => {
  const counts: Record<number, number> = {};
  for (const { status } of await Promise.all(replies)) counts[status] = (counts[status] ?? 0) + 1;
  return counts;
};
const many = <T>(count: number, make: (at: number) => T): T[] =>
  Array.from({ length: count }, (_, at) => make(at));

describe('guesses', () => {
  it('are counted before they are checked, however many come at once', async () => {
    expect(await statuses(many(60, () => guess(server, 'ines@example.com')))).toEqual({
      401: 10,
      429: 50,
    });
    expect((await guess(server, 'ines@example.com', {}, PASSWORD)).status).toBe(429);
    await execute(server.database.db, sql`update tries set since = since - interval '15 minutes'`);
    expect((await guess(server, 'ines@example.com', {}, PASSWORD)).status).toBe(204);
  }, 30_000);

  it('are as many for an account that is none, with the same words', async () => {
    const nobody = await guess(server, 'nobody@example.com');
    const somebody = await guess(server, 'milo@example.com');
    expect([nobody.status, nobody.text]).toEqual([somebody.status, somebody.text]);
    expect(await statuses(many(20, () => guess(server, 'nobody@example.com')))).toEqual({
      401: 9,
      429: 11,
    });
  });

  it('from one client stop nobody else, neither at the same account nor behind the same proxy', async () => {
    const from = (client: string) => ({ 'x-forwarded-for': client });
    for (const address of ['ines@example.com', 'milo@example.com'])
      expect(await statuses(many(25, () => guess(proxied, address, from('203.0.113.9'))))).toEqual({
        401: 10,
        429: 15,
      });
    expect((await guess(proxied, 'ines@example.com', from('203.0.113.8'), PASSWORD)).status).toBe(
      204,
    );
    // Whom no proxy that we trust vouches for says nothing of themselves.
    expect(
      await statuses(many(12, (at) => guess(server, 'milo@example.com', from(`203.0.113.${at}`)))),
    ).toEqual({ 401: 10, 429: 2 });
  }, 30_000);

  it('from everywhere end at a hundred, and a browser that signed in before still gets in', async () => {
    const entered = await guess(
      proxied,
      'ines@example.com',
      { 'x-forwarded-for': '198.51.100.1' },
      PASSWORD,
    );
    const browser =
      entered.headers
        .getSetCookie()
        .find((cookie) => cookie.startsWith('palabra_browser='))
        ?.split(';')[0] ?? '';
    const found = await statuses(
      many(110, (at) =>
        guess(proxied, 'ines@example.com', { 'x-forwarded-for': `203.0.113.${at}` }),
      ),
    );
    // Not more are checked than the limit says; some may be told to wait for their turn.
    expect(found[429]).toBeGreaterThanOrEqual(10);
    const right = (cookie: string) =>
      proxied.call(
        'POST',
        '/api/session',
        { address: 'ines@example.com', password: PASSWORD },
        { cookie, headers: { 'x-forwarded-for': '198.51.100.2' } },
      );
    expect((await right('')).status).toBe(429);
    expect((await right(browser)).status).toBe(204);
    // It is known for this account alone, and has its own tries.
    const other = (password: string) =>
      proxied.call(
        'POST',
        '/api/session',
        { address: 'ines@example.com', password },
        { cookie: browser, headers: { 'x-forwarded-for': '198.51.100.2' } },
      );
    expect(await statuses(many(12, () => other('not this one here')))).toEqual({ 401: 10, 429: 2 });
  }, 60_000);

  it('at the present password, by somebody who found a session open, are counted, too', async () => {
    const cookie = await server.signIn('milo@example.com');
    const change = (current: string) =>
      server.call('PUT', '/api/password', { current, next: 'the fern by the bench' }, { cookie });
    expect(await statuses(many(15, () => change('not it at all')))).toEqual({ 422: 10, 429: 5 });
    expect((await change(PASSWORD)).status).toBe(429);
  }, 30_000);
});

describe('roles', () => {
  it.each([[['member']], [{ 0: 'member' }], ['Coordinator'], ['toString'], [null]])(
    'are one of three words, not %j',
    async (role) => {
      expect(
        (
          await server.call('POST', '/api/accounts', {
            name: 'x',
            address: 'odd@example.com',
            role,
          })
        ).status,
      ).toBe(400);
    },
  );

  it('that are none may nothing and see nobody', async () => {
    await server.account({ name: 'Odd', address: 'odd@example.com', role: 'member' });
    const cookie = await server.signIn('odd@example.com');
    await server.call('POST', '/api/people', {
      values: { given_name: 'Hidden' },
      permission: 'asked',
      source: 'x',
    });
    for (const role of ['{"member"}', 'admin', '', 'constructor']) {
      await execute(
        server.database.db,
        sql`update users set role = ${role} where address = 'odd@example.com'`,
      );
      expect((await server.call('GET', '/api/people', undefined, { cookie })).body.rows).toEqual(
        [],
      );
      expect(
        (await server.call('GET', '/api/people/summary', undefined, { cookie })).body,
      ).toMatchObject({ total: 0, colleagues: 0 });
      for (const [method, path] of [
        ['POST', '/api/letters'],
        ['POST', '/api/accounts'],
        ['PUT', '/api/office'],
        ['POST', '/api/campaigns/1/send'],
      ] as const)
        expect((await server.call(method, path, {}, { cookie })).status).toBe(403);
      expect(
        (
          await server.call(
            'POST',
            '/api/people',
            { values: { given_name: 'x' }, permission: 'asked', source: 'x' },
            { cookie },
          )
        ).status,
      ).toBe(403);
    }
  });

  it('see names of colleagues, and sign-in addresses only who makes accounts', async () => {
    const member = await server.signIn('milo@example.com');
    const seen = (await server.call('GET', '/api/accounts', undefined, { cookie: member }))
      .body as { name: string; address: string | null }[];
    expect(seen.map(({ name }) => name)).toContain('Ines');
    expect(seen.every(({ address }) => address === null)).toBe(true);
    expect(
      ((await server.call('GET', '/api/accounts')).body as { address: string }[]).map(
        ({ address }) => address,
      ),
    ).toContain('milo@example.com');
  });
});

describe('the first visit', () => {
  let fresh: TestServer;
  beforeAll(async () => {
    fresh = await startTestServer({}, { isSetUp: false });
  }, 60_000);
  afterAll(() => fresh.stop());
  const setUp = (code: unknown) =>
    fresh.call(
      'POST',
      '/api/setup',
      {
        code,
        officeName: 'Garden',
        postalAddress: 'x',
        timeZone: 'UTC',
        name: 'Ines',
        address: 'ines@example.com',
        password: PASSWORD,
      },
      { cookie: '' },
    );

  it('is for whoever read the code where the program was started', async () => {
    expect(fresh.setUpCode).toMatch(/^[0-9A-HJKMNP-TV-Z]{4}-[0-9A-HJKMNP-TV-Z]{4}$/);
    for (const code of ['', 'AAAA-AAAA', undefined, [fresh.setUpCode], `${fresh.setUpCode}X`]) {
      const { status } = await setUp(code);
      expect([400, 422]).toContain(status);
    }
    expect((await fresh.call('GET', '/api/me')).body).toEqual({ needsSetUp: true });
    expect((await setUp(` ${fresh.setUpCode.toLowerCase().replace('-', ' ')} `)).status).toBe(201);
    expect((await setUp(fresh.setUpCode)).status).toBe(409);
  });

  it('does not let a code be guessed', async () => {
    const other = await startTestServer({}, { isSetUp: false });
    const tries = many(14, () =>
      other.call(
        'POST',
        '/api/setup',
        {
          code: 'AAAA-AAAA',
          officeName: 'x',
          postalAddress: 'x',
          timeZone: 'UTC',
          name: 'x',
          address: 'x@example.com',
          password: PASSWORD,
        },
        { cookie: '' },
      ),
    );
    expect(await statuses(tries)).toEqual({ 422: 10, 429: 4 });
    await other.stop();
  });
});

describe('other names and other sites', () => {
  const ask = (host: string | undefined, path = '/api/me'): Promise<number> =>
    new Promise((resolve, reject) => {
      const { hostname, port } = new URL(server.url);
      const asked = request(
        { hostname, port, path, setHost: false, headers: host === undefined ? {} : { host } },
        (response) => {
          response.resume();
          resolve(response.statusCode ?? 0);
        },
      );
      asked.on('error', reject);
      asked.end();
    });

  it.each([
    'letters.example.com',
    'letters.example.com:443',
    'LETTERS.example.com',
    'localhost',
    'localhost:4600',
    '127.0.0.1:80',
    '[::1]:4600',
  ])('answers as %s', async (host) => expect(await ask(host)).toBe(200));

  it.each([
    'evil.example',
    'letters.example.com.evil.example',
    'localhost.evil.example',
    '192.168.1.7',
    'evil.example#@localhost',
    'localhost/evil',
    'user@localhost',
    'x',
    'localhost:4600:80',
  ])('does not answer as %s, whatever is asked', async (host) => {
    for (const path of ['/api/me', '/', '/api/health', '/leave/proof', '/o/x', '/files/x'])
      expect([400, 421]).toContain(await ask(host, path));
  });

  it.each<[string, Record<string, string>, number]>([
    ['its own page', { origin: 'http://letters.example.com' }, 204],
    ['its own page on this machine', {}, 204],
    ['a page without an origin', { origin: 'null' }, 403],
    ['another site', { origin: 'https://evil.example' }, 403],
    ['another port of this machine', { origin: 'http://127.0.0.1:1' }, 403],
    ['something that is no origin', { origin: 'letters.example.com' }, 403],
    ['a form of another site', { 'sec-fetch-site': 'cross-site' }, 403],
    ['a page of a neighbour in the domain', { 'sec-fetch-site': 'same-site' }, 403],
  ])('lets %s sign in or not', async (_, headers, status) =>
    expect((await guess(server, 'ines@example.com', headers, PASSWORD)).status).toBe(status),
  );

  it('tells browsers to come by HTTPS where that is its address, and only there', async () => {
    expect((await proxied.call('GET', '/api/me')).headers.get('strict-transport-security')).toBe(
      'max-age=31536000',
    );
    expect(
      (await server.call('GET', '/api/me')).headers.get('strict-transport-security'),
    ).toBeNull();
    expect(
      (await guess(proxied, 'ines@example.com', {}, PASSWORD)).headers
        .getSetCookie()
        .every((cookie) => cookie.includes('Secure')),
    ).toBe(true);
  });

  it('describes its API to who is signed in', async () => {
    expect((await server.call('GET', '/api/docs', undefined, { cookie: '' })).status).toBe(401);
    expect((await server.call('GET', '/api/docs')).status).toBe(200);
  });
});

describe('passwords of mail servers', () => {
  it('are not sent in the clear, but on this machine', async () => {
    const mail = await startMailServer();
    const { port } = new URL(mail.url);
    const send = (host: string) =>
      new Lane(`smtp://name:secret@${host}:${port}`, 2000).send(
        'a@example.com',
        'b@example.com',
        Buffer.from('x'),
      );
    // 0.0.0.0 leads here, too, but is no name of this machine.
    expect(await send('0.0.0.0')).toEqual({
      kind: 'not taken',
      why: expect.stringContaining('no encryption'),
    });
    expect(await send('127.0.0.1')).not.toEqual({
      kind: 'not taken',
      why: expect.stringContaining('no encryption'),
    });
    expect(mail.taken).toEqual([]);
    await mail.stop();
  });

  it('nor to a mailbox', async () => {
    const mailbox = await startMailbox();
    const read = (imapUrl: string) =>
      new ReturnedImap({ imapUrl } as never, server.database, {} as never).read();
    await expect(read(mailbox.url.replace('127.0.0.1', '0.0.0.0'))).rejects.toThrow(/STARTTLS/);
    await read(mailbox.url);
    await mailbox.stop();
  });
});
