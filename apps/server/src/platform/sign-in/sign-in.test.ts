// Sessions: made anew at each sign-in, ended by time, by signing out, by a new password; and tries that are too many.
import { sql } from 'drizzle-orm';
import { execute } from '../database.js';
import { PASSWORD, startTestServer, type Reply, type TestServer } from '../../testing/server.js';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
  await server.call('POST', '/api/accounts', { name: 'Milo', address: 'milo@example.com', role: 'member', password: PASSWORD });
}, 60_000);
afterAll(() => server.stop());

const cookieOf = (reply: Reply): string => reply.headers.get('set-cookie') ?? '';
const me = async (cookie: string): Promise<unknown> => (await server.call('GET', '/api/me', undefined, { cookie })).body.user;
const signIn = (address: string, password: string, cookie = ''): Promise<Reply> => server.call('POST', '/api/session', { address, password }, { cookie });

it('gives a cookie that scripts and other sites can’t use', async () => {
  const cookie = cookieOf(await signIn('milo@example.com', PASSWORD));
  expect(cookie).toMatch(/^palabra_session=[\w-]{40,}; Max-Age=\d+; Path=\/; HttpOnly; SameSite=Lax$/);
  const { rows } = await execute<{ kept: number }>(server.database.db, sql`select count(*) as kept from sessions where encode(token_hash, 'escape') like ${`%${cookie.slice(16, 40)}%`}`);
  expect(rows[0]?.kept).toBe(0);
});

it('makes a session anew at sign-in, and ends the one that was there', async () => {
  expect(await me('palabra_session=planted-by-somebody-else-0123456789abcdef')).toBeUndefined();
  const planted = await server.signIn('milo@example.com');
  const fresh = cookieOf(await signIn('milo@example.com', PASSWORD, planted)).split(';')[0] ?? '';
  expect(fresh).not.toBe(planted);
  expect(await me(fresh)).toMatchObject({ name: 'Milo' });
  expect(await me(planted)).toBeUndefined();
});

it('ends by signing out, and by time', async () => {
  const one = await server.signIn('milo@example.com');
  const other = await server.signIn('milo@example.com');
  expect((await server.call('DELETE', '/api/session', undefined, { cookie: one })).status).toBe(204);
  expect(await me(one)).toBeUndefined();
  expect(await me(other)).toBeDefined();
  await execute(server.database.db, sql`update sessions set expires_at = now() - interval '1 second' where user_id = 2`);
  expect(await me(other)).toBeUndefined();
});

it('ends the other sessions when the password changes', async () => {
  const here = await server.signIn('milo@example.com');
  const elsewhere = await server.signIn('milo@example.com');
  const change = (current: string, next: string) => server.call('PUT', '/api/password', { current, next }, { cookie: here });
  expect((await change('not it at all', 'the fern by the bench')).status).toBe(422);
  expect((await change(PASSWORD, 'password1234')).status).toBe(400);
  expect((await change(PASSWORD, 'the fern by the bench')).status).toBe(204);
  expect(await me(here)).toBeDefined();
  expect(await me(elsewhere)).toBeUndefined();
  expect((await signIn('milo@example.com', PASSWORD)).status).toBe(401);
  expect((await signIn('MILO@example.com', 'the fern by the bench')).status).toBe(204);
});

it('says the same of a wrong password and of nobody, and lets an account rest after ten tries', async () => {
  const wrong = await signIn('ines@example.com', 'not this one here');
  const nobody = await signIn('nobody@example.com', 'not this one here');
  expect([wrong.status, nobody.status, wrong.text]).toEqual([401, 401, nobody.text]);
  for (let tries = 0; tries < 9; tries++) await signIn('ines@example.com', `try number ${tries}`);
  const throttled = await signIn('ines@example.com', PASSWORD);
  expect(throttled.status).toBe(429);
  expect(throttled.body.detail).toContain('quarter of an hour');
  // Somebody else at the same place still gets in, and who is in stays in.
  expect((await signIn('milo@example.com', 'the fern by the bench')).status).toBe(204);
  expect(await me(server.coordinator)).toBeDefined();
  await execute(server.database.db, sql`update sign_in_failures set at = at - interval '20 minutes'`);
  expect((await signIn('ines@example.com', PASSWORD)).status).toBe(204);
}, 30_000);

it('sends every page with headers that keep others out', async () => {
  const { headers } = await server.call('GET', '/api/me');
  expect(Object.fromEntries(['x-content-type-options', 'x-frame-options', 'referrer-policy', 'x-powered-by', 'cross-origin-opener-policy'].map((name) => [name, headers.get(name)]))).toEqual({
    'x-content-type-options': 'nosniff',
    'x-frame-options': 'SAMEORIGIN',
    'referrer-policy': 'no-referrer',
    'x-powered-by': null,
    'cross-origin-opener-policy': 'same-origin',
  });
  const policy = headers.get('content-security-policy') ?? '';
  expect(policy).toContain("script-src 'self'");
  expect(policy).not.toContain('unsafe');
});
