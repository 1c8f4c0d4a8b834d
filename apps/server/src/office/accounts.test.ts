// Who works here: invited, changed, closed, let in again; links that are used once; sessions that are ended.
import { execute } from '../platform/database.js';
import { sql } from 'drizzle-orm';
import { PASSWORD, startTestServer, until, type TestServer } from '../testing/server.js';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
}, 60_000);
afterAll(() => server.stop());

interface Line {
  readonly id: number;
  readonly name: string;
  readonly state: string;
  readonly role: string;
}
const add = (who: object) => server.call('POST', '/api/accounts', who);
const lines = async (): Promise<Line[]> =>
  (await server.call('GET', '/api/accounts')).body as Line[];
const lineOf = async (id: number): Promise<Line | undefined> =>
  (await lines()).find((one) => one.id === id);
const tokenOf = async (id: number, mail = false): Promise<string> => {
  const { link } = (await server.call('POST', `/api/accounts/${id}/link`, { mail })).body as {
    link: string;
  };
  return link.split('/').at(-1) ?? '';
};
const entry = (token: string) =>
  server.call('GET', `/api/entry/${token}`, undefined, { cookie: '' });
const enter = (token: string, password = PASSWORD) =>
  server.call('POST', '/api/entry', { token, password }, { cookie: '' });
const signIn = (address: string, password = PASSWORD) =>
  server.call('POST', '/api/session', { address, password }, { cookie: '' });
const mails = async (): Promise<{ kind: string; address: string | null; text: string }[]> =>
  (
    await execute<{ kind: string; address: string | null; text: string }>(
      server.database.db,
      sql`select kind, address, text from outbox order by id`,
    )
  ).rows;

it('lets an invited colleague choose a password, once, and in', async () => {
  const { id } = (await add({ name: 'Milo', address: 'milo@example.com', role: 'member' })).body;
  expect(await lineOf(id)).toMatchObject({ state: 'invited' });
  expect((await signIn('milo@example.com')).status).toBe(401);
  const token = await tokenOf(id);
  expect((await entry(token)).body).toEqual({
    office: 'Garden',
    name: 'Milo',
    address: 'milo@example.com',
    isFirst: true,
  });
  expect((await enter(token, 'short')).body.errors[0].path).toBe('password');
  const entered = await enter(token);
  expect(entered.status).toBe(204);
  const cookie = (entered.headers.get('set-cookie') ?? '').split(';')[0] ?? '';
  const me = () => server.call('GET', '/api/me', undefined, { cookie });
  expect((await me()).body.user).toMatchObject({ name: 'Milo', isNew: true });
  await server.call('POST', '/api/me/welcomed', undefined, { cookie });
  expect((await me()).body.user).toMatchObject({ isNew: false });
  expect(await lineOf(id)).toMatchObject({ state: 'active' });
  for (const used of [token, 'nonsense', encodeURIComponent('ü '.repeat(10))]) {
    expect((await entry(used)).status).toBe(404);
    expect((await enter(used)).status).toBe(404);
  }
});

it('has colleagues who look after people and never sign in', async () => {
  const made = await add({ name: 'Odile', address: '', role: 'member' });
  expect(made).toMatchObject({ status: 201, body: { address: null } });
  const { id } = made.body as { id: number };
  expect(await lineOf(id)).toMatchObject({ state: 'no sign-in' });
  expect((await server.call('POST', `/api/accounts/${id}/link`, { mail: false })).status).toBe(422);
  expect((await signIn('')).status).toBe(401);
  // Two of them are none too many.
  expect((await add({ name: 'Ben', address: '', role: 'member' })).status).toBe(201);
  const changed = await server.call('PUT', `/api/accounts/${id}`, {
    name: 'Odile Brook',
    address: 'odile@example.com',
    role: 'manager',
  });
  expect(changed.body).toMatchObject({ name: 'Odile Brook', role: 'manager' });
  expect(await lineOf(id)).toMatchObject({ state: 'invited' });
});

it('mails a link to whom it is for, and at the sign-in to nobody else', async () => {
  const id = await server.account({ name: 'Piet', address: 'piet@example.com', role: 'member' });
  await tokenOf(id, true);
  expect((await mails()).at(-1)).toMatchObject({
    kind: 'new password',
    address: 'piet@example.com',
  });
  const forgotten = (address: string) =>
    server.call('POST', '/api/forgotten', { address }, { cookie: '' });
  for (const address of ['piet@example.com', 'nobody@example.com', 'not an address'])
    expect((await forgotten(address)).status).toBe(204);
  const [piet, nobody, none] = (await mails()).slice(-3);
  expect([piet?.address, nobody?.address, none?.address]).toEqual(['piet@example.com', null, null]);
  // One link lives: a new one, a new password and a new address void it.
  const mailed = /enter\/([\w-]+)/.exec(piet?.text ?? '')?.[1] ?? '';
  expect((await entry(mailed)).status).toBe(200);
  const other = await tokenOf(id);
  expect((await entry(mailed)).status).toBe(404);
  expect((await enter(mailed)).status).toBe(404);
  expect((await enter(other, 'another long password')).status).toBe(204);
  expect((await entry(other)).status).toBe(404);
  const cookie = await signIn('piet@example.com', 'another long password').then(
    ({ headers }) => (headers.get('set-cookie') ?? '').split(';')[0] ?? '',
  );
  const before = await tokenOf(id);
  const changed = await server.call(
    'PUT',
    '/api/password',
    { current: 'another long password', next: 'a third long password' },
    { cookie },
  );
  expect(changed.status).toBe(204);
  expect((await entry(before)).status).toBe(404);
  const moved = await tokenOf(id);
  const own = { name: 'Piet', address: 'pieter@example.com', password: 'a third long password' };
  expect((await server.call('PUT', '/api/me', own, { cookie })).status).toBeLessThan(300);
  expect((await entry(moved)).status).toBe(404);
  await server.call('PUT', '/api/me', { ...own, address: 'piet@example.com' }, { cookie });
  expect((await signIn('piet@example.com')).status).toBe(401);
  expect((await signIn('piet@example.com', 'a third long password')).status).toBe(204);
  for (let more = 0; more < 6; more++) await forgotten('piet@example.com');
  expect((await forgotten('piet@example.com')).status).toBe(429);
});

it('shuts out who left, ends their sessions and links, and lets them in again', async () => {
  const address = 'runa@example.com';
  const id = await server.account({ name: 'Runa', address, role: 'member' });
  const cookie = await server.signIn(address);
  const token = await tokenOf(id);
  expect((await server.call('POST', `/api/accounts/${id}/close`)).status).toBe(204);
  expect((await server.call('GET', '/api/people', undefined, { cookie })).status).toBe(401);
  expect((await signIn(address)).status).toBe(401);
  expect((await entry(token)).status).toBe(404);
  expect((await server.call('POST', `/api/accounts/${id}/link`, { mail: false })).status).toBe(422);
  expect(await lineOf(id)).toMatchObject({ state: 'closed' });
  // Their address stays theirs.
  expect((await add({ name: 'x', address, role: 'member' })).status).toBe(422);
  expect((await server.call('POST', `/api/accounts/${id}/open`)).status).toBe(204);
  expect((await signIn(address)).status).toBe(204);
});

it('never leaves the office without a coordinator who can come in', async () => {
  const [ines] = (await lines()).filter(({ role }) => role === 'coordinator');
  const id = ines?.id ?? 0;
  const member = { name: 'Ines', address: 'ines@example.com', role: 'member' };
  expect((await server.call('POST', `/api/accounts/${id}/close`)).status).toBe(422);
  for (const request of [member, { ...member, role: 'coordinator', address: '' }])
    expect((await server.call('PUT', `/api/accounts/${id}`, request)).status).toBe(422);
  // One who was only invited may never come.
  const { id: second } = (
    await add({ name: 'Sif', address: 'sif@example.com', role: 'coordinator' })
  ).body;
  expect((await server.call('PUT', `/api/accounts/${id}`, member)).status).toBe(422);
  await enter(await tokenOf(second as number));
  // Two who each let the other go at the same time: one of them stays.
  const sif = await server.signIn('sif@example.com');
  const both = await Promise.all([
    server.call('POST', `/api/accounts/${second}/close`),
    server.call('POST', `/api/accounts/${id}/close`, undefined, { cookie: sif }),
  ]);
  expect(both.filter(({ status }) => status === 204)).toHaveLength(1);
  const left = (
    await execute<{ n: number }>(
      server.database.db,
      sql`select count(*) as n from users where role = 'coordinator' and closed_at is null`,
    )
  ).rows[0]?.n;
  expect(left).toBe(1);
  await execute(
    server.database.db,
    sql`update users set closed_at = null where role = 'coordinator'`,
  );
}, 30_000);

it('changes one’s own name freely, and the address with the password', async () => {
  await server.account({ name: 'Tove', address: 'tove@example.com', role: 'member' });
  const cookie = await server.signIn('tove@example.com');
  const change = (name: string, address: string, password = '') =>
    server.call('PUT', '/api/me', { name, address, password }, { cookie });
  expect((await change('Tove Lind', 'tove@example.com')).status).toBe(200);
  const refused = await change('Tove Lind', 'tove.lind@example.com', 'wrong');
  expect(refused).toMatchObject({ status: 422, body: { errors: [{ path: 'password' }] } });
  expect((await change('Tove Lind', 'milo@example.com', PASSWORD)).status).toBe(422);
  expect((await change('Tove Lind', 'tove.lind@example.com', PASSWORD)).body).toMatchObject({
    name: 'Tove Lind',
    address: 'tove.lind@example.com',
    role: 'member',
  });
  expect((await signIn('tove.lind@example.com')).status).toBe(204);
});

it('says where one is signed in, and ends it there', async () => {
  await server.account({ name: 'Ulla', address: 'ulla@example.com', role: 'member' });
  const [one, other] = [
    await server.signIn('ulla@example.com'),
    await server.signIn('ulla@example.com'),
  ];
  const sessions = async (cookie: string) =>
    (await server.call('GET', '/api/sessions', undefined, { cookie })).body as {
      id: number;
      isThis: boolean;
    }[];
  const seen = await sessions(one);
  expect(seen.filter(({ isThis }) => isThis)).toHaveLength(1);
  const away = (await sessions(other)).find(({ isThis }) => isThis)?.id;
  const end = (id: number | undefined, cookie: string) =>
    server.call('DELETE', `/api/sessions/${id}`, undefined, { cookie });
  const milo = await server.signIn('milo@example.com');
  expect((await end(away, milo)).status).toBe(404);
  expect((await end(away, one)).status).toBe(204);
  expect((await end(away, one)).status).toBe(404);
  await until(
    'the session to be over',
    async () =>
      (await server.call('GET', '/api/people', undefined, { cookie: other })).status === 401,
  );
});
