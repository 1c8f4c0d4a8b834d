// Sessions: made anew at each sign-in, ended by time, by signing out, by a new password; and the headers of every page.
import { sql } from 'drizzle-orm';
import { execute } from '../database.js';
import { PASSWORD, startTestServer, type Reply, type TestServer } from '../../testing/server.js';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
  await server.account({ name: 'Milo', address: 'milo@example.com', role: 'member' });
}, 60_000);
afterAll(() => server.stop());

const cookiesOf = (reply: Reply): string[] => reply.headers.getSetCookie();
const me = async (cookie: string): Promise<unknown> =>
  (await server.call('GET', '/api/me', undefined, { cookie })).body.user;
const signIn = (address: string, password: string, cookie = ''): Promise<Reply> =>
  server.call('POST', '/api/session', { address, password }, { cookie });

it('gives cookies that scripts and other sites can’t use', async () => {
  const [session = '', browser = ''] = cookiesOf(await signIn('milo@example.com', PASSWORD));
  expect(session).toMatch(
    /^palabra_session=[\w-]{40,}; Max-Age=\d+; Path=\/; HttpOnly; SameSite=Lax$/,
  );
  expect(browser).toMatch(
    /^palabra_browser=[\w-]{40,}; Max-Age=\d+; Path=\/; HttpOnly; SameSite=Lax$/,
  );
  const { rows } = await execute<{ kept: number }>(
    server.database.db,
    sql`select count(*) as kept from (select token_hash from sessions union all select token_hash from known_browsers) t
      where encode(token_hash, 'escape') like ${`%${session.slice(16, 40)}%`} or encode(token_hash, 'escape') like ${`%${browser.slice(16, 40)}%`}`,
  );
  expect(rows[0]?.kept).toBe(0);
});

it('makes a session anew at sign-in, and ends the one that was there', async () => {
  expect(await me('palabra_session=planted-by-somebody-else-0123456789abcdef')).toBeUndefined();
  const planted = await server.signIn('milo@example.com');
  const [fresh = ''] = cookiesOf(await signIn('milo@example.com', PASSWORD, planted));
  expect(fresh.split(';')[0]).not.toBe(planted);
  expect(await me(fresh)).toMatchObject({ name: 'Milo' });
  expect(await me(planted)).toBeUndefined();
});

it('ends by signing out', async () => {
  const one = await server.signIn('milo@example.com');
  const other = await server.signIn('milo@example.com');
  expect((await server.call('DELETE', '/api/session', undefined, { cookie: one })).status).toBe(
    204,
  );
  expect(await me(one)).toBeUndefined();
  expect(await me(other)).toBeDefined();
});

it('ends after fourteen days without use, and after ninety whatever the use', async () => {
  const cookie = await server.signIn('milo@example.com');
  // As if so many days had gone by since the session began and was last used.
  const ageBy = (days: number): Promise<unknown> =>
    execute(
      server.database.db,
      sql`update sessions set created_at = created_at - ${days} * interval '1 day', seen_at = seen_at - ${days} * interval '1 day', expires_at = expires_at - ${days} * interval '1 day' where user_id = 2`,
    );
  for (let days = 0; days < 85; days += 10) {
    await ageBy(10);
    if (days < 80)
      expect({ days, user: await me(cookie) }).toMatchObject({ days, user: { name: 'Milo' } });
  }
  expect(await me(cookie)).toBeUndefined();
  const idle = await server.signIn('milo@example.com');
  await ageBy(13.9);
  expect(await me(idle)).toBeDefined();
  await ageBy(14.1);
  expect(await me(idle)).toBeUndefined();
});

it('ends the other sessions when the password changes', async () => {
  const here = await server.signIn('milo@example.com');
  const elsewhere = await server.signIn('milo@example.com');
  const change = (current: string, next: string) =>
    server.call('PUT', '/api/password', { current, next }, { cookie: here });
  expect((await change('not it at all', 'the fern by the bench')).status).toBe(422);
  expect((await change(PASSWORD, 'password1234')).status).toBe(400);
  expect((await change(PASSWORD, 'the fern by the bench')).status).toBe(204);
  expect(await me(here)).toBeDefined();
  expect(await me(elsewhere)).toBeUndefined();
  expect((await signIn('milo@example.com', PASSWORD)).status).toBe(401);
  expect((await signIn('MILO@example.com', 'the fern by the bench')).status).toBe(204);
});

it('sends every page with headers that keep others out', async () => {
  const { headers } = await server.call('GET', '/api/me');
  expect(
    Object.fromEntries(
      [
        'x-content-type-options',
        'x-frame-options',
        'referrer-policy',
        'x-powered-by',
        'cross-origin-opener-policy',
        'cache-control',
      ].map((name) => [name, headers.get(name)]),
    ),
  ).toEqual({
    'x-content-type-options': 'nosniff',
    'x-frame-options': 'SAMEORIGIN',
    'referrer-policy': 'no-referrer',
    'x-powered-by': null,
    'cross-origin-opener-policy': 'same-origin',
    'cache-control': 'no-store',
  });
  const policy = headers.get('content-security-policy') ?? '';
  expect(policy).toContain("script-src 'self'");
  expect(policy).not.toContain('unsafe');
});
