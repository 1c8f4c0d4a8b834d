// People by hand, and the words for them, over HTTP as the desk asks: what is kept, what is refused and why.
import { importPeople } from '../../testing/round.js';
import { startTestServer, type Reply, type TestServer } from '../../testing/server.js';

let server: TestServer;
let member: string;
beforeAll(async () => {
  server = await startTestServer();
  await server.account({ name: 'Kasimir', address: 'kasimir@example.com', role: 'member' });
  member = await server.signIn('kasimir@example.com');
}, 60_000);
afterAll(() => server.stop());

let serial = 0;
const add = (
  values: Record<string, string>,
  permission = 'asked',
  cookie?: string,
): Promise<Reply> =>
  server.call(
    'POST',
    '/api/people',
    { values, permission, source: permission === 'unknown' ? '' : 'at the fair' },
    cookie ? { cookie } : {},
  );
const added = async (values: Record<string, string> = {}, permission = 'asked'): Promise<number> =>
  (
    (await add({ address: `one${serial++}@example.com`, ...values }, permission)).body as {
      id: number;
    }
  ).id;
interface Person {
  readonly version: number;
  readonly address: string | null;
  readonly fields: readonly { readonly field: { readonly key: string }; readonly value: unknown }[];
  readonly permission: object;
  readonly doNotMail: { readonly reason: string; readonly note: string | null } | null;
}
const person = async (id: number): Promise<Person> =>
  (await server.call('GET', `/api/people/${id}`)).body as Person;
const change = async (id: number, values: Record<string, string>): Promise<Reply> =>
  server.call('PATCH', `/api/people/${id}`, { version: (await person(id)).version, values });
const problemOf = ({ status, body }: Reply) => ({
  status,
  path: body?.errors?.[0]?.path as string | undefined,
  says: (body?.errors?.[0]?.message ?? body?.detail) as string,
});

describe('somebody new', () => {
  it('keeps names and address as written, and what is known about permission', async () => {
    const id = await added({
      given_name: '  Åsa ',
      family_name: 'de la Cruz\n',
      address: 'Asa.Cruz@Example.com',
    });
    expect(await person(id)).toMatchObject({
      givenName: 'Åsa',
      familyName: 'de la Cruz',
      address: 'Asa.Cruz@Example.com',
      permission: { kind: 'asked', source: 'at the fair' },
      doNotMail: null,
      version: 1,
    });
    expect(await person(await added({}, 'unknown'))).toMatchObject({
      permission: { kind: 'unknown', at: null },
    });
  });

  it.each<[string, Record<string, string>, string, RegExp]>([
    ['nothing at all', {}, 'values.address', /needs a name or an address/],
    [
      'only blanks',
      { given_name: '  ', family_name: '\t' },
      'values.address',
      /needs a name or an address/,
    ],
    ['an address without a domain', { address: 'somebody' }, 'values.address', /not an address/],
    [
      'two addresses',
      { address: 'a@example.com, b@example.com' },
      'values.address',
      /not an address/,
    ],
    [
      'a field that there is not',
      { given_name: 'A', shoe_size: '41' },
      'values.shoe_size',
      /no such field/,
    ],
    [
      'a fact that is counted',
      { given_name: 'A', delivered_count: '99' },
      'values.delivered_count',
      /no such field/,
    ],
    [
      'a permission by the back door',
      { given_name: 'A', permission: 'asked' },
      'values.permission',
      /no such field/,
    ],
  ])('is refused with %s', async (_, values, path, says) => {
    expect(problemOf(await add(values))).toEqual({
      status: 422,
      path,
      says: expect.stringMatching(says),
    });
  });

  it('is refused with an address that somebody in the pool has, however it is written, and named to those who may see them', async () => {
    const id = await added({ address: 'taken@example.com' });
    const again = await add({ address: 'TAKEN@EXAMPLE.COM' });
    expect([again.status, again.body.person]).toEqual([422, id]);
    const byMember = await add({ address: 'taken@example.com' }, 'asked', member);
    expect([byMember.status, byMember.body.person, byMember.body.detail]).toEqual([
      422,
      undefined,
      'This address can’t be used here. A coordinator can tell why.',
    ]);
  });

  it('comes in once when the same is sent five times at once', async () => {
    const replies = await Promise.all(
      Array.from({ length: 5 }, () => add({ address: 'hasty@example.com' })),
    );
    expect(replies.filter(({ status }) => status === 201)).toHaveLength(1);
    for (const { status, body } of replies.filter((reply) => reply.status !== 201)) {
      expect([409, 422]).toContain(status);
      expect(body.detail).toEqual(expect.any(String));
    }
    expect((await server.call('GET', '/api/people?q=hasty')).body.rows).toHaveLength(1);
  });
});

describe('a change', () => {
  it('is kept with what was before, and taken back with that', async () => {
    const id = await added({ town: 'Millrace' });
    const { body } = await change(id, { town: 'Saltcote', postcode: '12-345' });
    expect(await person(id)).toMatchObject({ version: 2 });
    expect(
      (await server.call('POST', `/api/changes/${body.changeSet as number}/undo`)).body,
    ).toMatchObject({ count: 1, leftAlone: 0 });
    const fields = Object.fromEntries(
      (await person(id)).fields.map(({ field, value }) => [field.key, value]),
    );
    expect([fields['town'], fields['postcode']]).toEqual(['Millrace', null]);
  });

  it('that changes nothing is none', async () => {
    const id = await added({ town: 'Millrace' });
    expect((await change(id, { town: ' Millrace ' })).body).toEqual({
      changeSet: null,
      version: 1,
    });
    expect(await person(id)).toMatchObject({ version: 1 });
  });

  it('may take an address away, or give one that somebody gave up', async () => {
    const [one, two] = [
      await added({ given_name: 'One', address: 'moves@example.com' }),
      await added(),
    ];
    expect(problemOf(await change(two, { address: 'moves@example.com' }))).toMatchObject({
      status: 422,
      path: 'values.address',
    });
    expect((await change(one, { address: '' })).status).toBe(200);
    expect((await person(one)).address).toBeNull();
    expect((await change(two, { address: 'moves@example.com' })).status).toBe(200);
  });

  it('of the owner is a coordinator’s', async () => {
    const id = ((await add({ given_name: 'Own' }, 'asked', member)).body as { id: number }).id;
    expect(
      (
        await server.call(
          'PATCH',
          `/api/people/${id}`,
          { version: 1, values: { owner: 'Ines' } },
          { cookie: member },
        )
      ).status,
    ).toBe(403);
    expect(problemOf(await change(id, { owner: '' }))).toMatchObject({
      status: 422,
      path: 'values.owner',
    });
    expect(problemOf(await change(id, { owner: 'Nobody Known' }))).toMatchObject({
      status: 422,
      path: 'values.owner',
    });
    expect((await change(id, { owner: 'Ines' })).status).toBe(200);
    expect(
      (await server.call('GET', `/api/people/${id}`, undefined, { cookie: member })).status,
    ).toBe(404);
  });

  it('is refused whole when one of its values is', async () => {
    const id = await added({ town: 'Millrace' });
    expect(problemOf(await change(id, { town: 'Saltcote', address: 'no address' })).status).toBe(
      422,
    );
    expect(await person(id)).toMatchObject({ version: 1 });
  });
});

describe('do not mail by hand', () => {
  const put = (id: number, on: boolean, note = ''): Promise<Reply> =>
    server.call('POST', `/api/people/${id}/do-not-mail`, { put: on, note });
  it('is put on with a note and taken off, each once in the log', async () => {
    const id = await added();
    for (const _ of [1, 2])
      expect((await put(id, true, 'asked by\ntelephone')).status).toBeLessThan(300);
    expect((await person(id)).doNotMail).toMatchObject({
      reason: 'by hand',
      note: 'asked by telephone',
    });
    for (const _ of [1, 2]) await put(id, false);
    expect((await person(id)).doNotMail).toBeNull();
    const { body } = await server.call('GET', `/api/people/${id}/timeline`);
    const what = (body.entries as { kind: string; what?: string }[]).flatMap((entry) =>
      entry.kind === 'changed' && /do not mail/.test(entry.what ?? '') ? [entry.what] : [],
    );
    expect(what).toEqual(['taken off do not mail', 'put on do not mail']);
  });

  it('holds for the person, wherever they move, and for the address, whoever has it', async () => {
    const one = await added({ address: 'quiet@example.com' });
    await put(one, true);
    await change(one, { address: 'louder@example.com' });
    expect((await person(one)).doNotMail).toMatchObject({ reason: 'by hand' });
    expect((await person(await added({ address: 'quiet@example.com' }))).doNotMail).toMatchObject({
      reason: 'by hand',
    });
  });

  it('needs an address', async () => {
    expect((await put(await added({ given_name: 'Nameless', address: '' }), true)).status).toBe(
      422,
    );
  });
});

describe('words', () => {
  it('has each tag, topic and field once, however it is written', async () => {
    for (const [path, one, other, property] of [
      [
        '/api/tags',
        { name: 'Garden friends', colour: 'moss' },
        { name: ' garden  FRIENDS ', colour: 'sky' },
        'name',
      ],
      [
        '/api/topics',
        { name: 'Talks', description: '' },
        { name: 'TALKS', description: 'x' },
        'name',
      ],
      [
        '/api/fields',
        { label: 'Member since', type: 'date' },
        { label: 'member since', type: 'text' },
        'label',
      ],
    ] as const) {
      expect((await server.call('POST', path, one)).status).toBeLessThan(300);
      expect(problemOf(await server.call('POST', path, other))).toMatchObject({
        status: 422,
        path: property,
      });
    }
  });

  it('renames a topic, not onto another, even when two do it at once', async () => {
    const made = async (name: string): Promise<number> =>
      ((await server.call('POST', '/api/topics', { name, description: '' })).body as { id: number })
        .id;
    const [one, two] = [await made('Walks'), await made('Concerts')];
    const rename = (id: number, name: string): Promise<Reply> =>
      server.call('PUT', `/api/topics/${id}`, { name, description: 'x' });
    expect((await rename(one, 'walks')).status).toBe(200);
    expect(problemOf(await rename(one, 'concerts'))).toMatchObject({ status: 422 });
    const both = await Promise.all([rename(one, 'Outings'), rename(two, 'Outings')]);
    expect(both.filter(({ status }) => status === 200)).toHaveLength(1);
    expect(both.every(({ status }) => status === 200 || status === 409 || status === 422)).toBe(
      true,
    );
    expect((await rename(99_999, 'Other')).status).toBe(404);
  });

  it('takes values of an own field by its type', async () => {
    const { key } = (await server.call('POST', '/api/fields', { label: 'visits', type: 'number' }))
      .body as { key: string };
    const id = await added({ [key]: '12' });
    expect((await person(id)).fields.find(({ field }) => field.key === key)?.value).toBe(12);
    expect(problemOf(await change(id, { [key]: 'a dozen' }))).toMatchObject({
      status: 422,
      path: `values.${key}`,
    });
    expect((await change(id, { [key]: '' })).status).toBe(200);
  });
});

it('asked for parts of a list that can’t be, says so', async () => {
  for (const value of ['-1', '1.5', 'x', '1e3', '99999999999', '1&from=2']) {
    const { status, body } = await server.call('GET', `/api/people?from=${value}`);
    expect({ value, status }).toEqual({ value, status: 400 });
    expect(body.detail).toEqual(expect.any(String));
  }
  expect((await server.call('GET', '/api/people?from=1000000')).body).toEqual({ rows: [] });
});

it('says how many of an import were deleted since, when it was taken back', async () => {
  await added({ address: 'stays@example.com' });
  const id = await importPeople(
    server,
    'email,town\nfresh1@example.com,A\nfresh2@example.com,B\nstays@example.com,C\n',
  );
  const summary = async (of: string) =>
    (await server.call('GET', `/api/people/summary?of=${of}`)).body as {
      total: number;
      deleted: number;
    };
  expect(await summary(`import.${id}.new`)).toMatchObject({ total: 2, deleted: 0 });
  await server.call('POST', `/api/imports/${id}/take-back`);
  expect(await summary(`import.${id}.new`)).toMatchObject({ total: 0, deleted: 2 });
  expect(await summary(`import.${id}.changed`)).toMatchObject({ total: 1, deleted: 0 });
  expect((await server.call('GET', '/api/people/summary')).body).toMatchObject({ deleted: 0 });
});

it('pages further down a sorted list are of its order now, whoever changed, came and went', async () => {
  for (const town of ['a', 'b', 'c', 'd'])
    await add({ given_name: 'Sorted', family_name: town, town: `Ordertown ${town}` });
  const further = async (query = 'sort=town'): Promise<string[]> => {
    const { body } = await server.call('GET', `/api/people?q=sorted&columns=town&from=1&${query}`);
    return (body.rows as { familyName: string }[]).map(({ familyName }) => familyName);
  };
  expect(await further()).toEqual(['b', 'c', 'd']);
  expect(await further('sort=-town')).toEqual(['c', 'b', 'a']);
  const { body } = await server.call('GET', '/api/people?q=sorted&sort=town&limit=1');
  const [first] = body.rows as { id: number; version: number }[];
  await server.call('PATCH', `/api/people/${first?.id ?? 0}`, {
    version: first?.version,
    values: { town: 'Ordertown z' },
  });
  expect(await further()).toEqual(['c', 'd', 'a']);
  await server.call('POST', '/api/deeds', {
    people: { q: 'sorted d' },
    deed: { kind: 'delete' },
  });
  expect(await further()).toEqual(['c', 'a']);
  await add({ given_name: 'Sorted', family_name: 'n', town: 'Ordertown n' });
  expect(await further()).toEqual(['c', 'n', 'a']);
});

it('of two who add the same person at once, one is told that they are there', async () => {
  const values = { address: 'at.once@example.com', external_number: 'once' };
  const replies = await Promise.all([
    add(values),
    add(values),
    add({ ...values, address: 'b.once@example.com' }),
  ]);
  const [first, ...others] = replies.map(({ status }) => status).sort();
  expect(first).toBe(201);
  // Whoever looked before the first was there meets them as a conflict.
  for (const status of others) expect([409, 422]).toContain(status);
});

it.each([
  ['part of a name and a street', 'orch rothwell'],
  ['a street and a house number, the other way round', '17 orchard'],
  ['a number as it is dialled, and a name', '960777 roth'],
  ['all of it, in any order', 'walk 17 01632960777 enid'],
])('finds somebody by what they say on the telephone: %s', async (_, said) => {
  if ((await server.call('GET', '/api/people?q=rothwell')).body.rows.length === 0) {
    await added({
      given_name: 'Enid',
      family_name: 'Rothwell',
      street: '17 Orchard Walk',
      phone: '01632 960777',
    });
    await added({ given_name: 'Enid', family_name: 'Orchard', street: '170 Mill Lane' });
  }
  const { body } = await server.call('GET', `/api/people?q=${encodeURIComponent(said)}`);
  expect((body.rows as { familyName: string }[]).map(({ familyName }) => familyName)).toEqual([
    'Rothwell',
  ]);
});

describe('what somebody agreed to', () => {
  const agree = async (id: number, permission: string, more: object = {}) =>
    server.call('PATCH', `/api/people/${id}/permission`, {
      version: (await person(id)).version,
      permission,
      source: '',
      ...more,
    });
  const history = async (id: number, cookie?: string) =>
    server.call('GET', `/api/people/${id}/permissions`, undefined, cookie ? { cookie } : {});

  it('is kept word for word, each change of it, and what was taken back, too', async () => {
    const id = await added({}, 'customer');
    const wording = 'Yes, send me the letter.\nI can leave at any time.';
    expect((await agree(id, 'asked', { source: 'on a card', wording })).status).toBe(200);
    const { body: left } = await agree(id, 'unknown');
    expect(
      (await server.call('POST', `/api/changes/${left.changeSet as number}/undo`)).status,
    ).toBe(200);
    const asked = { kind: 'asked', source: 'on a card', wording };
    expect((await history(id)).body).toMatchObject([
      // Without a word of it, the wording stays as it is; taken back, it is as it was.
      { ...asked, by: 'Ines' },
      { kind: 'unknown', source: null, agreedAt: null, wording },
      asked,
      { kind: 'customer', source: 'at the fair', wording: null },
    ]);
    expect((await person(id)).permission).toMatchObject(asked);
  });

  it('is nothing of somebody of whom nothing is known, and of colleagues’ people', async () => {
    const id = await added({}, 'unknown');
    expect((await history(id)).body).toEqual([]);
    expect((await history(id, member)).status).toBe(404);
    expect((await agree(id, 'asked', { wording: 'x'.repeat(2001) })).status).toBe(400);
  });

  it('is written down for many at once, and by an import', async () => {
    const ids = [await added(), await added()];
    const wording = 'The letter, please.';
    await server.call('POST', '/api/deeds', {
      people: { ids },
      deed: { kind: 'permission', permission: 'customer', source: 'at the till', wording },
    });
    for (const id of ids)
      expect((await history(id)).body[0]).toMatchObject({ kind: 'customer', wording });
    await importPeople(server, 'email\nfrom.a.list@example.com\n');
    const { body } = await server.call('GET', '/api/people?q=from.a.list');
    expect((await history(body.rows[0].id as number)).body).toMatchObject([
      { kind: 'asked', source: 'a list', what: 'imported “list.csv”' },
    ]);
  });
});
