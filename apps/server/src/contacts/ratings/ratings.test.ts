// Ratings: counted from what people did with letters, soon after they did it; asked for in lists and rules; by the office's scale.
import type { PersonRatingReply, RatingScaleReply } from '@palabra/contract/contacts';
import type { RatingScale } from '@palabra/core/contacts';
import { sql } from 'drizzle-orm';
import { execute } from '../../platform/database.js';
import { importPeople } from '../../testing/round.js';
import { startTestServer, until, type TestServer } from '../../testing/server.js';
import { putOnDoNotMail, takeOffDoNotMail } from '../index.js';

/** Whatever the standard is. */
const ours: RatingScale = {
  weights: { opened: 50, clicked: 100, replied: 100 },
  halfLife: 180,
  steady: 25,
  keen: 60,
};
let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
  await importPeople(
    server,
    `email,first name\n${Array.from({ length: 8 }, (_, at) => `p${at}@example.com,P${at}`).join('\n')}\n`,
  );
  await server.call('PUT', '/api/ratings/scale', { version: 1, scale: ours });
}, 60_000);
afterAll(() => server.stop());

const idOf = async (address: string): Promise<number> => {
  const { rows } = await execute<{ id: number }>(
    server.database.db,
    sql`select id from contacts where address = ${address}`,
  );
  return rows[0]?.id ?? 0;
};

type Did = 'nothing' | 'opened' | 'clicked' | 'replied' | 'machine' | 'bounced';
let campaigns = 0;
/** Letters that went to somebody, the first so many days ago, one a week. */
async function got(address: string, days: number, did: readonly Did[]): Promise<void> {
  const id = await idOf(address);
  for (const [at, what] of did.entries()) {
    const ago = sql`now() - make_interval(days => ${days - at * 7})`;
    const when = (one: Did) => (what === one ? ago : sql`null`);
    await execute(
      server.database.db,
      sql`insert into deliveries (campaign_id, contact_id, state, address_hash, accepted_at, first_opened_at, first_clicked_at, replied_at, machine_opens, bounced_at)
        select ${++campaigns}, c.id, ${what === 'bounced' ? 'bounced' : 'accepted'}, c.address_hash, ${ago}, ${when('opened')}, ${when('clicked')}, ${when('replied')},
          ${what === 'machine' ? 3 : 0}, ${when('bounced')} from contacts c where c.id = ${id}`,
    );
  }
  await execute(server.database.db, sql`update contacts set rating_due = true where id = ${id}`);
}

interface Row {
  readonly address: string;
  readonly values: { readonly rating: number | null; readonly band: string | null };
}
const rows = async (query = ''): Promise<Row[]> =>
  (await server.call('GET', `/api/people?columns=rating,band${query}`)).body.rows as Row[];
const bandOf = async (address: string): Promise<string | null | undefined> =>
  (await rows()).find((row) => row.address === address)?.values.band;
const counted = (): Promise<void> =>
  until('everybody who is due is counted', async () => {
    const { rows: due } = await execute(
      server.database.db,
      sql`select 1 from contacts where rating_due`,
    );
    return due.length === 0;
  });
const who = async (item: object): Promise<string[]> => {
  const rule = { v: 1, root: { of: 'all', items: [item] } };
  const { body } = await server.call('POST', '/api/filters', { rule });
  return (await rows(`&filter=${body.key as string}`)).map(({ address }) => address);
};
const repeat = (count: number, what: Did): Did[] => Array.from({ length: count }, () => what);

it('is counted from what people did, and stands in lists, orders and rules', async () => {
  await got('p0@example.com', 90, repeat(12, 'clicked'));
  await got('p1@example.com', 90, repeat(12, 'nothing'));
  await got('p2@example.com', 90, repeat(12, 'opened'));
  await got('p3@example.com', 20, repeat(2, 'clicked'));
  await got('p4@example.com', 130, [...repeat(9, 'clicked'), ...repeat(9, 'nothing')]);
  await got('p5@example.com', 90, repeat(12, 'machine'));
  await got('p6@example.com', 90, [...repeat(2, 'clicked'), ...repeat(9, 'bounced')]);
  await got('p7@example.com', 130, [...repeat(8, 'nothing'), ...repeat(10, 'replied')]);
  await counted();
  expect(
    (await rows('&sort=-rating')).map(({ address, values }) => [address, values.band]),
  ).toEqual([
    ['p0@example.com', 'keen'],
    ['p7@example.com', 'keen'],
    ['p2@example.com', 'steady'],
    ['p4@example.com', 'fading'],
    ['p1@example.com', 'quiet'],
    ['p5@example.com', 'quiet'],
    ['p3@example.com', 'new'],
    ['p6@example.com', 'new'],
  ]);
  const rating = { kind: 'field', field: 'rating' };
  expect(await who({ ...rating, op: 'is empty' })).toEqual(['p3@example.com', 'p6@example.com']);
  expect(await who({ ...rating, op: 'at least', value: 60 })).toEqual([
    'p0@example.com',
    'p7@example.com',
  ]);
  expect(await who({ kind: 'field', field: 'band', op: 'is one of', value: ['fading'] })).toEqual([
    'p4@example.com',
  ]);
  expect(await who({ kind: 'rating', op: 'fell', by: 20, within: 90 })).toEqual(['p4@example.com']);
  // Of twelve clicks the first three made it 75 at once; from there it rose by less.
  expect(await who({ kind: 'rating', op: 'rose', by: 20, within: 60 })).toEqual(['p7@example.com']);
  expect(await who({ kind: 'rating', op: 'rose', by: 20, within: 1 })).toEqual([]);
  const moved = (await server.call('GET', '/api/ratings/moved')).body;
  expect(moved.fading).toMatchObject({ count: 1, people: [{ givenName: 'P4' }] });
  expect(moved.fading.people[0].was - moved.fading.people[0].is).toBeGreaterThanOrEqual(20);
  for (const [of, count] of [
    ['rated.90.fading', 1],
    ['rated.90.rose', 1],
  ] as const)
    expect((await server.call('GET', `/api/people/summary?of=${of}`)).body.total).toBe(count);
  expect((await server.call('GET', '/api/people/summary?of=rated.400.rose')).status).toBe(404);
});

it('explains itself to the point, and rises soon after a click', async () => {
  const id = await idOf('p2@example.com');
  const told = async () =>
    (await server.call('GET', `/api/people/${id}/rating`)).body as PersonRatingReply;
  const before = await told();
  expect(before).toMatchObject({ band: 'steady', ended: null });
  expect(before.parts).toEqual([{ response: 'opened', letters: 12, points: expect.any(Number) }]);
  expect((before.parts[0]?.points ?? NaN) + before.middle).toBe(before.rating);
  expect(before.course).toHaveLength(79);
  expect(before.course.at(-1)).toBe(before.rating);
  const listed = async () => (await rows()).find(({ address }) => address === 'p2@example.com');
  expect((await listed())?.values.rating).toBe(before.rating);
  await execute(
    server.database.db,
    sql`update deliveries set first_clicked_at = now() where contact_id = ${id} and accepted_at > now() - interval '20 days'`,
  );
  await execute(server.database.db, sql`update contacts set rating_due = true where id = ${id}`);
  await counted();
  const after = await told();
  expect(after.rating).toBeGreaterThan(before.rating ?? NaN);
  expect((await listed())?.values.rating).toBe(after.rating);
});

it('ends with leaving, and begins again with coming back', async () => {
  const { db } = server.database;
  const id = await idOf('p0@example.com');
  const { rows: found } = await execute<{ hash: Buffer }>(
    db,
    sql`select address_hash as hash from contacts where id = ${id}`,
  );
  const addressHash = found[0]?.hash ?? Buffer.alloc(0);
  await putOnDoNotMail(db, { addressHash, address: null, reason: 'left', at: new Date() });
  await until('it ended', async () => (await bandOf('p0@example.com')) === null);
  const { body } = await server.call('GET', `/api/people/${id}/rating`);
  expect(body).toMatchObject({ band: null, ended: { how: 'left' } });
  await takeOffDoNotMail(db, addressHash, new Date());
  await until('it is there again', async () => (await bandOf('p0@example.com')) === 'keen');
  // Being put there by hand, or a dead address, is not the person's doing.
  await putOnDoNotMail(db, { addressHash, address: null, reason: 'by hand', at: new Date() });
  await counted();
  expect(await bandOf('p0@example.com')).toBe('keen');
  await takeOffDoNotMail(db, addressHash, new Date());
});

describe('the scale', () => {
  const scale = async () =>
    (await server.call('GET', '/api/ratings/scale')).body as RatingScaleReply;
  const bandsNow = async () =>
    Object.fromEntries((await scale()).bands.map((one) => [one.band, one.count]));
  const opensCount: RatingScale = {
    ...ours,
    weights: { opened: 100, clicked: 100, replied: 100 },
  };

  it('shows what would shift before it is kept, and then it is so', async () => {
    await counted();
    const { body } = await server.call('POST', '/api/ratings/preview', { scale: opensCount });
    expect(body.after).toBeNull();
    const shift = body.bands as { band: string; now: number; then: number }[];
    expect(Object.fromEntries(shift.map(({ band, now }) => [band, now]))).toEqual(await bandsNow());
    const { version } = await scale();
    const kept = await server.call('PUT', '/api/ratings/scale', { version, scale: opensCount });
    expect(kept.body).toMatchObject({ version: version + 1, scale: opensCount });
    await until('everybody is counted', async () => (await scale()).counting === null);
    expect(await bandsNow()).toEqual(
      Object.fromEntries(shift.map(({ band, then }) => [band, then])),
    );
    expect(await bandOf('p2@example.com')).toBe('keen');
    const slower = await server.call('PUT', '/api/ratings/scale', { version, scale: opensCount });
    expect(slower.status).toBe(409);
    expect(slower.body.current).toMatchObject({ scale: opensCount });
    await server.call('PUT', '/api/ratings/scale', { version: version + 1, scale: ours });
    await until('everybody is counted', async () => (await scale()).counting === null);
    expect(await bandOf('p2@example.com')).toBe('steady');
  });

  it.each<[string, unknown]>([
    ['weights of nothing', { ...ours, weights: { opened: 0, clicked: 0, replied: 0 } }],
    ['a weight that is a text', { ...ours, weights: { opened: 'much' } }],
    ['bands the wrong way round', { ...ours, steady: 80 }],
    ['no scale', undefined],
    ['a list', []],
    ['an endless half-life', { ...ours, halfLife: 1e9 }],
  ])('refuses %s', async (_, wrong) => {
    for (const [method, path, more] of [
      ['PUT', '/api/ratings/scale', { version: 1 }],
      ['POST', '/api/ratings/preview', {}],
    ] as const) {
      const reply = await server.call(method, path, { ...more, scale: wrong });
      expect(reply.status).toBe(400);
      expect(reply.body.errors?.[0]?.path).toBe('scale');
    }
  });
});

it('says how many are in each band, where a rule asks for one', async () => {
  const values = async (key: string) =>
    (await server.call('GET', `/api/fields/${key}/values`)).body;
  const found = (await values('band')) as { value: string; count: number }[];
  expect(found.map(({ value }) => value).sort()).toEqual([
    'fading',
    'keen',
    'new',
    'quiet',
    'steady',
  ]);
  expect(found.reduce((sum, { count }) => sum + count, 0)).toBe(8);
  expect(await values('rating')).toEqual([]);
});

it('is nothing that is set by hand', async () => {
  const deed = { kind: 'field', field: 'rating', text: '99' };
  expect((await server.call('POST', '/api/deeds', { people: {}, deed })).status).toBe(422);
  const id = await idOf('p0@example.com');
  const { version } = (await server.call('GET', `/api/people/${id}`)).body;
  const values = { rating: '99' };
  expect((await server.call('PATCH', `/api/people/${id}`, { version, values })).status).toBe(422);
});

it('tells a member of the own people only, and lets them change no scale', async () => {
  const kasimir = await server.account({
    name: 'Kasimir',
    address: 'kasimir@example.com',
    role: 'member',
  });
  const cookie = await server.signIn('kasimir@example.com');
  const id = await idOf('p4@example.com');
  const asked = (path: string) => server.call('GET', path, undefined, { cookie });
  expect((await asked(`/api/people/${id}/rating`)).status).toBe(404);
  expect((await asked('/api/ratings/moved')).body.fading).toEqual({ count: 0, people: [] });
  expect((await asked('/api/ratings/scale')).status).toBe(403);
  const preview = { scale: ours };
  expect((await server.call('POST', '/api/ratings/preview', preview, { cookie })).status).toBe(403);
  await execute(
    server.database.db,
    sql`update contacts set owner_id = ${kasimir} where id = ${id}`,
  );
  expect((await asked(`/api/people/${id}/rating`)).body.band).toBe('fading');
  expect((await asked('/api/ratings/moved')).body.fading.count).toBe(1);
});
