// Where people live: from a file of places, as they come in, as they move, and when the file is another one.
import { sql } from 'drizzle-orm';
import { startTestServer, type TestServer } from '../../testing/server.js';
import { importPeople } from '../../testing/round.js';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
}, 60_000);
afterAll(() => server.stop());

const town = (
  name: string,
  region: string,
  lat: number,
  lon: number,
  people = 100,
  country = 'QW',
): string =>
  [
    '1',
    name,
    name,
    '',
    lat,
    lon,
    'P',
    'PPL',
    country,
    '',
    region,
    '',
    '',
    '',
    people,
    '',
    '',
    'Etc/UTC',
    '',
  ].join('\t');
const postcode = (code: string, lat: number, lon: number): string =>
  ['QW', code, 'Quillwater', 'Tarnshire', '', '', '', '', '', lat, lon, '4'].join('\t');
const about = async () => (await server.call('GET', '/api/gazetteer/about')).body;
/** Until everybody is looked up. */
async function placed(): Promise<void> {
  while ((await about()).placing !== null) await new Promise((resolve) => setTimeout(resolve, 20));
}
const begin = (lines: readonly string[]) =>
  server.call('POST', '/api/gazetteer', Buffer.from(`${lines.join('\n')}\n`), {
    headers: { 'content-type': 'application/octet-stream' },
  });
async function load(lines: readonly string[]) {
  const loaded = await begin(lines);
  await placed();
  return loaded;
}
const near = async (lat: number, lon: number, km: number, op = 'within'): Promise<number> =>
  (
    await server.call('POST', '/api/segments/sift', {
      pools: [1],
      rule: {
        v: 1,
        root: { of: 'all', items: [{ kind: 'place', op, km, place: { name: 'There', lat, lon } }] },
      },
    })
  ).body.count as number;

const file = [
  town('Millrace', 'Tarnshire', 38.8, -9.1),
  town('Ashwick', 'Tarnshire', 38.6, -9.0),
  // There are two of the name: the larger one, unless somebody's region says which.
  town('Newton', 'Fellmark', 40, -8, 50),
  town('Newton', 'Tarnshire', 38, -9, 5000),
  postcode('QW1 2AB', 39.5, -9.5),
  ['2', 'Old Fell', 'Old Fell', '', '41', '-7', 'T', 'MT'].join('\t') + '\t\t\t\t\t\t\t\t\t\t\t',
  'nothing of the kind',
];

it('places people by their postcode or town, as they come in', async () => {
  expect((await load(file)).body).toMatchObject({
    read: 5,
    refused: 1,
    towns: 4,
    postcodes: 1,
    withoutPosition: 0,
  });
  await importPeople(
    server,
    [
      'email,town,region,postcode',
      'a@example.com,MILLRACE,,',
      'b@example.com,Ashwick,,',
      'c@example.com,Newton,,',
      'd@example.com,Newton,Fellmark,',
      'e@example.com,Millrace,,qw12ab',
      'f@example.com,Nowhere,,',
      'g@example.com,,,',
    ].join('\n'),
  );
  expect(await near(38.8, -9.1, 1)).toBe(1);
  expect(await near(38.6, -9.0, 1)).toBe(1);
  expect(await near(38, -9, 1)).toBe(1);
  expect(await near(40, -8, 1)).toBe(1);
  expect(await near(39.5, -9.5, 1)).toBe(1);
  // Who has no known place is neither near nor far.
  expect(await near(38.8, -9.1, 20_000)).toBe(5);
  expect(await near(38.8, -9.1, 1, 'farther than')).toBe(4);
  expect((await server.call('GET', '/api/gazetteer/about')).body.withoutPosition).toBe(2);
});

it('places nobody in a country that is not theirs, however it is written', async () => {
  await load([
    ...file,
    town('Steinfurt', '', 52, 7, 9000, 'DE'),
    town('Steinfurt', '', 30, 30, 10, 'FR'),
    town('Newton', '', 20, 20, 1, 'DE'),
  ]);
  await importPeople(
    server,
    [
      'email,town,country',
      'h@example.com,Steinfurt,',
      'i@example.com,Steinfurt,Frankreich',
      'j@example.com,Steinfurt,F.R.',
      'k@example.com,Newton,Deutschland',
      'l@example.com,Millrace,DE',
      'm@example.com,Steinfurt,Quillwater',
    ].join('\n'),
  );
  // “Quillwater” is no country that anybody knows: it says nothing.
  expect(await near(52, 7, 1)).toBe(2);
  expect(await near(30, 30, 1)).toBe(2);
  expect(await near(20, 20, 1)).toBe(1);
  expect(await near(38.8, -9.1, 1)).toBe(1);
  const { body } = await server.call('GET', '/api/people?q=h@example');
  const [{ id, version }] = body.rows as [{ id: number; version: number }];
  const moved = await server.call('PATCH', `/api/people/${id}`, {
    version,
    values: { country: 'France' },
  });
  expect([moved.status, await near(30, 30, 1)]).toEqual([200, 3]);
  await load(file);
});

it('places them anew when they move, and back when that is taken back', async () => {
  const { body } = await server.call('GET', '/api/people?q=a@example');
  const { id, version } = body.rows[0] as { id: number; version: number };
  const move = (values: object, from: number) =>
    server.call('PATCH', `/api/people/${id}`, { version: from, values });
  const moved = await move({ town: 'Ashwick' }, version);
  expect(moved.status).toBe(200);
  expect([await near(38.8, -9.1, 1), await near(38.6, -9.0, 1)]).toEqual([0, 2]);
  // What is not about a place moves nobody.
  expect((await move({ given_name: 'Ada' }, version + 1)).status).toBe(200);
  expect(await near(38.6, -9.0, 1)).toBe(2);
  expect((await move({ town: '' }, version + 2)).status).toBe(200);
  expect(await near(38.6, -9.0, 1)).toBe(1);
  expect((await move({ town: 'Millrace' }, version + 3)).status).toBe(200);
  expect(await near(38.8, -9.1, 1)).toBe(1);
});

it('finds places by the beginning of their name or postcode, the largest first', async () => {
  const find = async (q: string) =>
    (
      (await server.call('GET', `/api/gazetteer?q=${encodeURIComponent(q)}`)).body as {
        name: string;
        region: string;
      }[]
    ).map(({ name, region }) => `${name}, ${region}`);
  expect(await find('new')).toEqual(['Newton, Tarnshire', 'Newton, Fellmark']);
  expect(await find('QW1 2')).toEqual(['QW1 2AB Quillwater, Tarnshire']);
  expect(await find('%')).toEqual([]);
});

it('keeps what there is when a file holds no place, and places everybody by another file', async () => {
  const refused = await load(['just,a,table', 'of,other,things']);
  expect([refused.status, refused.body.detail]).toEqual([422, expect.stringContaining('GeoNames')]);
  expect(await near(38.8, -9.1, 1)).toBe(1);
  const { body } = await begin([town('Millrace', 'Tarnshire', 10, 10)]);
  // The file before is not counted any more, while its places go and everybody is looked up.
  expect(body).toMatchObject({ towns: 1, postcodes: 0, placing: { done: 0 } });
  await placed();
  expect([await near(38.8, -9.1, 1), await near(10, 10, 1)]).toEqual([0, 2]);
  // Of whom the new file knows nothing, nothing is known any more.
  expect(await near(38.6, -9.0, 20_000)).toBe(2);
  expect((await server.call('GET', '/api/gazetteer/about')).body).toMatchObject({
    towns: 1,
    postcodes: 0,
  });
});

it('goes on looking people up where it was left, and reads one file at a time', async () => {
  const many = Array.from({ length: 3000 }, (_, at) => town(`Place ${at}`, '', 1, 1));
  const [one, other] = await Promise.all([
    begin([...many, town('Millrace', '', 20, 20)]),
    begin([...many, town('Millrace', '', 30, 30)]),
  ]);
  expect([one.status, other.status].sort()).toEqual([200, 409]);
  const lat = one.status === 200 ? 20 : 30;
  await placed();
  expect([(await about()).towns, await near(lat, lat, 1)]).toEqual([3001, 2]);
  // As a crash leaves it.
  await server.database.db.execute(sql`update contacts set lat = null, lon = null`);
  await server.database.db.execute(sql`insert into placings values (1, 0, 0)`);
  await placed();
  expect(await near(lat, lat, 1)).toBe(2);
});
