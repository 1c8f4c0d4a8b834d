// Before a file comes in: what the look says is what the import does; rows are mended by hand; nothing is changed by looking.
import fc from 'fast-check';
import { sql } from 'drizzle-orm';
import { execute } from '../platform/database.js';
import { beginImport, importPeople } from '../testing/round.js';
import { startTestServer, until, type Reply, type TestServer } from '../testing/server.js';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
}, 60_000);
afterAll(() => server.stop());

type Body = Record<string, unknown>;
interface Looked extends Body {
  readonly look: {
    readonly isCurrent: boolean;
    readonly counts: {
      readonly outcomes: Readonly<Record<string, number>>;
      readonly look: number;
      readonly mended: number;
      readonly doNotMail: number;
      readonly fields: readonly { field: string; changed: number; filled: number }[];
      readonly newTags: readonly { name: string; rows: number; alike: number | null }[];
      readonly unknownOwners: readonly { name: string; rows: number }[];
    };
  };
  readonly plan: Body;
  readonly rows: number;
  readonly planVersion: number;
}

async function upload(contents: string | Buffer, name = 'list.csv'): Promise<string> {
  const reply = await server.call('POST', `/api/imports?name=${name}`, contents, {
    headers: { 'content-type': 'application/octet-stream' },
  });
  if (reply.status !== 201) throw new Error(reply.text);
  return `/api/imports/${reply.body['id'] as number}`;
}
const seen = async (path: string): Promise<Looked> => {
  await until(
    'the look',
    async () => ((await server.call('GET', path)).body as Looked).look.isCurrent,
  );
  return (await server.call('GET', path)).body as Looked;
};
const say = async (path: string, said: Body): Promise<Reply> => {
  const { plan, planVersion: version } = (await server.call('GET', path)).body as Looked;
  return server.call('PUT', `${path}/plan`, { ...plan, version, ...said });
};
const done = async (path: string): Promise<Body> => {
  await until('the import', async () => (await server.call('GET', path)).body['state'] === 'done');
  return (await server.call('GET', path)).body;
};
interface Row {
  readonly row: number;
  readonly line: number;
  readonly outcome: string;
  readonly contact: number | null;
  readonly sameAs: number | null;
  readonly isLook: boolean;
  readonly isMended: boolean;
  readonly cells: readonly string[];
  readonly problems: readonly {
    readonly kind: string;
    readonly at: number | null;
    readonly words: string;
    readonly offers: readonly Body[];
  }[];
  readonly was: Readonly<Record<string, string>>;
}
const rowsOf = async (path: string, part: string, from = 0): Promise<readonly Row[]> =>
  (await server.call('GET', `${path}/rows?part=${part}&from=${from}`)).body['rows'] as Row[];
const person = async (q: string): Promise<Body> =>
  (
    (await server.call('GET', `/api/people?q=${encodeURIComponent(q)}`)).body['rows'] as Body[]
  )[0] ?? {};
const changes = async (): Promise<number> =>
  (
    await execute<{ n: number }>(
      server.database.db,
      sql`select (select count(*) from contacts)::int + (select sum(version) from contacts)::int + (select count(*) from change_sets)::int as n`,
    )
  ).rows[0]?.n ?? 0;

it('says what the import then does, and changes nothing by looking', async () => {
  await importPeople(
    server,
    'email,first name,town,external number\nada@example.com,Ada,Tarn,1\nben@example.com,Ben,,2\n',
  );
  const cell = (...texts: string[]) => fc.constantFrom(...texts);
  const rows = fc.array(
    fc.tuple(
      cell(
        'ada@example.com',
        'Ada@Example.com',
        'ben@example.com',
        'new@x.example',
        'cy@x.example',
        'dee@x.example',
        'no',
        '',
        'a@@x.example',
      ),
      cell('', 'Ada', 'Ben', 'Adele'),
      cell('', 'Tarn', 'Ashby'),
      cell('', '', '1', '2', '3', '4'),
      cell('', 'choir', 'old, choir'),
    ),
    { minLength: 1, maxLength: 12 },
  );
  await fc.assert(
    fc.asyncProperty(
      rows,
      fc.constantFrom('address', 'external number'),
      fc.constantFrom('replace', 'fill', 'leave'),
      async (file, matching, way) => {
        const lines = file.map((row) => row.map((text) => `"${text}"`).join(','));
        const path = await upload(`email,first name,town,number,tags\n${lines.join('\n')}\n`);
        const before = await changes();
        const { plan } = await seen(path);
        const mapping = (plan['mapping'] as Body[]).map((target) =>
          target['field'] === 'town' ? { ...target, way } : target,
        );
        expect(
          (await say(path, { matching, mapping, permission: 'customer', source: 'x' })).status,
        ).toBe(200);
        const { look } = await seen(path);
        expect(await changes()).toBe(before);
        expect(
          (await beginImport(server, path, { permission: 'customer', source: 'x' })).status,
        ).toBe(204);
        const after = await done(path);
        const { outcomes } = look.counts;
        expect(outcomes).toEqual({
          new: after['newCount'],
          changed: after['changedCount'],
          unchanged: after['unchangedCount'],
          refused: after['refusedCount'],
          again: after['againCount'],
          elsewhere: 0,
          out: 0,
        });
      },
    ),
    { numRuns: 9 },
  );
}, 120_000);

it('takes whatever bytes a file is made of: an answer with words, every row accounted for, nothing lost', async () => {
  const sign = fc.constantFrom(
    ...['a', '@', '.', 'é', '\u202e', '\u0000', '😀', ' ', "'", '=', '\u0301', '\ufeff', '\ufffd'],
    ...['"', '""', ',', ';', '\t', '\n', '\r', '\r\n', 'x@y.example', 'email', '\n1,2', '<b>'],
  );
  const text = fc.array(sign, { maxLength: 120 }).map((signs) => Buffer.from(signs.join('')));
  const table = fc
    .array(
      fc.array(sign, { maxLength: 6 }).map((signs) => signs.join('')),
      { maxLength: 20 },
    )
    .map((cells) => Buffer.from(`email,first name,tags\n${cells.join(',')}\nx@fuzz.example,"`));
  const bytes = fc.uint8Array({ maxLength: 200 }).map((one) => Buffer.from(one));
  await fc.assert(
    fc.asyncProperty(fc.oneof(text, table, bytes), async (contents) => {
      const reply = await server.call('POST', '/api/imports?name=x.xlsx', contents, {
        headers: { 'content-type': 'application/octet-stream' },
      });
      if (reply.status !== 201) {
        expect([400, 413, 415, 422]).toContain(reply.status);
        expect(reply.body['type']).toMatch(/^\/problems\/(?:any|intake)\//);
        expect(reply.body['detail']).toEqual(expect.any(String));
        return;
      }
      const path = `/api/imports/${reply.body['id'] as number}`;
      const { look, rows } = await seen(path);
      const sum = Object.values(look.counts.outcomes).reduce((all, one) => all + one, 0);
      expect(sum).toBe(rows);
      const begun = await beginImport(server, path);
      if (begun.status !== 204) return expect(begun.status).toBe(422);
      const after = await done(path);
      expect(after).toMatchObject({
        cursor: rows,
        newCount: look.counts.outcomes['new'],
        refusedCount: look.counts.outcomes['refused'],
      });
    }),
    { numRuns: 40 },
  );
}, 120_000);

it('cuts no sign in two, wherever a text is cut', async () => {
  const rows = [39, 40, 59, 60, 79, 80, 119, 199, 200].map((length, at) => {
    const text = `${'x'.repeat(length)}😀😀${'y'.repeat(200)}`;
    return `cut${at}@signs.example,${text},${text},${text}`;
  });
  const path = await upload(
    `email,stage,tags,phone${'😀'.repeat(150)}\n${rows.join('\n')}\n`,
    `${'n'.repeat(119)}😀.csv`,
  );
  const { look, plan } = await seen(path);
  expect(look.counts).toMatchObject({ look: 9 });
  const mapping = [...(plan['mapping'] as Body[]).slice(0, 3), { to: 'field', field: 'phone' }];
  await beginImport(server, path, { mapping });
  expect(await done(path)).toMatchObject({ newCount: 9, doubtedCount: 9 });
  expect((await server.call('GET', `${path}/refused`)).status).toBe(200);
});

it('lets two bring the same people at once: each is there once, and every row is accounted for', async () => {
  const list = (town: string): string =>
    `email,town\n${Array.from({ length: 900 }, (_, at) => `twin${at}@once.example,${town}`).join('\n')}\n`;
  const paths = await Promise.all([upload(list('Tarn')), upload(list('Ashby'))]);
  await Promise.all(
    paths.map(async (path) => expect((await beginImport(server, path)).status).toBe(204)),
  );
  const [one, other] = await Promise.all(paths.map(done));
  const count = (body: Body | undefined, key: string): number => Number(body?.[key]);
  expect(count(one, 'newCount') + count(other, 'newCount')).toBe(900);
  expect(count(one, 'changedCount') + count(other, 'changedCount')).toBe(900);
  const { body } = await server.call('GET', '/api/people/summary?q=once.example');
  expect(body['total']).toBe(900);
});

describe('rows that are to be looked at', () => {
  const list =
    'email,first name,town,member until,tags\n' +
    'aenne@@look.example,Änne,Tarn,,guest\n' +
    'teo@look.example,Teodor,Tarn,04/05/2027,\n' +
    ',ona@look.example,Tarn,,\n' +
    'fine@look.example,Fine,Tarn,,\n' +
    'teo@look.example,Teodor,Ashby,,\n' +
    'odd@look.example,Odd,Tarn,never,\n';
  let path: string;
  beforeAll(async () => {
    await server.call('POST', '/api/fields', { label: 'member until', type: 'date' });
    path = await upload(list);
  });

  it('come with what is wrong and what would mend it', async () => {
    expect((await seen(path)).look.counts).toMatchObject({
      outcomes: { new: 3, refused: 2, again: 1 },
      look: 4,
      mended: 0,
    });
    const rows = await rowsOf(path, 'look');
    expect(rows).toMatchObject([
      {
        row: 1,
        line: 2,
        outcome: 'refused',
        problems: [{ kind: 'refused', at: 0, offers: [{ cells: { 0: 'aenne@look.example' } }] }],
      },
      {
        row: 2,
        outcome: 'new',
        problems: [
          { kind: 'doubt', at: 3, offers: [{ days: 'day first' }, { days: 'month first' }] },
        ],
      },
      {
        row: 3,
        outcome: 'refused',
        problems: [{ offers: [{ cells: { 0: 'ona@look.example', 1: '' } }] }],
      },
      { row: 6, outcome: 'new', problems: [{ kind: 'doubt', at: 3, offers: [] }] },
    ]);
    expect(await rowsOf(path, 'again')).toMatchObject([{ row: 5, sameAs: 2 }]);
  });

  it('are mended by hand, one by one, stay in sight, and can be put back', async () => {
    const mend = (row: number, body: Body) => server.call('POST', `${path}/rows/${row}`, body);
    expect((await mend(1, { cells: { 0: 'aenne@look.example' } })).status).toBe(204);
    // At once, before all rows are looked at again.
    expect((await rowsOf(path, 'look'))[0]).toMatchObject({
      outcome: 'new',
      isMended: true,
      isLook: false,
      problems: [],
      cells: ['aenne@look.example', 'Änne', 'Tarn', '', 'guest'],
    });
    expect((await mend(3, { cells: { 0: 'fine@look.example', 1: 'Ona' } })).status).toBe(204);
    expect((await mend(6, { isSeen: true })).status).toBe(204);
    expect((await seen(path)).look.counts).toMatchObject({
      // Row 4 is somebody of row 3 now.
      outcomes: { new: 4, refused: 0, again: 2 },
      look: 1,
      mended: 3,
    });
    expect((await rowsOf(path, 'look')).map(({ row, isLook }) => [row, isLook])).toEqual([
      [1, false],
      [2, true],
      [3, false],
      [6, false],
    ]);
    await mend(3, { back: true });
    await mend(4, { isOut: true });
    expect((await seen(path)).look.counts.outcomes).toMatchObject({ new: 3, refused: 1, out: 1 });
    expect(await rowsOf(path, 'out')).toMatchObject([{ row: 4 }]);
    for (const [row, body] of [
      [99, { isOut: true }],
      [0, { isOut: true }],
      [1, { cells: { 77: 'x' } }],
      [1, { cells: { x: 'x' } }],
      [1, { cells: { 0: 5 } }],
    ] as const)
      expect((await mend(row, body)).status).toBeGreaterThanOrEqual(400);
  });

  it('keep a word that was said of a whole column, and come in as they were mended', async () => {
    const { plan } = await seen(path);
    const mapping = (plan['mapping'] as Body[]).map((target, at) =>
      at === 3 ? { ...target, days: 'day first' } : target,
    );
    await say(path, { mapping });
    expect((await seen(path)).look.counts).toMatchObject({ look: 1 });
    expect((await beginImport(server, path)).status).toBe(204);
    expect(await done(path)).toMatchObject({
      newCount: 3,
      refusedCount: 1,
      outCount: 1,
      againCount: 1,
      doubtedCount: 1,
    });
    expect(await person('aenne@look')).toMatchObject({ givenName: 'Änne' });
    expect(await person('fine@look')).toEqual({});
    const { text } = await server.call('GET', `${path}/refused.csv`);
    expect(text).toContain(',ona@look.example,Tarn');
    const { rows } = await execute<{ n: number }>(
      server.database.db,
      sql`select count(*)::int as n from import_looks where import_id = ${Number(path.split('/').at(-1))}`,
    );
    expect(rows).toEqual([{ n: 0 }]);
    expect((await server.call('POST', `${path}/rows/1`, { isOut: true })).status).toBe(422);
    expect((await server.call('DELETE', path)).status).toBe(422);
  });

  it('all at once are left out, taken as they are, or put back', async () => {
    const all = await upload(
      `email,member until\nbad@@a.example,\nd1@all.example,soon\nd2@all.example,soon\nd3@all.example,\n`,
    );
    await seen(all);
    await server.call('POST', `${all}/take-as-they-are`);
    expect((await seen(all)).look.counts).toMatchObject({
      look: 1,
      mended: 2,
      outcomes: { new: 3 },
    });
    await server.call('POST', `${all}/leave-out`);
    expect((await seen(all)).look.counts).toMatchObject({ look: 0, outcomes: { out: 1, new: 3 } });
    await server.call('POST', `${all}/unmend`);
    expect((await seen(all)).look.counts).toMatchObject({
      look: 3,
      mended: 0,
      outcomes: { out: 0 },
    });
  });
});

it('shows what changes in whom, whose address stays on do not mail, and who may be meant', async () => {
  await importPeople(
    server,
    'email,first name,last name,town,postcode\nmay@what.example,May,Heron,Tarn,QW1\njuno@what.example,Juno,Tarn,,QW2\n',
  );
  const kept = await person('juno@what');
  const stop = await server.call('POST', `/api/people/${kept['id'] as number}/do-not-mail`, {
    put: true,
    note: 'asked by phone',
  });
  expect(stop.status).toBeLessThan(300);
  const path = await upload(
    'email,first name,last name,town,postcode\nmay@what.example,May,Heron,Ashby,QW1\njuno@what.example,Juno,Tarn,Millrace,QW2\nmay.heron@other.example,May,Heron,,qw1\n',
  );
  const { look } = await seen(path);
  expect(look.counts).toMatchObject({
    outcomes: { changed: 2, new: 1 },
    doNotMail: 1,
    look: 1,
    fields: [{ field: 'town', changed: 1, filled: 1 }],
  });
  const changed = await rowsOf(path, 'changed');
  expect(changed.map(({ was }) => was)).toEqual([{ 3: 'Tarn' }, { 3: '' }]);
  expect(changed[1]?.problems).toMatchObject([
    { kind: 'hint', words: 'on do not mail, and stays there' },
  ]);
  const [perhaps] = await rowsOf(path, 'look');
  const [offer] = perhaps?.problems[0]?.offers ?? [];
  const may = await person('may@what');
  expect(offer).toMatchObject({ person: may['id'] });
  // Never unasked: somebody has to say so, and then the address comes on top of theirs.
  await server.call('POST', `${path}/rows/3`, { person: may['id'] });
  expect((await seen(path)).look.counts.outcomes).toMatchObject({ changed: 2, new: 0, again: 1 });
  await beginImport(server, path);
  await done(path);
  const { body } = await server.call('GET', `/api/people/${may['id'] as number}`);
  expect(JSON.stringify(body)).toContain('may.heron@other.example');
});

it('asks who is meant by an owner nobody knows, and what a new tag stands for', async () => {
  const { body: vocabulary } = await server.call('GET', '/api/vocabulary');
  const owners = vocabulary['owners'] as { key: string; label: string }[];
  const me = owners[0];
  const tag = (await server.call('POST', '/api/tags', { name: 'glass house', colour: 'plum' }))
    .body;
  const path = await upload(
    `email,kept by,tags\na@own.example,Jonah,glass houses\nb@own.example,${me?.label ?? ''},glass houses; brand new\nc@own.example,jonah,\n`,
  );
  const first = (await seen(path)).look.counts;
  expect(first.unknownOwners).toEqual([{ name: 'Jonah', rows: 2 }]);
  expect(first.newTags).toEqual([
    { name: 'glass houses', rows: 2, alike: tag['id'] },
    { name: 'brand new', rows: 1, alike: null },
  ]);
  expect(first.look).toBe(2);
  expect((await say(path, { owners: [{ name: 'Jonah', userId: 9999 }] })).status).toBe(422);
  await say(path, {
    owners: [{ name: 'Jonah', userId: Number(me?.key) }],
    tagsMeant: [
      { name: 'Glass Houses', tag: tag['id'] },
      { name: 'brand new', tag: null },
    ],
  });
  const second = (await seen(path)).look.counts;
  expect(second).toMatchObject({ look: 0, unknownOwners: [], newTags: [] });
  await beginImport(server, path);
  await done(path);
  expect(await person('a@own')).toMatchObject({ tags: [tag['id']] });
  const { body: after } = await server.call('GET', '/api/vocabulary');
  expect((after['tags'] as { name: string }[]).map(({ name }) => name)).not.toContain('brand new');
});

it('says of a column that is none of tags what becomes of its names', async () => {
  await importPeople(server, 'email,tags\nfirst@names.example,\n');
  const names = Array.from({ length: 130 }, (_, at) => `${at}@names.example,Nobody ${at}`);
  const path = await upload(`email,tags\n${names.join('\n')}\nfirst@names.example,Nobody 120\n`);
  const { counts } = (await seen(path)).look;
  expect(counts).toMatchObject({ look: 31, outcomes: { new: 130, unchanged: 1 } });
  expect(counts.newTags).toHaveLength(100);
  await beginImport(server, path);
  expect(await done(path)).toMatchObject({ newCount: 130, unchangedCount: 1, doubtedCount: 31 });
});

it('gives new people what was said of the whole list, and nobody who is here', async () => {
  await importPeople(server, 'email\nold@fixed.example\n');
  const path = await upload(
    'email,closeness\nold@fixed.example,\nnew@fixed.example,\nown@fixed.example,close\n',
  );
  expect((await say(path, { fixed: { closeness: 'nonsense' } })).status).toBe(422);
  expect((await say(path, { fixed: { address: 'x' } })).status).toBe(422);
  expect((await say(path, { fixed: { closeness: 'distant' } })).status).toBe(200);
  await beginImport(server, path);
  await done(path);
  const closeness = async (q: string): Promise<unknown> => {
    const { id } = await person(q);
    const { body } = await server.call('GET', `/api/people/${id as number}`);
    return (
      (body['fields'] as { field: { key: string }; value: unknown }[]).find(
        ({ field }) => field.key === 'closeness',
      )?.value ?? null
    );
  };
  expect([
    await closeness('old@fixed'),
    await closeness('new@fixed'),
    await closeness('own@fixed'),
  ]).toEqual([null, 'distant', 'close']);
});

it('is kept as it is said, tells two tabs apart, and is thrown away with its file', async () => {
  const path = await upload('email,town\nx@tabs.example,Tarn\n');
  const { plan, planVersion: version } = await seen(path);
  const put = (said: Body) => server.call('PUT', `${path}/plan`, { ...plan, version, ...said });
  expect((await put({ source: 'here' })).status).toBe(200);
  const other = await put({ source: 'there' });
  expect([other.status, (other.body['current'] as Looked['look'] & Body)['plan']]).toMatchObject([
    409,
    { source: 'here' },
  ]);
  const { body } = await server.call('GET', path);
  // Nothing of it decides over a row: there is nothing to look at again.
  expect(body).toMatchObject({ plan: { source: 'here' }, look: { isCurrent: true, version: 1 } });
  expect((await server.call('DELETE', path)).status).toBe(204);
  expect((await server.call('GET', path)).status).toBe(404);
  expect((await server.call('POST', `${path}/start`, { version })).status).toBe(404);
  expect((await server.call('POST', `${path}/restore`)).status).toBe(204);
  expect((await server.call('POST', `${path}/restore`)).status).toBe(404);
  expect((await server.call('GET', path)).body['plan']).toMatchObject({ source: 'here' });
  // A day later it is forgotten, with all that came of it; so is what nobody brought in for a month.
  await server.call('DELETE', path);
  const old = await upload('email\nold@tabs.example\n');
  await seen(old);
  const { db } = server.database;
  const keys = [path, old].map((one) => Number(one.split('/').at(-1)));
  await execute(
    db,
    sql`update imports set finished_at = now() - interval '25 hours' where id = ${keys[0]}`,
  );
  await execute(
    db,
    sql`update imports set created_at = now() - interval '31 days' where id = ${keys[1]}`,
  );
  await execute(db, sql`insert into pgboss.job (name, data) values ('upkeep', '{"id":0}')`);
  await until('both to be forgotten', async () => {
    const { rows } = await execute<{ n: number }>(
      db,
      sql`select (select count(*) from imports where id = any(${sql.param(keys)}::int[]))::int + (select count(*) from import_looks where import_id = any(${sql.param(keys)}::int[]))::int
        + (select count(*) from files where created_at > now() - interval '1 hour' and id not in (select file_id from imports))::int as n`,
    );
    return rows[0]?.n === 0;
  });
});

it('begins anew when something else is said meanwhile, and ends with the last word', async () => {
  const path = await upload(
    `email,town\n${Array.from({ length: 6000 }, (_, at) => `p${at}@long.example,Tarn`).join('\n')}\n`,
  );
  const town = (way?: string) => ({
    mapping: [
      { to: 'field', field: 'address' },
      { to: 'field', field: 'town', ...(way ? { way } : {}) },
    ],
  });
  for (const way of ['fill', 'leave', 'replace'])
    expect((await say(path, town(way))).status).toBe(200);
  await say(path, { mapping: [{ to: 'field', field: 'address' }, { to: 'nothing' }] });
  const { look } = await seen(path);
  expect(look).toMatchObject({ version: 5, counts: { outcomes: { new: 6000 } } });
  const { rows } = await execute<{ versions: number; n: number }>(
    server.database.db,
    sql`select count(distinct version)::int as versions, count(*)::int as n from import_looks where import_id = ${Number(path.split('/').at(-1))}`,
  );
  expect(rows).toEqual([{ versions: 1, n: 6000 }]);
  expect((await rowsOf(path, 'new', 5950)).map(({ row }) => row)).toEqual(
    Array.from({ length: 50 }, (_, at) => 5951 + at),
  );
  await server.call('DELETE', path);
}, 60_000);

it('offers tags and fields that only a taken-back import made', async () => {
  const path = await upload(
    'email,colour,tags\nl@left.example,red,only here; shared\nm@left.example,,shared\n',
  );
  const field = (await server.call('POST', '/api/fields', { label: 'colour', type: 'text' })).body;
  await seen(path);
  await beginImport(server, path, {
    mapping: [
      { to: 'field', field: 'address' },
      { to: 'field', field: field['key'] },
      { to: 'tags' },
    ],
    fieldsMade: [field['key']],
  });
  await done(path);
  const left = async (): Promise<Body> => (await server.call('GET', `${path}/leftovers`)).body;
  expect(await left()).toEqual({ tags: [], fields: [] });
  // Somebody had to do with one of them: they stay, and their tag is in use.
  const { id, version } = (
    await server.call('GET', `/api/people/${(await person('m@left'))['id'] as number}`)
  ).body;
  await server.call('PATCH', `/api/people/${id as number}`, { version, values: { town: 'Tarn' } });
  await server.call('POST', `${path}/take-back`);
  await until(
    'it to be taken back',
    async () =>
      ((await server.call('GET', path)).body['takenBack'] as { isDone: boolean } | null)?.isDone ===
      true,
  );
  expect(await left()).toMatchObject({
    tags: [{ name: 'only here' }],
    fields: [{ label: 'colour' }],
  });
  expect((await server.call('DELETE', `${path}/leftovers`)).status).toBe(204);
  await until('the tag to go', async () => {
    const { body } = await server.call('GET', '/api/vocabulary');
    return !(body['tags'] as { name: string }[]).some(({ name }) => name === 'only here');
  });
  expect(await left()).toEqual({ tags: [], fields: [] });
});
