// Whatever stands in a file: people are what its rows say one after another, every row is accounted for, and taking
// the import back leaves everything as it was.
import fc from 'fast-check';
import { sql } from 'drizzle-orm';
import { execute } from '../platform/database.js';
import { beginImport, importPeople } from '../testing/round.js';
import { startTestServer, until, type TestServer } from '../testing/server.js';
import { underWatch } from '../testing/watchdog.js';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
}, 60_000);
afterAll(() => server.stop());

interface Person extends Record<string, unknown> {
  readonly address_key: string;
  readonly given_name: string;
  readonly town: string | null;
  readonly permission: string;
  readonly tags: readonly number[] | null;
}

async function everybody(): Promise<Person[]> {
  const { rows } = await execute<Person>(
    server.database.db,
    sql`
    select c.address_key, c.given_name, c.town, c.permission, (select array_agg(tag_id order by tag_id) from contact_tags t where t.contact_id = c.id) as tags
    from contacts c where c.deleted_at is null order by c.address_key`,
  );
  return rows;
}

interface Row {
  readonly address: string;
  readonly given: string;
  readonly town: string;
}

const someRows = fc
  .array(
    fc.record({
      address: fc.oneof(
        {
          arbitrary: fc
            .constantFrom('ada', 'Ada', 'ben', 'cora', 'dora')
            .map((name) => `${name}@example.com`),
          weight: 6,
        },
        {
          arbitrary: fc.constantFrom('', 'nobody', 'a@b@c.example', 'two words@example.com'),
          weight: 1,
        },
      ),
      given: fc.constantFrom('', '', 'Ada', 'Adele', 'Ben, the elder', '"Quoted"'),
      town: fc.constantFrom('', 'Ashby', 'Tarn', '  Tarn  '),
    }),
    { minLength: 1, maxLength: 14 },
  )
  // A line of empty cells is no row, and a file needs one.
  .map((rows) => rows.filter(({ address, given, town }) => address + given + town !== ''))
  .filter((rows) => rows.length > 0);

const cell = (text: string): string => `"${text.replaceAll('"', '""')}"`;
const fileOf = (rows: readonly Row[]): string =>
  `email,first name,town\n${rows.map((row) => [row.address, row.given, row.town].map(cell).join(',')).join('\n')}\n`;
const isGood = ({ address }: Row): boolean => /^\w+@example\.com$/.test(address);

const order = ['unknown', 'customer', 'asked'];
/** What people should be: empty cells say nothing, a permission is never weakened. */
function model(before: readonly Person[], rows: readonly Row[], permission: string): Person[] {
  const people = new Map(before.map((person) => [person.address_key, person]));
  for (const row of rows.filter(isGood)) {
    const key = row.address.toLowerCase();
    const was = people.get(key) ?? {
      address_key: key,
      given_name: '',
      town: null,
      permission: 'unknown',
      tags: null,
    };
    people.set(key, {
      ...was,
      given_name: row.given || was.given_name,
      town: row.town.trim() || was.town,
      permission:
        order.indexOf(permission) > order.indexOf(was.permission) ? permission : was.permission,
    });
  }
  return [...people.values()].sort((a, b) => (a.address_key < b.address_key ? -1 : 1));
}

it('makes of people what the rows say, and takes it back without a trace', async () => {
  await fc.assert(
    fc.asyncProperty(
      someRows,
      someRows,
      fc.constantFrom('asked', 'customer', 'unknown'),
      async (first, second, permission) => {
        await importPeople(server, fileOf(first), 'customer');
        const before = await everybody();
        const id = await importPeople(server, fileOf(second), permission);
        expect(await everybody()).toEqual(model(before, second, permission));

        const { body } = await server.call('GET', `/api/imports/${id}`);
        const known = new Set(before.map(({ address_key }) => address_key));
        const good = second.filter(isGood);
        expect(body).toMatchObject({
          cursor: second.length,
          refusedCount: second.length - good.length,
          newCount: new Set(
            good.map(({ address }) => address.toLowerCase()).filter((key) => !known.has(key)),
          ).size,
        });
        // Everybody once, and every further row of theirs beside it.
        const after = new Map((await everybody()).map((person) => [person.address_key, person]));
        const touched = new Set(good.map(({ address }) => address.toLowerCase()));
        const changed = before.filter(
          (person) =>
            touched.has(person.address_key) &&
            JSON.stringify(after.get(person.address_key)) !== JSON.stringify(person),
        ).length;
        expect(body).toMatchObject({
          changedCount: changed,
          unchangedCount: touched.size - (body.newCount as number) - changed,
          againCount: good.length - touched.size,
        });

        expect((await server.call('POST', `/api/imports/${id}/take-back`)).status).toBe(200);
        await until(
          'the import to be taken back',
          async () =>
            (await server.call('GET', `/api/imports/${id}`)).body.takenBack?.isDone === true,
        );
        expect(await everybody()).toEqual(before);
      },
    ),
    { numRuns: 12 },
  );
}, 120_000);

it('says of a mapping that can’t be what to do, and begins once', async () => {
  const { body } = await server.call(
    'POST',
    '/api/imports?name=x.csv',
    'email,first name,other\nnew@example.com,A,B\n',
    {
      headers: { 'content-type': 'text/csv' },
    },
  );
  const path = `/api/imports/${body.id as number}`;
  const field = (name: string) => ({ to: 'field', field: name });
  const nothing = { to: 'nothing' };
  const start = (mapping: unknown, more: Record<string, unknown> = {}) =>
    beginImport(server, path, { mapping, ...more });
  const cases: [unknown, Record<string, unknown>, RegExp][] = [
    [[field('address')], {}, /has 3 columns, not 1/],
    [[field('given_name'), nothing, nothing], {}, /which column holds the email address/],
    [[field('address'), field('town'), field('town')], {}, /Two columns would fill/],
    [[field('address'), field('own_99'), nothing], {}, /no longer exists/],
    [[field('address'), field('owner'), nothing], {}, /no longer exists/],
    [[field('address'), nothing, nothing], { source: '  ' }, /where and how these people agreed/],
    [[field('address'), nothing, nothing], { tagIds: [999] }, /tags no longer exists/],
  ];
  for (const [mapping, more, message] of cases) {
    const reply = await start(mapping, more);
    expect([reply.status, reply.body.detail]).toEqual([422, expect.stringMatching(message)]);
  }
  expect((await server.call('GET', path)).body.state).toBe('uploaded');
  const good = [field('address'), field('given_name'), nothing];
  const planned = await server.call('PUT', `${path}/plan`, {
    ...(await server.call('GET', path)).body.plan,
    version: (await server.call('GET', path)).body.planVersion as number,
    mapping: good,
    source: 'a list',
  });
  const version = planned.body['planVersion'] as number;
  const stale = await server.call('POST', `${path}/start`, { version: version - 1 });
  expect(stale.status).toBe(409);
  const begin = () => server.call('POST', `${path}/start`, { version });
  const both = await Promise.all([begin(), begin()]);
  expect(both.map(({ status }) => status).sort()).toEqual([204, 422]);
  await until('the import', async () => (await server.call('GET', path)).body.state === 'done');
  expect((await start(good)).status).toBe(422);
  expect((await server.call('POST', `${path}/cancel`)).status).toBe(422);
});

it('keeps of refused rows what can be looked at, and gives them back whole', async () => {
  const long = 'x'.repeat(150_000);
  const rows = Array.from(
    { length: 60 },
    (_, at) => `no address ${at},"${long}${at}",${'y'.repeat(50)}`,
  );
  const id = await importPeople(
    server,
    `email,note,"a header, with a comma"\nlong.one@example.com,short,z\n${rows.join('\n')}\n`,
  );
  const page = await server.call('GET', `/api/imports/${id}/refused`);
  expect(page.body.total).toBe(60);
  expect(page.body.rows.slice(0, 2)).toMatchObject([
    { row: 2, line: 3 },
    { row: 3, line: 4 },
  ]);
  expect(page.text.length).toBeLessThan(60 * 1000);
  const { rows: kept } = await execute<{ bytes: number }>(
    server.database.db,
    sql`select max(octet_length(cells::text)) as bytes from import_rows where import_id = ${id}`,
  );
  expect(kept[0]?.bytes).toBeLessThan(5000);
  const { text } = await server.call('GET', `/api/imports/${id}/refused.csv`);
  const lines = text.trimEnd().split('\n');
  expect(lines[0]).toBe('email,note,"a header, with a comma",what is wrong');
  expect(lines).toHaveLength(61);
  expect(lines[60]).toBe(
    `no address 59,${long}59,${'y'.repeat(50)},"an address needs one @, as in name@example.com"`,
  );
});

const mappingOf = (found: Record<string, unknown>): unknown =>
  (found['plan'] as { mapping: unknown }).mapping;

describe('what a row says beside fields', () => {
  const upload = async (csv: string): Promise<{ path: string; found: Record<string, unknown> }> => {
    const { body } = await server.call('POST', '/api/imports?name=odd.csv', csv, {
      headers: { 'content-type': 'text/csv' },
    });
    const path = `/api/imports/${body.id as number}`;
    return { path, found: (await server.call('GET', path)).body };
  };
  const bringIn = async (csv: string, mapping?: unknown) => {
    const { path, found } = await upload(csv);
    await beginImport(server, path, mapping ? { mapping } : {});
    await until('the import', async () => (await server.call('GET', path)).body.state === 'done');
    return { path, found, done: (await server.call('GET', path)).body };
  };
  const tagsOf = async (q: string): Promise<string[]> => {
    const { tags } = (await server.call('GET', '/api/vocabulary')).body as {
      tags: { id: number; name: string }[];
    };
    const { rows } = (await server.call('GET', `/api/people?q=${q}`)).body as {
      rows: { tags: number[] }[];
    };
    return (rows[0]?.tags ?? []).map((id) => tags.find((tag) => tag.id === id)?.name ?? '').sort();
  };

  it('puts tags on, those that are there and new ones, and takes them off with the import', async () => {
    await server.call('POST', '/api/tags', { name: 'V.I.P.', colour: 'plum' });
    const list =
      'email,Labels\ntagged.ada@example.com,vip; glass house | left\ntagged.bo@example.com,Glass  House\n';
    const { path, done } = await bringIn(list);
    expect(done).toMatchObject({ newCount: 2, doubtedCount: 1, refusedCount: 0 });
    expect(await tagsOf('tagged.ada')).toEqual(['V.I.P.', 'glass house']);
    expect(await tagsOf('tagged.bo')).toEqual(['glass house']);
    expect((await server.call('GET', `${path}/refused`)).body.rows).toMatchObject([
      { row: 1, isIn: true, reason: 'the tag “left” is set by itself, and was not put on' },
    ]);
    // Once more it changes nobody; with another tag, one.
    expect((await bringIn(list)).done).toMatchObject({ unchangedCount: 2, changedCount: 0 });
    const more = await bringIn(
      'email,Labels\ntagged.ada@example.com,press\ntagged.bo@example.com,\n',
    );
    expect(more.done).toMatchObject({ unchangedCount: 1, changedCount: 1 });
    await server.call('POST', `${more.path}/take-back`);
    await until(
      'it to be taken back',
      async () => (await server.call('GET', more.path)).body.takenBack?.isDone === true,
    );
    expect(await tagsOf('tagged.ada')).toEqual(['V.I.P.', 'glass house']);
  });

  it('makes no more than a hundred tags of a column that is none', async () => {
    const names = Array.from({ length: 130 }, (_, at) => `many.${at}@example.com,Name ${at}`);
    const { path, done } = await bringIn(`email,Groups\n${names.join('\n')}\n`);
    expect(done).toMatchObject({ newCount: 130, doubtedCount: 30 });
    const { rows } = (await server.call('GET', `${path}/refused`)).body;
    expect(rows[0].reason).toMatch(/“Name 100” was not put on: the file names more than 100/);
  });

  it('loses nobody for a cell that can’t be read, and gives the row back to be mended', async () => {
    const { path, done } = await bringIn(
      'email,phone,town\nodd.ada@example.com,by the gate,Ashby\nodd.bo@example.com,01632 960111,Tarn\nmaud@@example.com,,\n',
    );
    expect(done).toMatchObject({ newCount: 2, doubtedCount: 1, refusedCount: 1 });
    const { body } = await server.call('GET', '/api/people?q=odd.ada');
    expect(body.rows).toMatchObject([{ town: 'Ashby' }]);
    const look = (await server.call('GET', `${path}/refused`)).body;
    expect(look.total).toBe(2);
    expect(look.rows).toMatchObject([
      { line: 2, isIn: true, cells: ['odd.ada@example.com', 'by the gate', 'Ashby'] },
      { line: 4, isIn: false },
    ]);
    // Mended and brought again, its columns are known, and the one that says what was wrong fills nothing.
    const { text } = await server.call('GET', `${path}/refused.csv`);
    const mended = text.replace('by the gate', '01632 960222').replace('maud@@', 'maud@');
    const again = await bringIn(mended);
    expect(again.found['knownSince']).not.toBeNull();
    expect(mappingOf(again.found)).toMatchObject([
      { field: 'address' },
      { field: 'phone' },
      { field: 'town' },
      { to: 'nothing' },
    ]);
    expect(again.done).toMatchObject({ newCount: 1, changedCount: 1, doubtedCount: 0 });
  });

  it('reads a file as one of its shape was read, however it looks by itself', async () => {
    const said = [
      { to: 'field', field: 'address' },
      { to: 'tags' },
      { to: 'field', field: 'town' },
    ];
    await bringIn('Mail,Given,Surname\nshape.ada@example.com,choir,Ashby\n', said);
    const { found } = await upload('surname,MAIL,Given\nAshby,shape.bo@example.com,choir\n');
    expect(mappingOf(found)).toEqual([said[2], said[0], said[1]]);
    expect((await upload('Mail,Given\nshape.bo@example.com,Bo\n')).found).toMatchObject({
      knownSince: null,
      plan: { mapping: [{ field: 'address' }, { field: 'given_name' }] },
    });
  });
});

it('finds the header below titles or none at all, lets it be said, and numbers rows as the file does', async () => {
  const bring = async (csv: string) => {
    const { body } = await server.call('POST', '/api/imports?name=odd.csv', csv, {
      headers: { 'content-type': 'text/csv' },
    });
    return {
      path: `/api/imports/${body.id as number}`,
      found: (await server.call('GET', `/api/imports/${body.id as number}`)).body,
    };
  };
  const take = async (path: string): Promise<{ newCount: number; refusedCount: number }> => {
    expect((await beginImport(server, path)).status).toBe(204);
    await until('the import', async () => (await server.call('GET', path)).body.state === 'done');
    return (await server.call('GET', path)).body as { newCount: number; refusedCount: number };
  };
  const titled = await bring(
    'sep=;\nOur members;;\nas of May;;\nE-mail;First name;Town\ntitled.one@example.com;One;Tarn\nbroken;Two;Tarn\n',
  );
  expect(titled.found).toMatchObject({
    headerAt: 2,
    headers: ['E-mail', 'First name', 'Town'],
    rows: 2,
    separator: ';',
  });
  expect(titled.found.beginning[0]).toEqual(['Our members', '', '']);
  expect(await take(titled.path)).toMatchObject({ newCount: 1, refusedCount: 1 });
  expect(
    (await server.call('GET', `${titled.path}/refused.csv`)).text
      .trimEnd()
      .split('\n')
      .map((line) => line.split(';').slice(0, 3)),
  ).toEqual([
    ['E-mail', 'First name', 'Town'],
    ['broken', 'Two', 'Tarn'],
  ]);

  const bare = await bring('bare.one@example.com,One\nbare.two@example.com,Two\nbroken,Three\n');
  expect(bare.found).toMatchObject({ headerAt: null, headers: ['', ''], rows: 3 });
  const said = (headerAt: number | null) =>
    server.call('POST', `${bare.path}/reading`, { encoding: 'utf-8', separator: ',', headerAt });
  expect((await said(0)).status).toBe(204);
  expect((await server.call('GET', bare.path)).body).toMatchObject({ headerAt: 0, rows: 2 });
  expect((await said(7)).status).toBe(422);
  expect((await said(null)).status).toBe(204);
  expect(await take(bare.path)).toMatchObject({ newCount: 2, refusedCount: 1 });
  expect((await server.call('GET', `${bare.path}/refused.csv`)).text.trimEnd()).toMatch(
    /^broken,Three,/,
  );
});

it('takes a file of megabytes in and answers others meanwhile', async () => {
  const cell = 'z'.repeat(400);
  const csv = `email,note\n${Array.from({ length: 20_000 }, (_, at) => `wide${at % 3},"${cell} ${at}"`).join('\n')}\n`;
  await underWatch(server.url, 'an upload of 9 MB', async () => {
    expect(
      (
        await server.call('POST', '/api/imports?name=wide.csv', csv, {
          headers: { 'content-type': 'text/csv' },
        })
      ).status,
    ).toBe(201);
  });
});

it('can be stopped, keeps what is in, and takes that back', async () => {
  const before = await everybody();
  const rows = 30_000;
  const { body } = await server.call(
    'POST',
    '/api/imports?name=long.csv',
    `email\n${Array.from({ length: rows }, (_, at) => `long${at}@example.com`).join('\n')}\n`,
    { headers: { 'content-type': 'text/csv' } },
  );
  const path = `/api/imports/${body.id as number}`;
  await beginImport(server, path);
  await until(
    'some rows',
    async () => ((await server.call('GET', path)).body.cursor as number) > 0,
  );
  expect((await server.call('POST', `${path}/cancel`)).status).toBe(204);
  const { body: stopped } = await server.call('GET', path);
  expect(stopped.state).toBe('cancelled');
  expect(stopped.cursor).toBeLessThan(rows);
  expect(await everybody()).toHaveLength(before.length + (stopped.newCount as number));
  await server.call('POST', `${path}/take-back`);
  await until(
    'the import to be taken back',
    async () => (await server.call('GET', path)).body.takenBack?.isDone === true,
    60_000,
  );
  expect(await everybody()).toEqual(before);
}, 120_000);
