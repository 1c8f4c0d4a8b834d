// Changes: written down, taken back, and what has changed since is left alone and named.
import { readFileSync } from 'node:fs';
import { sql } from 'drizzle-orm';
import { execute } from '../../platform/database.js';
import type { Jobs } from '../../platform/jobs.js';
import type { Foreground } from '../../platform/stride.js';
import { Upkeep } from '../../platform/upkeep.js';
import { beginImport, importPeople } from '../../testing/round.js';
import { nameChoices } from '../../testing/fields.js';
import { startTestServer, until, type TestServer } from '../../testing/server.js';
import { forgetItems } from './changes.store.js';

let server: TestServer;
let tag = 0;
beforeAll(async () => {
  server = await startTestServer();
  tag = (await server.call('POST', '/api/tags', { name: 'guest', colour: 'moss' })).body
    .id as number;
}, 60_000);
afterAll(() => server.stop());

const find = async (q: string) =>
  (await server.call('GET', `/api/people?q=${q}`)).body.rows[0] as {
    id: number;
    givenName: string;
    town: string | null;
  };
const version = async (id: number): Promise<number> =>
  (await server.call('GET', `/api/people/${id}`)).body.version as number;
const set = async (id: number, values: Record<string, string>): Promise<number> =>
  (await server.call('PATCH', `/api/people/${id}`, { version: await version(id), values })).body
    .changeSet as number;
const undo = (id: number) => server.call('POST', `/api/changes/${id}/undo`);
const total = async (query: string): Promise<number> =>
  (await server.call('GET', `/api/people/summary?${query}`)).body.total as number;

it('takes back fields, and leaves alone and names what has changed since', async () => {
  await importPeople(
    server,
    'email,first name,town\nada@example.com,Ada,Ashby\nben@example.com,Ben,Tarn\n',
  );
  const { id } = await find('ada');
  const first = await set(id, { given_name: 'Adele', town: 'Mere' });
  const second = await set(id, { town: 'Lake' });
  const { body: undone } = await undo(first);
  expect(undone).toMatchObject({ kind: 'undo', count: 1, leftAlone: 0, isDone: true });
  expect(await find('ada')).toMatchObject({ givenName: 'Ada', town: 'Lake' });
  // The first was taken back before: what was there before both of them is there again.
  await undo(second);
  expect(await find('ada')).toMatchObject({ town: 'Ashby' });
  const third = await set(id, { town: 'North' });
  await set(id, { town: 'South' });
  const { body: left } = await undo(third);
  expect(left).toMatchObject({ count: 0, leftAlone: 1 });
  const { body: named } = await server.call(
    'GET',
    `/api/people?of=change.${left.id as number}.left-alone`,
  );
  expect(named.rows.map((row: { id: number }) => row.id)).toEqual([id]);
  expect((await undo(third)).status).toBe(422);
  // What changed nobody can be taken back, too, and what it took back can be taken back again.
  expect((await undo(left.id as number)).status).toBe(200);
  expect((await undo(third)).body).toMatchObject({ count: 0, leftAlone: 1 });
});

it('leaves alone, whole, whose address somebody else has meanwhile, and names them', async () => {
  await importPeople(server, 'email,first name\nold.home@example.com,Odo\n');
  const { id } = await find('old.home');
  const moved = await set(id, { address: 'new.home@example.com', given_name: 'Otto' });
  expect(
    (
      await server.call('POST', '/api/people', {
        values: { address: 'old.home@example.com' },
        permission: 'asked',
        source: 'x',
      })
    ).status,
  ).toBe(201);
  const { body: undone } = await undo(moved);
  expect(undone).toMatchObject({ count: 0, leftAlone: 1, isDone: true });
  expect(await find('new.home')).toMatchObject({ id, givenName: 'Otto' });
  const { body: named } = await server.call(
    'GET',
    `/api/people?of=change.${undone.id as number}.left-alone`,
  );
  expect(named.rows.map((row: { id: number }) => row.id)).toEqual([id]);
  expect((await server.call('GET', '/api/standstills')).body).toEqual([]);
});

it('takes a person back who was added by hand, unless somebody has worked on them', async () => {
  const add = async (name: string) => {
    await server.call('POST', '/api/people', {
      values: { given_name: name, address: `${name}@example.com` },
      permission: 'asked',
      source: 'x',
    });
    const { changes } = (await server.call('GET', '/api/changes')).body as {
      changes: { id: number; what: string; canUndo: boolean }[];
    };
    expect(changes[0]).toMatchObject({ what: 'added by hand', canUndo: true });
    return changes[0]?.id ?? 0;
  };
  expect((await undo(await add('cora'))).body).toMatchObject({ count: 1 });
  expect(await total('q=cora')).toBe(0);
  const change = await add('dora');
  await set((await find('dora')).id, { town: 'Mere' });
  expect((await undo(change)).body).toMatchObject({ count: 0, leftAlone: 1 });
  expect(await total('q=dora')).toBe(1);
});

it('takes an import back from the log as from its own page', async () => {
  const id = await importPeople(
    server,
    'email,town\nada@example.com,Elsewhere\nnew@example.com,Newtown\n',
  );
  const { changes } = (await server.call('GET', '/api/changes')).body as {
    changes: { id: number; kind: string; by: string; count: number }[];
  };
  expect(changes[0]).toMatchObject({ kind: 'import', by: 'Ines', count: 2 });
  await undo(changes[0]?.id ?? 0);
  await until(
    'the import to be taken back',
    async () => (await server.call('GET', `/api/imports/${id}`)).body.takenBack?.isDone === true,
  );
  expect((await server.call('POST', `/api/imports/${id}/take-back`)).status).toBe(422);
  expect(await find('ada')).toMatchObject({ town: 'South' });
  expect(await total('q=new@example')).toBe(0);
});

it('says beforehand who goes with an import, keeps whom somebody has had to do with, and takes its taking back back', async () => {
  const hand = (await server.call('POST', '/api/tags', { name: 'by hand', colour: 'plum' })).body
    .id as number;
  const own = (await server.call('POST', '/api/tags', { name: 'with the list', colour: 'sky' }))
    .body.id as number;
  const { body: uploaded } = await server.call(
    'POST',
    '/api/imports?name=fair.csv',
    `email,town\n${['plain', 'tagged', 'edited', 'undone'].map((name) => `${name}.fair@example.com,Fairtown`).join('\n')}\nada@example.com,Fairtown\n`,
    { headers: { 'content-type': 'text/csv' } },
  );
  const path = `/api/imports/${uploaded.id as number}`;
  await beginImport(server, path, { source: 'a fair', tagIds: [own] });
  await until('the import', async () => (await server.call('GET', path)).body.state === 'done');
  await server.call('POST', '/api/tagging', { people: { q: 'tagged.fair' }, tag: hand, put: true });
  await set((await find('edited.fair')).id, { town: 'Elsewhere' });
  // Changed and changed back by an undo: nobody has had to do with them any more.
  await undo(await set((await find('undone.fair')).id, { town: 'Elsewhere' }));

  expect((await server.call('GET', `${path}/take-back`)).body).toEqual({
    go: 2,
    stay: 2,
    changed: 1,
    changedSince: 0,
  });
  await set((await find('ada')).id, { street: '3 Mill Lane' });
  for (const [part, count] of [
    ['would-go', 2],
    ['would-stay', 2],
    ['changed-since', 1],
  ] as const)
    expect(await total(`of=import.${uploaded.id as number}.${part}`)).toBe(count);
  await server.call('POST', `${path}/take-back`);
  const takenBack = async () =>
    (await server.call('GET', path)).body.takenBack as {
      changeSet: number;
      count: number;
      leftAlone: number;
      isDone: boolean;
    } | null;
  await until('the taking back', async () => (await takenBack())?.isDone === true);
  const first = await takenBack();
  expect(first).toMatchObject({ count: 3, leftAlone: 2 });
  const { body: named } = await server.call(
    'GET',
    `/api/people?of=change.${first?.changeSet ?? 0}.left-alone`,
  );
  expect((named.rows as { address: string }[]).map(({ address }) => address).sort()).toEqual([
    'edited.fair@example.com',
    'tagged.fair@example.com',
  ]);
  expect([await total('q=plain.fair'), await total('q=tagged.fair')]).toEqual([0, 1]);

  // Somebody else takes one of the addresses meanwhile; the other is there again as they were.
  await server.call('POST', '/api/people', {
    values: { address: 'undone.fair@example.com' },
    permission: 'asked',
    source: 'x',
  });
  const { body: again } = await undo(first?.changeSet ?? 0);
  expect(again).toMatchObject({ count: 2, leftAlone: 1 });
  expect(await find('plain.fair')).toMatchObject({ town: 'Fairtown', tags: [own] });
  expect(await find('ada@')).toMatchObject({ town: 'Fairtown' });
  expect(await takenBack()).toBeNull();
  expect((await server.call('POST', `${path}/take-back`)).status).toBe(200);
  await until('the second taking back', async () => (await takenBack())?.isDone === true);
  expect(await total('q=plain.fair')).toBe(0);
});

it('makes a tagging again whose undoing is taken back', async () => {
  const { body: tagging } = await server.call('POST', '/api/tagging', {
    people: { q: 'ada@' },
    tag,
    put: true,
  });
  const { body: undone } = await undo(tagging.id as number);
  expect(await total(`tag=${tag}`)).toBe(0);
  expect((await undo(undone.id as number)).body).toMatchObject({ count: 1, leftAlone: 0 });
  expect(await total(`tag=${tag}`)).toBe(1);
  expect((await undo(tagging.id as number)).body).toMatchObject({ count: 1 });
  expect(await total(`tag=${tag}`)).toBe(0);
});

it('does a tagging of thousands in stretches that others come between, and can be stopped', async () => {
  await importPeople(
    server,
    `email\n${Array.from({ length: 9000 }, (_, at) => `many${at}@example.com`).join('\n')}\n`,
  );
  const { body: change } = await server.call('POST', '/api/tagging', {
    people: { q: 'many' },
    tag,
    put: true,
  });
  await until(
    'the tagging',
    async () =>
      (await server.call('GET', `/api/changes/${change.id as number}`)).body.isDone === true,
  );
  expect((await server.call('GET', `/api/changes/${change.id as number}`)).body).toMatchObject({
    count: 9000,
    canUndo: true,
  });
  expect((await server.call('POST', `/api/changes/${change.id as number}/cancel`)).status).toBe(
    422,
  );
  expect(await total(`tag=${tag}`)).toBe(9000);
  const { body: back } = await undo(change.id as number);
  await until(
    'the undoing',
    async () =>
      (await server.call('GET', `/api/changes/${back.id as number}`)).body.isDone === true,
  );
  expect(await total(`tag=${tag}`)).toBe(0);
}, 60_000);

it('takes an import back, brings it again and takes it back once more, each time with its tags', async () => {
  const id = await importPeople(server, 'email,first name\npip@example.com,Pip\n', 'asked', [tag]);
  const take = async () => ((await find('pip')) as unknown as { tags: number[] } | undefined)?.tags;
  expect(await take()).toEqual([tag]);
  await server.call('POST', `/api/imports/${id}/take-back`);
  let last = (await server.call('GET', '/api/changes')).body.changes[0].id as number;
  for (const expected of [undefined, [tag], undefined, [tag]]) {
    expect(await take()).toEqual(expected);
    const { body } = await undo(last);
    expect(body).toMatchObject({ count: 1, leftAlone: 0 });
    last = body.id as number;
  }
});

it('pages through the log', async () => {
  const ids: number[] = [];
  for (let before: number | null | undefined; before !== null;) {
    const { body } = await server.call('GET', `/api/changes${before ? `?before=${before}` : ''}`);
    ids.push(...(body.changes as { id: number }[]).map(({ id }) => id));
    before = body.before as number | null;
  }
  expect(ids).toEqual([...ids].sort((a, b) => b - a));
  expect(new Set(ids).size).toBe(ids.length);
});

it('knows of changes written before happenings were kept what it would have written', async () => {
  const { db } = server.database;
  const happened = async (): Promise<unknown[]> =>
    (
      await execute(
        db,
        sql`select set_id, contact_id, kind, which from happenings order by set_id, contact_id, kind, which`,
      )
    ).rows;
  const written = await happened();
  expect(new Set(written.map((row) => (row as { kind: string }).kind)).size).toBeGreaterThan(5);
  const migration = readFileSync(
    new URL('../../../drizzle/0010_happenings.sql', import.meta.url),
    'utf8',
  );
  const [, filling = ''] = /(INSERT INTO "happenings"[\s\S]*?;)/.exec(migration) ?? [];
  await execute(db, sql`delete from happenings`);
  await execute(db, sql.raw(filling));
  expect(await happened()).toEqual(written);
});

it('forgets what was before in old changes; what happened stays, with who, when and which', async () => {
  const { db } = server.database;
  const { id } = await find('ada');
  const ofAda = async () =>
    (await server.call('GET', `/api/people/${id}/timeline`)).body.entries as {
      kind: string;
      who: string | null;
      fields: { label: string; from: string | null; to: string | null }[];
      tags: { name: string; put: boolean }[];
    }[];
  await server.call('POST', '/api/tagging', { tag, put: true, people: { ids: [id] } });
  await nameChoices(server, 'stage', ['friend']);
  await set(id, { stage: 'friend' });
  const timeline = await ofAda();
  expect(timeline.slice(0, 2)).toMatchObject([
    {
      kind: 'changed',
      who: 'Ines',
      fields: [{ label: 'stage', from: '', to: 'friend' }],
      tags: [],
    },
    { kind: 'changed', who: 'Ines', fields: [], tags: [{ name: 'guest', put: true }] },
  ]);
  const changed = (await server.call('GET', '/api/changes')).body.changes[0].id as number;
  const items = async (): Promise<number> =>
    (await execute<{ count: number }>(db, sql`select count(*) as count from change_items`)).rows[0]
      ?.count ?? 0;
  const lines = async (): Promise<number> =>
    (await execute<{ count: number }>(db, sql`select count(*) as count from change_sets`)).rows[0]
      ?.count ?? 0;
  const before = await lines();
  expect(await forgetItems(db, new Date(0), 100)).toBe(0);
  while ((await forgetItems(db, new Date(Date.now() + 1000), 5000)) > 0);
  expect([await items(), await lines()]).toEqual([0, before]);
  const { changes } = (await server.call('GET', '/api/changes')).body as {
    changes: { canUndo: boolean }[];
  };
  expect(changes.some(({ canUndo }) => canUndo)).toBe(false);
  // What it was is forgotten; that it happened is not.
  expect(await ofAda()).toEqual(
    timeline.map((entry) =>
      entry.kind === 'changed'
        ? { ...entry, fields: entry.fields.map(({ label }) => ({ label, from: null, to: null })) }
        : entry,
    ),
  );
  expect(await total(`of=change.${changed}`)).toBe(1);
});

it('tidies tables that had many changes, one at a time, when nobody is at work', async () => {
  const { database } = server;
  let atWork = true;
  const upkeep = new Upkeep(
    database,
    { isBusy: false } as Jobs,
    { hasRested: () => !atWork } as unknown as Foreground,
  );
  await execute(database.db, sql`update contacts set town = 'x'`);
  await execute(database.db, sql`select pg_stat_force_next_flush()`);
  const dead = async (): Promise<number> =>
    (
      await execute<{ dead: number }>(
        database.db,
        sql`select n_dead_tup as dead from pg_stat_user_tables where relname = 'contacts'`,
      )
    ).rows[0]?.dead ?? 0;
  await upkeep.tidyOne();
  expect(await dead()).toBeGreaterThan(5000);
  atWork = false;
  for (let round = 0; round < 20 && (await dead()) > 5000; round++) {
    await upkeep.tidyOne();
    await execute(database.db, sql`select pg_stat_force_next_flush()`);
  }
  expect(await dead()).toBeLessThan(5000);
});

it('writes a table anew that is mostly room nobody uses, and only then', async () => {
  const { db } = server.database;
  const upkeep = new Upkeep(server.database, {} as Jobs, {} as Foreground);
  upkeep.keepPacked('airy');
  await execute(db, sql`create table airy (id int, text text)`);
  await execute(db, sql`alter table airy alter text set storage plain`);
  await execute(
    db,
    sql`insert into airy select id, repeat('x', 1000) from generate_series(1, 45000) id`,
  );
  const size = async (): Promise<number> =>
    (await execute<{ size: number }>(db, sql`select pg_relation_size('airy') as size`)).rows[0]
      ?.size ?? 0;
  await db.execute(sql`vacuum (analyze) airy`);
  const full = await size();
  await upkeep.packOne();
  expect(await size()).toBe(full);
  await execute(db, sql`delete from airy where id % 4 > 0`);
  await db.execute(sql`vacuum (analyze) airy`);
  await upkeep.packOne();
  expect(await size()).toBeLessThan(full / 3);
  expect((await execute(db, sql`select count(*) as count from airy`)).rows).toEqual([
    { count: 11_250 },
  ]);
  await execute(db, sql`drop table airy`);
});

describe('what else is written down', () => {
  interface Line {
    readonly id: number;
    readonly what: string;
    readonly person: string | null;
    readonly canUndo: boolean;
    readonly isUndone: boolean;
  }
  const log = async (): Promise<Line[]> =>
    (await server.call('GET', '/api/changes')).body.changes as Line[];
  const undo = (id: number) => server.call('POST', `/api/changes/${id}/undo`);

  it.each([
    [
      'segments',
      { name: 'Neighbours', pools: [1], rule: { v: 1, root: { of: 'all', items: [] } } },
    ],
    ['letters', { name: 'Neighbours' }],
    ['campaigns', { name: 'Neighbours' }],
  ])('a deletion of %s, which is taken back from there', async (things, request) => {
    const { id } = (await server.call('POST', `/api/${things}`, request)).body as { id: number };
    const there = async (): Promise<number> =>
      (await server.call('GET', `/api/${things}/${id}`)).status;
    expect((await server.call('DELETE', `/api/${things}/${id}`)).status).toBe(204);
    expect(await there()).toBe(404);
    const [line] = await log();
    expect(line).toMatchObject({
      what: `deleted the ${things.slice(0, -1)} “Neighbours”`,
      canUndo: true,
      isUndone: false,
    });
    expect((await undo(line?.id ?? 0)).status).toBe(200);
    expect(await there()).toBe(200);
    const [back, was] = await log();
    expect(back).toMatchObject({
      what: `brought back the ${things.slice(0, -1)} “Neighbours”`,
      canUndo: false,
    });
    expect(was).toMatchObject({ isUndone: true, canUndo: false });
    expect((await undo(line?.id ?? 0)).status).toBe(422);
    // Taken back where it was deleted, it is taken back in the log, too.
    await server.call('DELETE', `/api/${things}/${id}`);
    await server.call('POST', `/api/${things}/${id}/restore`);
    expect((await log())[0]).toMatchObject({ isUndone: true });
    expect((await server.call('DELETE', `/api/${things}/99999`)).status).toBe(404);
  });

  it('of one person by name, for who may see them', async () => {
    const { id } = await find('ada');
    await set(id, { town: 'Birch' });
    expect((await log())[0]).toMatchObject({ what: 'changed town', person: 'Ada' });
  });

  it('handing over everybody of one colleague to another, and back', async () => {
    const from = await server.account({ name: 'Odile', address: 'o@example.com', role: 'member' });
    const to = await server.account({ name: 'Piet', address: 'p@example.com', role: 'member' });
    const { id } = await find('ada');
    await set(id, { owner: 'Odile' });
    const owner = async (): Promise<string> =>
      (await server.call('GET', `/api/people/${id}`)).body.owner.name as string;
    expect(await owner()).toBe('Odile');
    const { status, body } = await server.call('POST', `/api/owners/${from}/hand-over`, { to });
    expect({ status, body }).toMatchObject({
      status: 200,
      body: { what: 'handed over from Odile to Piet', count: 1, isDone: true },
    });
    expect(await owner()).toBe('Piet');
    expect((await undo(body.id as number)).status).toBe(200);
    expect(await owner()).toBe('Odile');
    for (const [path, other, expected] of [
      [from, from, 422],
      [from, 99_999, 404],
      [99_999, to, 404],
    ])
      expect(
        (await server.call('POST', `/api/owners/${path}/hand-over`, { to: other })).status,
      ).toBe(expected);
    const cookie = await server.signIn('p@example.com');
    expect(
      (await server.call('POST', `/api/owners/${from}/hand-over`, { to }, { cookie })).status,
    ).toBe(403);
  });
});

describe('what is done to many', () => {
  const many = (people: object, deed: object, cookie?: string) =>
    server.call('POST', '/api/deeds', { people, deed }, cookie ? { cookie } : {});
  const rows = async (query: string) =>
    (await server.call('GET', `/api/people?limit=200&${query}`)).body.rows as {
      id: number;
      address: string;
      values: Record<string, unknown>;
    }[];
  beforeAll(async () => {
    await importPeople(
      server,
      `email,first name,town\n${Array.from({ length: 60 }, (_, at) => `plenty${at}@example.com,Plenty ${at},${at % 2 ? 'Mere' : ''}`).join('\n')}\n`,
    );
  });

  it('a field is set, and taken back just where nobody changed it since', async () => {
    const { body } = await many({ q: 'plenty' }, { kind: 'field', field: 'town', text: 'Ashwick' });
    expect(body).toMatchObject({ what: 'set town to “Ashwick”', count: 60, isDone: true });
    const [first] = await rows('q=plenty1@&columns=town');
    expect(first?.values).toEqual({ town: 'Ashwick' });
    await set(first?.id ?? 0, { town: 'Tarn' });
    const undone = await undo(body.id as number);
    expect(undone.body).toMatchObject({ count: 59, leftAlone: 1 });
    const towns = (await rows('q=plenty&columns=town')).map(({ values }) => values['town']);
    expect(towns.filter((one) => one === 'Mere')).toHaveLength(29);
    expect(towns.filter((one) => one === null)).toHaveLength(30);
    expect(towns.filter((one) => one === 'Tarn')).toHaveLength(1);
  });

  it('fields of every kind are set and cleared as on a person’s page, and taken back', async () => {
    const made = async (request: object): Promise<string> =>
      (await server.call('POST', '/api/fields', request)).body.key as string;
    const label = 'size of the field';
    const cases: [string, string, unknown][] = [
      ['town', 'Äshwick', 'Äshwick'],
      ['closeness', 'close', 'close'],
      ['owner', 'Ines', '1'],
      [await made({ label, type: 'text' }), 'Größe', 'Größe'],
      [await made({ label: `${label} 2`, type: 'number' }), '1,200', 1200],
      [await made({ label: `${label} 3`, type: 'yes or no' }), 'no', false],
      [
        await made({
          label: `${label} 4`,
          type: 'choices',
          choices: [{ label: 'a' }, { label: 'b' }],
        }),
        'b, a',
        'c1,c2',
      ],
    ];
    for (const [field, text, value] of cases) {
      const before = (await rows(`q=plenty5@&columns=${field}`))[0];
      const { body } = await many({ q: 'plenty5@' }, { kind: 'field', field, text });
      const [after] = await rows(`q=plenty5@&columns=${field}`);
      expect(after?.values[field]).toEqual(value);
      const { body: filter } = await server.call('POST', '/api/filters', {
        rule: { v: 1, root: { of: 'all', items: [{ kind: 'field', field, op: 'is empty' }] } },
      });
      expect(await total(`q=plenty5@&filter=${String(filter.key)}`)).toBe(0);
      // Done again, it changes nobody.
      expect((await many({ q: 'plenty5@' }, { kind: 'field', field, text })).body.count).toBe(0);
      if (Number(body.count) > 0) await undo(body.id as number);
      expect((await rows(`q=plenty5@&columns=${field}`))[0]?.values).toEqual(before?.values);
    }
    const page = await server.call(
      'GET',
      `/api/people/${(await rows('q=plenty5@'))[0]?.id ?? 0}/timeline`,
    );
    expect(JSON.stringify(page.body)).toContain(label);
  });

  it('two at once over the same people: both end, and the first is taken back only where the second was not', async () => {
    const people = { q: 'many1' };
    const all = await total('q=many1');
    expect(all).toBeGreaterThan(1000);
    const started = await Promise.all([
      many(people, { kind: 'field', field: 'closeness', text: 'close' }),
      many(people, { kind: 'field', field: 'closeness', text: 'distant' }),
      server.call('POST', '/api/tagging', { people, tag, put: true }),
    ]);
    const ended = await Promise.all(
      started.map(async ({ body }) => {
        const one = async () =>
          (await server.call('GET', `/api/changes/${body.id as number}`)).body;
        await until('the change', async () => (await one()).isDone === true);
        return one();
      }),
    );
    const [close, distant, tagging] = ended;
    expect(close).toMatchObject({ count: all });
    expect(distant).toMatchObject({ count: all });
    expect(tagging).toMatchObject({ count: all });
    const counted = (await server.call('GET', '/api/fields/closeness/values')).body as unknown as {
      value: string;
      count: number;
    }[];
    const had = (value: string): number => counted.find((one) => one.value === value)?.count ?? 0;
    expect(had('close') + had('distant')).toBeGreaterThanOrEqual(all);
    const back = await undo(close?.id as number);
    await until(
      'the undoing',
      async () =>
        (await server.call('GET', `/api/changes/${back.body.id as number}`)).body.isDone === true,
    );
    const undone = (await server.call('GET', `/api/changes/${back.body.id as number}`)).body;
    expect(Number(undone.count) + Number(undone.leftAlone)).toBe(all);
  }, 60_000);

  it('everybody of a list but some', async () => {
    const [first, second] = await rows('q=plenty4');
    const { body } = await many(
      { q: 'plenty4', except: [first?.id, second?.id] },
      { kind: 'field', field: 'position', text: 'gardener' },
    );
    expect(body.count).toBe((await total('q=plenty4')) - 2);
    expect((await rows('q=plenty4&columns=position'))[0]?.values).toEqual({ position: null });
    const { body: which } = await server.call('POST', '/api/people/which', {
      q: 'plenty4',
      except: [first?.id],
      ids: [first?.id, second?.id, 999_999],
    });
    expect(which.ids).toEqual([second?.id]);
  });

  it('people go to the bin, are found there, and come back with their tags', async () => {
    await server.call('POST', '/api/tagging', { people: { q: 'plenty2' }, tag, put: true });
    const before = await total('q=plenty2');
    const { body } = await many({ q: 'plenty2' }, { kind: 'delete' });
    expect(body).toMatchObject({ what: 'deleted', count: before });
    expect(await total('q=plenty2')).toBe(0);
    const bin = (await server.call('GET', '/api/bin?q=plenty25')).body as {
      total: number;
      rows: { id: number; name: string; by: string; until: string }[];
    };
    expect(bin).toMatchObject({ total: 1, rows: [{ name: 'Plenty 25', what: 'deleted' }] });
    const { id } = bin.rows[0] ?? { id: 0 };
    expect((await server.call('POST', `/api/bin/${id}/bring-back`)).status).toBe(204);
    expect(await total(`q=plenty25&tag=${tag}`)).toBe(1);
    expect((await server.call('POST', `/api/bin/${id}/bring-back`)).status).toBe(404);
    // The rest comes back from the activity log; who is there already is left alone.
    expect((await undo(body.id as number)).body).toMatchObject({ count: before - 1, leftAlone: 1 });
    expect(await total(`q=plenty2&tag=${tag}`)).toBe(before);
  });

  it('nobody comes back to an address that somebody else has', async () => {
    await many({ q: 'plenty3@' }, { kind: 'delete' });
    await server.call('POST', '/api/people', {
      values: { address: 'plenty3@example.com' },
      permission: 'asked',
      source: '',
    });
    const { rows: found } = (await server.call('GET', '/api/bin?q=plenty3@')).body as {
      rows: { id: number }[];
    };
    expect((await server.call('POST', `/api/bin/${found[0]?.id ?? 0}/bring-back`)).status).toBe(
      422,
    );
  });

  it('refuses what can’t be done, and a member what is not theirs to give or to see', async () => {
    await server.account({ name: 'Rosa', address: 'r@example.com', role: 'member' });
    await server.account({ name: 'Sven', address: 's@example.com', role: 'member' });
    const cookie = await server.signIn('r@example.com');
    const refused = [
      await many({}, { kind: 'field', field: 'address', text: 'x@example.com' }),
      await many({}, { kind: 'field', field: 'own_77', text: 'x' }),
      await many({}, { kind: 'burn' }),
      await many({}, { kind: 'field', field: 'owner', text: 'Sven' }, cookie),
    ];
    expect(refused.map(({ status }) => status)).toEqual([422, 422, 422, 403]);
    expect((await many({ q: 'plenty4' }, { kind: 'delete' }, cookie)).body).toMatchObject({
      count: 0,
    });
    expect((await server.call('GET', '/api/bin', undefined, { cookie })).body).toMatchObject({
      total: 0,
    });
  });
});

it('tags twenty thousand in one go, and takes it back from all of them', async () => {
  const { db } = server.database;
  await execute(
    db,
    sql`insert into contacts (pool_id, owner_id, given_name, search_key, created_at, updated_at)
      select pool_id, owner_id, 'Crowd', 'crowd ' || g, now(), now() from (select p.id as pool_id, u.id as owner_id from pools p, users u limit 1) c, generate_series(1, 20000) g`,
  );
  const ended = async (id: number) => {
    const one = async () => (await server.call('GET', `/api/changes/${id}`)).body;
    await until('the change', async () => (await one()).isDone === true, 60_000);
    return one();
  };
  const { body: other } = await server.call('POST', '/api/tags', { name: 'crowd', colour: 'sky' });
  const tagging = (put: boolean, people: object) =>
    server.call('POST', '/api/tagging', { people, tag: other.id as number, put });
  const { body: begun } = await tagging(true, { q: 'crowd' });
  expect(await ended(begun.id as number)).toMatchObject({ count: 20_000, canUndo: true });
  expect(await total(`tag=${other.id as number}`)).toBe(20_000);
  const { id } = await find('crowd%2017777');
  await tagging(false, { ids: [id] });
  await tagging(true, { ids: [id] });
  const { body: undone } = await undo(begun.id as number);
  // Who was tagged again by hand since stays so.
  expect(await ended(undone.id as number)).toMatchObject({ count: 19_999, leftAlone: 1 });
  expect(await total(`tag=${other.id as number}`)).toBe(1);
}, 120_000);
