// The fields of an office: made, described, changed to another type and back, taken out; and how people are reached.
import type { ChangeReply, FieldFitReply, PersonReply } from '@palabra/contract/contacts';
import type { Field } from '@palabra/core/contacts';
import { sql } from 'drizzle-orm';
import { execute } from '../../platform/database.js';
import { startTestServer, until, type Reply, type TestServer } from '../../testing/server.js';
import { definedField, described, nameChoices } from '../../testing/fields.js';
import { importPeople } from '../../testing/round.js';
import { sinceDay } from '../people/columns.store.js';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer({});
}, 60_000);
afterAll(() => server.stop());

const problemOf = ({ status, body }: Reply) => ({
  status,
  path: (body.errors as { path: string }[] | undefined)?.[0]?.path,
});
const make = async (request: object): Promise<Field> => {
  const reply = await server.call('POST', '/api/fields', request);
  if (reply.status !== 201) throw new Error(reply.text);
  return reply.body;
};
const add = async (values: Record<string, string>): Promise<number> => {
  const reply = await server.call('POST', '/api/people', {
    values,
    permission: 'asked',
    source: '',
  });
  if (reply.status !== 201) throw new Error(reply.text);
  return reply.body.id as number;
};
const person = async (id: number): Promise<PersonReply> =>
  (await server.call('GET', `/api/people/${id}`)).body;
const valueOf = async (id: number, key: string): Promise<unknown> =>
  (await person(id)).fields.find(({ field }) => field.key === key)?.value;
const set = async (id: number, values: Record<string, string>) =>
  server.call('PATCH', `/api/people/${id}`, { version: (await person(id)).version, values });
const settled = async (id: number): Promise<ChangeReply> => {
  const change = async () =>
    (await server.call('GET', `/api/changes/${id}`)).body as unknown as ChangeReply;
  await until('the change', async () => (await change()).isDone);
  return change();
};
const counted = async (rule: object): Promise<number> => {
  const { body } = await server.call('POST', '/api/filters', { rule: { v: 1, root: rule } });
  const found = await server.call('GET', `/api/people/summary?filter=${String(body.key)}`);
  return found.body.total as number;
};
const asks = (field: string, op: string, value?: unknown) => ({
  of: 'all',
  items: [{ kind: 'field', field, op, ...(value === undefined ? {} : { value }) }],
});

describe('a field', () => {
  it('is made of each kind, and read alike', async () => {
    const size = await make({
      label: 'size',
      type: 'choices',
      choices: [{ label: 'small' }, { label: 'large' }],
    });
    const fee = await make({ label: 'fee', type: 'money', currency: 'EUR' });
    const born = await make({ label: 'born', type: 'date' });
    const age = await make({
      label: 'age',
      type: 'computed',
      since: { day: born.key, unit: 'years' },
    });
    const notes = await make({ label: 'notes', type: 'long text' });
    const id = await add({
      family_name: 'Kinds',
      [size.key]: 'Large, small',
      [fee.key]: '1,200.50 €',
      [born.key]: '2 Mar 1990',
      [notes.key]: 'one\r\ntwo',
    });
    expect(await valueOf(id, size.key)).toBe('c1,c2');
    expect(await valueOf(id, fee.key)).toBe(1200.5);
    expect(await valueOf(id, notes.key)).toBe('one\ntwo');
    expect(await valueOf(id, age.key)).toBeGreaterThanOrEqual(36);
    expect(await counted(asks(age.key, 'at least', 36))).toBe(1);
    expect(await counted(asks(size.key, 'has all of', ['c1', 'c2']))).toBe(1);
    const { body } = await server.call(
      'GET',
      `/api/people?columns=${age.key},${fee.key}&sort=-${age.key},${size.key},${fee.key}`,
    );
    expect((body.rows as { values: object }[])[0]?.values).toMatchObject({ [fee.key]: 1200.5 });
    expect(problemOf(await set(id, { [age.key]: '3' })).status).toBe(422);
  });

  it.each<[string, object, string]>([
    ['an amount without a currency', { label: 'a', type: 'money' }, 'currency'],
    ['a currency that is none', { label: 'a', type: 'money', currency: 'QQQ' }, 'currency'],
    ['what is counted from nowhere', { label: 'a', type: 'computed' }, 'since'],
    [
      'what is counted from a name',
      { label: 'a', type: 'computed', since: { day: 'given_name', unit: 'days' } },
      'since',
    ],
    ['a choice of nothing', { label: 'a', type: 'choice', choices: [{ label: ' ' }] }, 'choices'],
    [
      'a choice with a comma',
      { label: 'a', type: 'choice', choices: [{ label: 'a, b' }] },
      'choices',
    ],
    [
      'two choices alike',
      { label: 'a', type: 'choices', choices: [{ label: 'Á' }, { label: 'a' }] },
      'choices',
    ],
    ['a name that is there', { label: ' Given  name', type: 'text' }, 'label'],
  ])('is not %s', async (_, request, path) => {
    expect(problemOf(await server.call('POST', '/api/fields', request))).toMatchObject({
      status: 422,
      path,
    });
  });

  it('keeps everything when it is renamed, and who was slower learns of it', async () => {
    const field = await make({ label: 'dog', type: 'text' });
    const id = await add({ family_name: 'Renamed', [field.key]: 'Rex' });
    const before = await described(server, field.key);
    const now = { ...before, label: 'name of the dog', help: 'as it is called', group: 'Animals' };
    expect((await server.call('PUT', `/api/fields/${field.key}`, now)).status).toBe(200);
    expect((await server.call('PUT', `/api/fields/${field.key}`, now)).status).toBe(409);
    // Whoever has its old name open writes to it all the same.
    expect((await set(id, { [field.key]: 'Rollo' })).status).toBe(200);
    expect(await valueOf(id, field.key)).toBe('Rollo');
    expect(await counted(asks(field.key, 'is', 'rollo'))).toBe(1);
    expect(
      (await person(id)).fields.find((line) => line.field.key === field.key)?.field,
    ).toMatchObject({
      label: 'name of the dog',
      help: 'as it is called',
      group: 'Animals',
    });
  });

  it('is required of whoever is new, and nobody’s is cleared', async () => {
    const field = await make({ label: 'house number', type: 'text' });
    const required = { ...(await described(server, field.key)), isRequired: true };
    await server.call('PUT', `/api/fields/${field.key}`, required);
    const bare = { values: { family_name: 'Bare' }, permission: 'asked', source: '' };
    expect(problemOf(await server.call('POST', '/api/people', bare))).toMatchObject({
      status: 422,
      path: `values.${field.key}`,
    });
    const imported = await importPeople(server, 'email\nbare@example.com\n');
    expect((await server.call('GET', `/api/imports/${imported}`)).body).toMatchObject({
      refusedCount: 1,
    });
    const standard = { ...(await described(server, field.key)), standard: '1' };
    await server.call('PUT', `/api/fields/${field.key}`, standard);
    const id = await add({ family_name: 'Bare' });
    expect(await valueOf(id, field.key)).toBe('1');
    expect((await set(id, { [field.key]: ' ' })).status).toBe(422);
    expect((await set(id, { [field.key]: '2' })).status).toBe(200);
    await importPeople(server, 'email\nstandard@example.com\n');
    const { body } = await server.call('GET', `/api/people?q=standard@&columns=${field.key}`);
    expect((body.rows as { values: object }[])[0]?.values).toEqual({ [field.key]: '1' });
    await server.call('PUT', `/api/fields/${field.key}`, {
      ...(await described(server, field.key)),
      isRequired: false,
      standard: '',
    });
  });

  it('stands in the order that it is given', async () => {
    const [one, other] = [
      await make({ label: 'first', type: 'text' }),
      await make({ label: 'second', type: 'text' }),
    ];
    const place = async (key: string) =>
      ((await server.call('GET', '/api/fields')).body as unknown as { field: Field }[]).findIndex(
        ({ field }) => field.key === key,
      );
    expect(
      (await server.call('PUT', '/api/fields/order', { keys: [other.key, one.key] })).status,
    ).toBe(204);
    expect(await place(other.key)).toBeLessThan(await place(one.key));
    expect((await server.call('PUT', '/api/fields/order', { keys: ['stage'] })).status).toBe(422);
  });

  it('waits in the bin with what people have in it, and says where it is used', async () => {
    const field = await make({ label: 'badge', type: 'text' });
    const id = await add({ family_name: 'Badge', [field.key]: 'blue' });
    const { body: vocabulary } = await server.call('GET', '/api/vocabulary');
    const pool = (vocabulary.pools as { id: number }[])[0]?.id;
    const rule = { v: 1, root: asks(field.key, 'is', 'blue') };
    const { body: segment } = await server.call('POST', '/api/segments', {
      name: 'Blue ones',
      description: '',
      pools: [pool],
      rule,
    });
    expect((await server.call('GET', `/api/fields/${field.key}/uses`)).body).toEqual({
      filled: 1,
      uses: [{ kind: 'segment', id: segment.id, name: 'Blue ones' }],
    });
    expect((await server.call('DELETE', `/api/fields/${field.key}`)).status).toBe(204);
    expect(await valueOf(id, field.key)).toBeUndefined();
    expect((await server.call('GET', `/api/segments/${Number(segment.id)}`)).status).toBe(200);
    // Somebody else takes its name meanwhile: then it can't come back under it.
    const other = await make({ label: 'badge', type: 'number' });
    const refused = await server.call('POST', `/api/fields/${field.key}/restore`);
    expect(refused).toMatchObject({
      status: 422,
      body: { detail: expect.stringMatching(/another field “badge”/i) },
    });
    await server.call('DELETE', `/api/fields/${other.key}`);
    expect((await server.call('POST', `/api/fields/${field.key}/restore`)).status).toBe(204);
    expect(await valueOf(id, field.key)).toBe('blue');
    expect((await server.call('DELETE', '/api/fields/stage')).status).toBe(404);
    expect((await server.call('DELETE', '/api/fields/own_999')).status).toBe(404);
  });
});

describe('a field of another kind', () => {
  const texts = ['12', ' 7,5', 'a dozen', '2026-03-02'];
  const people = async (key: string): Promise<number[]> => {
    const ids: number[] = [];
    for (const text of texts) ids.push(await add({ family_name: `Kind ${text}`, [key]: text }));
    return ids;
  };

  it('shows what does not fit, makes the rest fit, and is taken back and made again', async () => {
    const field = await make({ label: 'how many', type: 'text' });
    const ids = await people(field.key);
    const values = () => Promise.all(ids.map((id) => valueOf(id, field.key)));
    const before = await values();
    const { body: fit } = await server.call('POST', `/api/fields/${field.key}/fit`, {
      type: 'number',
    });
    expect(fit as unknown as FieldFitReply).toMatchObject({
      fits: 2,
      doesNotFit: 2,
      examples: expect.arrayContaining([{ value: 'a dozen', count: 1 }]),
    });
    const { version } = await definedField(server, field.key);
    const { body: made } = await server.call('PUT', `/api/fields/${field.key}/type`, {
      type: 'number',
      version,
    });
    expect(await settled(Number(made.id))).toMatchObject({ count: 4, canUndo: true });
    expect(await values()).toEqual([12, 7.5, null, null]);
    expect(await counted(asks(field.key, 'more than', 8))).toBe(1);
    const { body: back } = await server.call('POST', `/api/changes/${Number(made.id)}/undo`);
    await settled(Number(back.id));
    expect(await values()).toEqual(before);
    expect((await definedField(server, field.key)).field.type).toBe('text');
    expect(await counted(asks(field.key, 'is', 'A DOZEN'))).toBe(1);
    const { body: again } = await server.call('POST', `/api/changes/${Number(back.id)}/undo`);
    await settled(Number(again.id));
    expect(await values()).toEqual([12, 7.5, null, null]);
    expect((await definedField(server, field.key)).field.type).toBe('number');
  });

  it('finds the same day as text again after it was a date', async () => {
    const field = await make({ label: 'some day', type: 'text' });
    const ids = await people(field.key);
    for (const type of ['date', 'text']) {
      const { version } = await definedField(server, field.key);
      const { body } = await server.call('PUT', `/api/fields/${field.key}/type`, { type, version });
      await settled(Number(body.id));
    }
    expect(await valueOf(ids[3] ?? 0, field.key)).toBe('2026-03-02');
    expect(await counted(asks(field.key, 'is', '2026-03-02'))).toBe(1);
  });

  it('makes choices of what occurs, and rules that asked for a text ask for the choice', async () => {
    const field = await make({ label: 'drink', type: 'text' });
    for (const drink of ['Tea', 'tea', 'coffee', 'x'.repeat(80)])
      await add({ family_name: 'Drinks', [field.key]: drink });
    const isTea = asks(field.key, 'is', 'tea');
    expect(await counted(isTea)).toBe(2);
    const { body: fit } = await server.call('POST', `/api/fields/${field.key}/fit`, {
      type: 'choice',
    });
    expect(fit).toMatchObject({ fits: 3, doesNotFit: 1, choices: ['Tea', 'coffee'] });
    const { version } = await definedField(server, field.key);
    const { body } = await server.call('PUT', `/api/fields/${field.key}/type`, {
      type: 'choice',
      version,
    });
    await settled(Number(body.id));
    expect(await counted(isTea)).toBe(2);
    expect(await counted(asks(field.key, 'does not contain', 'tea'))).toBeGreaterThan(2);
    expect(await counted(asks(field.key, 'starts with', 'cof'))).toBe(1);
    // A choice that is taken out stays with whoever has it, and is not given any more.
    await nameChoices(server, field.key, ['coffee', 'Milk']);
    expect(await counted(isTea)).toBe(2);
    const { body: page } = await server.call('GET', `/api/people?q=drinks&columns=${field.key}`);
    const id = (page.rows as { id: number }[])[0]?.id ?? 0;
    expect((await set(id, { [field.key]: 'tea' })).status).toBe(422);
    expect((await set(id, { [field.key]: 'milk' })).status).toBe(200);
  });

  it('is not made of what is not there, not of itself, and of nothing computed', async () => {
    const field = await make({ label: 'stays', type: 'text' });
    const { version } = await definedField(server, field.key);
    const to = (type: string, key = field.key) =>
      server.call('PUT', `/api/fields/${key}/type`, { type, version });
    expect((await to('text')).status).toBe(422);
    expect((await to('computed')).status).toBe(422);
    expect((await to('phone')).status).toBe(400);
    expect((await to('money')).status).toBe(422);
    expect((await to('number', 'own_999')).status).toBe(404);
    expect(
      (await server.call('PUT', `/api/fields/${field.key}/type`, { type: 'number', version: 99 }))
        .status,
    ).toBe(409);
  });

  it('counts from no day that is none', async () => {
    for (const day of ['2026-02-30', '2025-02-29', '0000-01-01', '2026-13-01', 'abcd-ef-gh'])
      for (const unit of ['days', 'years'] as const) {
        const { rows } = await execute<{ n: number | null }>(
          server.database.db,
          sql`select ${sinceDay(sql`${day}::text`, unit, '2026-03-10')} as n`,
        );
        if (unit === 'days') expect(rows[0]?.n).toBeNull();
      }
  });
});

describe('how people are reached', () => {
  const left = (id: number) =>
    server.call('POST', `/api/people/${id}/do-not-mail`, { put: true, note: 'asked by telephone' });

  it('has each address with one person of a pool, as the first or a further one', async () => {
    const id = await add({
      address: 'first@example.com',
      more_addresses: 'Second@Example.com; third@example.com',
    });
    expect(await valueOf(id, 'more_addresses')).toBe('Second@Example.com\nthird@example.com');
    for (const values of [
      { address: 'second@example.com' },
      { address: 'other@example.com', more_addresses: 'third@example.com' },
      { family_name: 'x', more_addresses: 'first@example.com' },
    ])
      expect(
        problemOf(
          await server.call('POST', '/api/people', { values, permission: 'asked', source: '' }),
        ).status,
      ).toBe(422);
    // An import knows them by any of them, and does not make them anew.
    const done = await importPeople(
      server,
      'email,town\nTHIRD@example.com,Ashwick\nsecond@example.com,Ashwick\n',
    );
    expect((await server.call('GET', `/api/imports/${done}`)).body).toMatchObject({
      newCount: 0,
      changedCount: 1,
      againCount: 1,
    });
    expect(await valueOf(id, 'town')).toBe('Ashwick');
    expect((await person(id)).address).toBe('first@example.com');
    const { body } = await server.call('GET', '/api/people?q=second@exa');
    expect(body.rows).toHaveLength(1);
    // The second becomes the first.
    expect(
      (
        await set(id, {
          address: 'second@example.com',
          more_addresses: 'first@example.com, third@example.com',
        })
      ).status,
    ).toBe(200);
    expect((await person(id)).address).toBe('second@example.com');
    expect((await set(id, { more_addresses: 'no address' })).status).toBe(422);
  });

  it('leaves with all addresses when somebody leaves with one', async () => {
    const id = await add({ address: 'leaver@example.com', more_addresses: 'leaver@example.org' });
    await left(id);
    await set(id, { address: 'leaver@example.org', more_addresses: '' });
    expect((await person(id)).doNotMail).toMatchObject({ reason: 'by hand' });
    const other = await add({ address: 'fresh@example.com', more_addresses: 'leaver@example.com' });
    expect((await person(other)).doNotMail).toMatchObject({
      reason: 'by hand',
      note: 'asked by telephone',
    });
    // And comes back with all.
    await server.call('POST', `/api/people/${other}/do-not-mail`, { put: false, note: '' });
    expect((await person(other)).doNotMail).toBeNull();
    await set(other, { more_addresses: '' });
    const again = await add({ address: 'leaver@example.com' });
    expect((await person(again)).doNotMail).toBeNull();
  });

  it('takes back by the log what was put on do not mail by hand', async () => {
    const id = await add({ address: 'wrongly@example.com' });
    await left(id);
    const { body } = await server.call('GET', '/api/changes');
    const [put] = body.changes as { id: number; what: string; canUndo: boolean }[];
    expect(put).toMatchObject({ what: 'put on do not mail', canUndo: true });
    await server.call('POST', `/api/changes/${put?.id}/undo`);
    expect((await person(id)).doNotMail).toBeNull();
    await left(id);
    await server.call('POST', `/api/people/${id}/do-not-mail`, { put: false, note: '' });
    const { body: log } = await server.call('GET', '/api/changes');
    const [off] = log.changes as { id: number }[];
    await server.call('POST', `/api/changes/${off?.id}/undo`);
    expect((await person(id)).doNotMail).toMatchObject({
      reason: 'by hand',
      note: 'asked by telephone',
    });
  });

  it('writes telephone numbers as its country does, and finds them in any form', async () => {
    const { body: office } = await server.call('GET', '/api/office');
    await server.call('PUT', '/api/office', { ...office, country: 'GB' });
    const id = await add({
      family_name: 'Phones',
      phone: '+44 1632 960999',
      more_phones: '0049 351 123456; 07700/900999',
    });
    expect(await valueOf(id, 'phone')).toBe('01632 960999');
    expect(await valueOf(id, 'more_phones')).toBe('+49 351 123456\n07700 900999');
    for (const q of ['01632 960999', '+441632960999', '960999', '+49351', '07700'])
      expect(
        (await server.call('GET', `/api/people?q=${encodeURIComponent(q)}`)).body.rows,
      ).toHaveLength(1);
    expect(await counted(asks('phone', 'starts with', '01632'))).toBe(1);
    expect(await counted(asks('phone', 'starts with', '+44 1632'))).toBe(1);
    expect(await counted(asks('phone', 'starts with', '0351'))).toBe(0);
    expect(problemOf(await set(id, { phone: 'by the door' }))).toMatchObject({
      status: 422,
      path: 'values.phone',
    });
  });

  it('has an external number with one person of a pool', async () => {
    const id = await add({ family_name: 'Numbered', external_number: 'M-17' });
    expect((await server.call('GET', '/api/people?q=m-1')).body.rows).toHaveLength(1);
    const taken = {
      values: { family_name: 'Other', external_number: 'm-17' },
      permission: 'asked',
      source: '',
    };
    expect(problemOf(await server.call('POST', '/api/people', taken))).toMatchObject({
      status: 422,
      path: 'values.external_number',
    });
    const done = await importPeople(
      server,
      'email,external number\nn1@example.com,M-17\nn2@example.com,M-18\nn3@example.com,m-18\n',
    );
    expect((await server.call('GET', `/api/imports/${done}`)).body).toMatchObject({
      newCount: 1,
      refusedCount: 2,
    });
    await server.call('POST', '/api/deeds', { people: { ids: [id] }, deed: { kind: 'delete' } });
    const other = await add({ family_name: 'Later', external_number: 'M-17' });
    expect((await server.call('POST', `/api/bin/${id}/bring-back`)).status).toBe(422);
    await set(other, { external_number: '' });
    expect((await server.call('POST', `/api/bin/${id}/bring-back`)).status).toBe(204);
  });

  it('moves people to another pool, but nobody onto somebody else', async () => {
    const { body: vocabulary } = await server.call('GET', '/api/vocabulary');
    const house = (vocabulary.pools as { id: number }[])[0]?.id ?? 0;
    const { rows } = await execute<{ id: number }>(
      server.database.db,
      sql`insert into pools (name, kind) values ('nursery', 'partner') returning id`,
    );
    const nursery = rows[0]?.id ?? 0;
    const [one, other] = [
      await add({ address: 'both@example.com' }),
      await add({ address: 'alone@example.com' }),
    ];
    const move = (ids: number[], pool: number) =>
      server.call('POST', '/api/deeds', { people: { ids }, deed: { kind: 'pool', pool } });
    expect((await move([one], nursery)).body).toMatchObject({ count: 1, leftAlone: 0 });
    const twin = await add({ address: 'both@example.com' });
    const { body: moved } = await move([twin, other], nursery);
    expect(moved).toMatchObject({ count: 1, leftAlone: 1 });
    expect((await person(other)).pool).toBe('nursery');
    await server.call('POST', `/api/changes/${Number(moved.id)}/undo`);
    expect((await person(other)).pool).toBe('house');
    // Of two from different pools with one address, one moves to a third.
    const third = (
      await execute<{ id: number }>(
        server.database.db,
        sql`insert into pools (name, kind) values ('fair', 'prospects') returning id`,
      )
    ).rows[0]?.id;
    expect((await move([one, twin], third ?? 0)).body).toMatchObject({ count: 1, leftAlone: 1 });
    expect((await move([one], nursery)).body).toMatchObject({ count: 1 });
    expect((await move([one], 999)).status).toBe(422);
    expect((await move([one], house)).body).toMatchObject({ count: 0, leftAlone: 1 });
  });
});
