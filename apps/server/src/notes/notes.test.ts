// Notes and tasks: about people one sees, changed by whose they are, on the timeline and the desk, reminded of by a mail.
import { paragraph } from '@palabra/core/letters';
import { sql } from 'drizzle-orm';
import type { PeopleService, PeopleSets, Timeline } from '../contacts/index.js';
import type { Outbox } from '../delivery/index.js';
import type { Config } from '../platform/config.js';
import { execute, type Db } from '../platform/database.js';
import type { Upkeep } from '../platform/upkeep.js';
import { importPeople } from '../testing/round.js';
import { startTestServer, until, type TestServer } from '../testing/server.js';
import { TasksService } from './tasks.service.js';

let server: TestServer;
let kasimir = 0;
let asKasimir = '';
const ids: number[] = [];
beforeAll(async () => {
  server = await startTestServer();
  await importPeople(
    server,
    `email,first name\n${Array.from({ length: 12 }, (_, at) => `p${at}@example.com,P${at}`).join('\n')}\n`,
  );
  kasimir = await server.account({
    name: 'Kasimir',
    address: 'kasimir@example.com',
    role: 'member',
  });
  asKasimir = await server.signIn('kasimir@example.com');
  const { rows } = await execute<{ id: number }>(
    server.database.db,
    sql`select id from contacts order by id`,
  );
  ids.push(...rows.map(({ id }) => id));
  // The last four are Kasimir’s.
  await execute(
    server.database.db,
    sql`update contacts set owner_id = ${kasimir} where id > ${ids[7] ?? 0}`,
  );
}, 60_000);
afterAll(() => server.stop());

const [ines] = [1];
const call = (method: string, path: string, data?: unknown, cookie?: string) =>
  server.call(method, path, data, cookie === undefined ? {} : { cookie });
const text = (...lines: string[]) => ({
  type: 'doc',
  content: lines.map((line) => paragraph(line)),
});
const note = (words: string, more: object = {}) => ({
  kind: 'note',
  text: text(words),
  pinned: false,
  tell: [],
  ...more,
});
const task = (more: object = {}) => ({
  kind: 'call',
  text: 'about the grafting day',
  due: null,
  assignee: ines,
  remind: false,
  ...more,
});
const timeline = async (id: number, part?: string, cookie?: string) =>
  (await call('GET', `/api/people/${id}/timeline${part ? `?part=${part}` : ''}`, undefined, cookie))
    .body.entries as { kind: string; note?: { text: unknown }; task?: { id: number } }[];
const lastContact = async (id: number): Promise<Date | null> =>
  (
    await execute<{ at: Date | null }>(
      server.database.db,
      sql`select last_contact_at as at from contacts where id = ${id}`,
    )
  ).rows[0]?.at ?? null;

describe('notes', () => {
  it('are on the timeline and, pinned, in sight; a call is the last contact', async () => {
    const id = ids[0] ?? 0;
    const made = await call('POST', `/api/people/${id}/notes`, note('Likes alpines'));
    expect(made.status).toBe(201);
    expect(await lastContact(id)).toBeNull();
    expect((await timeline(id, 'notes')).map(({ kind }) => kind)).toEqual(['note']);
    expect((await timeline(id, 'letters')).map(({ kind }) => kind)).toEqual([]);
    const { body: kept } = await call('PUT', `/api/notes/${made.body.id}`, {
      ...note('Likes alpines, and ferns', { kind: 'call', pinned: true }),
      version: 1,
    });
    expect(kept).toMatchObject({ version: 2, pinned: true, by: { name: 'Ines' } });
    expect(await lastContact(id)).not.toBeNull();
    const inSight = await call('GET', `/api/people/${id}/kept`);
    expect(inSight.body.pinned).toMatchObject([{ text: text('Likes alpines, and ferns') }]);
    const slower = await call('PUT', `/api/notes/${made.body.id}`, {
      ...note('Other'),
      version: 1,
    });
    expect(slower.status).toBe(409);
    expect(slower.body.current).toMatchObject({ version: 2, kind: 'call' });
    expect((await call('DELETE', `/api/notes/${made.body.id}`)).status).toBe(204);
    expect(await timeline(id, 'notes')).toEqual([]);
    expect(await lastContact(id)).toBeNull();
    expect((await call('POST', `/api/notes/${made.body.id}/restore`)).status).toBe(204);
    expect(await timeline(id, 'notes')).toHaveLength(1);
  });

  it('are told to a colleague, who finds them until they have seen them, if they see the person', async () => {
    const [theirs = 0, notTheirs = 0] = [ids[9], ids[1]];
    for (const id of [theirs, notTheirs])
      await call('POST', `/api/people/${id}/notes`, note('Rang twice', { tell: [kasimir, 999] }));
    const told = async () => (await call('GET', '/api/notes/told', undefined, asKasimir)).body;
    const [one, ...more] = (await told()) as { note: { id: number }; person: { id: number } }[];
    expect(more).toEqual([]);
    expect(one?.person.id).toBe(theirs);
    expect((await call('GET', '/api/notes/told')).body).toEqual([]);
    await call('POST', `/api/notes/${one?.note.id}/seen`, undefined, asKasimir);
    expect(await told()).toEqual([]);
  });

  it('of colleagues are read by whoever sees the person, and changed by who wrote them', async () => {
    const id = ids[10] ?? 0;
    const made = (await call('POST', `/api/people/${id}/notes`, note('By Ines'))).body;
    const entries = await timeline(id, 'notes', asKasimir);
    expect(entries).toMatchObject([{ note: { mayChange: false } }]);
    for (const [method, path, data] of [
      ['PUT', `/api/notes/${made.id}`, { ...note('By Kasimir'), version: 1 }],
      ['DELETE', `/api/notes/${made.id}`, undefined],
    ] as const)
      expect((await call(method, path, data, asKasimir)).status).toBe(422);
    for (const [method, path, data] of [
      ['POST', `/api/people/${ids[0]}/notes`, note('x')],
      ['GET', `/api/people/${ids[0]}/kept`, undefined],
      ['POST', `/api/people/${ids[0]}/tasks`, task()],
    ] as const)
      expect((await call(method, path, data, asKasimir)).status).toBe(404);
  });

  it.each<[string, object, number]>([
    ['nothing', note(' '), 400],
    ['a megabyte', note('x'.repeat(1_000_000)), 400],
    ['another kind', note('x', { kind: 'poem' }), 400],
    ['a text that is none', { ...note('x'), text: 'x' }, 400],
    ['more than there is', { ...note('x'), secret: 1 }, 400],
  ])('refuse %s', async (_, raw, status) => {
    const reply = await call('POST', `/api/people/${ids[0]}/notes`, raw);
    expect(reply.status).toBe(status);
    expect(reply.body.detail ?? reply.body.errors).toBeTruthy();
  });
});

describe('tasks', () => {
  const list = async (query: string, cookie?: string) =>
    (await call('GET', `/api/tasks?${query}`, undefined, cookie)).body as {
      tasks: { id: number; due: string | null; person: { id: number } }[];
      after: string | null;
    };

  it('go from open to done, which is the last contact, and back', async () => {
    const id = ids[2] ?? 0;
    const made = (await call('POST', `/api/people/${id}/tasks`, task({ due: '2030-05-01' }))).body;
    expect(made).toMatchObject({ due: '2030-05-01', assignee: { name: 'Ines' }, doneAt: null });
    expect((await list('whose=mine&state=open')).tasks.map((one) => one.id)).toContain(made.id);
    const done = (is: boolean) => call('POST', `/api/tasks/${made.id}/done`, { done: is });
    expect((await done(true)).body).toMatchObject({ doneBy: 'Ines' });
    expect(await lastContact(id)).not.toBeNull();
    expect((await list('whose=mine&state=open')).tasks.map((one) => one.id)).not.toContain(made.id);
    expect((await list('whose=mine&state=done')).tasks[0]?.id).toBe(made.id);
    await done(false);
    expect(await lastContact(id)).toBeNull();
    const change = { ...task({ kind: 'meet', text: '' }), version: 3 };
    expect((await call('PUT', `/api/tasks/${made.id}`, change)).body).toMatchObject({
      kind: 'meet',
      due: null,
      version: 4,
    });
    expect((await call('PUT', `/api/tasks/${made.id}`, change)).status).toBe(409);
    const inSight = async () =>
      (await call('GET', `/api/people/${id}/kept`)).body.tasks as object[];
    await call('DELETE', `/api/tasks/${made.id}`);
    expect(await inSight()).toEqual([]);
    await call('POST', `/api/tasks/${made.id}/restore`);
    expect(await inSight()).toMatchObject([{ id: made.id }]);
    expect(await timeline(id, 'notes')).toEqual([]);
    await done(true);
    expect(await inSight()).toEqual([]);
    expect(await timeline(id, 'notes')).toMatchObject([{ kind: 'task', task: { id: made.id } }]);
  });

  it('are given only to who works here and sees the person', async () => {
    const gone = await server.account({
      name: 'Vera',
      address: 'vera@example.com',
      role: 'member',
    });
    await call('POST', `/api/accounts/${gone}/close`);
    const give = async (assignee: number) =>
      (await call('POST', `/api/people/${ids[3]}/tasks`, task({ assignee }))).body as {
        detail: string;
      };
    expect((await give(gone)).detail).toMatch(/Vera has left/);
    expect((await give(999)).detail).toMatch(/not there/);
    expect((await give(kasimir)).detail).toMatch(/Kasimir does not see/);
  });

  it('are made for each of a list, for a colleague or for the owners, and taken back but for those that were touched', async () => {
    const each = (people: object, more: object = {}) => {
      const { assignee: _, ...rest } = task();
      return call('POST', '/api/tasks/for-each', { people, task: { ...rest, ...more } });
    };
    const byOwners = await each({ q: 'p' });
    expect(byOwners.body).toMatchObject({ count: 12, leftOut: 0 });
    const theirs = await list('whose=mine&state=open', asKasimir);
    expect(theirs.tasks.map(({ person }) => person.id).sort((a, b) => a - b)).toEqual(ids.slice(8));
    const forKasimir = await each({ q: 'p' }, { assignee: kasimir });
    expect(forKasimir.body).toMatchObject({ count: 4, leftOut: 8 });
    expect((await each({ ids: [ids[0]] }, { assignee: kasimir })).status).toBe(422);
    await call('POST', `/api/tasks/${theirs.tasks[0]?.id}/done`, { done: true }, asKasimir);
    const undo = (batch: number, cookie?: string) =>
      call('POST', `/api/tasks/batches/${batch}/undo`, undefined, cookie);
    expect((await undo(byOwners.body.batch, asKasimir)).status).toBe(404);
    expect((await undo(byOwners.body.batch)).body).toEqual({ count: 11 });
    expect((await undo(byOwners.body.batch)).status).toBe(404);
    expect((await undo(forKasimir.body.batch)).body).toEqual({ count: 4 });
  });

  it('are listed by day in pages, each once', async () => {
    const days = [null, '2030-01-02', '2030-01-01', null, '2029-12-31'];
    for (let at = 0; at < 60; at++)
      await call(
        'POST',
        `/api/people/${ids[at % 8]}/tasks`,
        task({ due: days[at % 5], text: 'paged' }),
      );
    const seen: { id: number; due: string | null }[] = [];
    for (let after: string | null = ''; after !== null;) {
      const page: Awaited<ReturnType<typeof list>> = await list(
        `whose=all&state=open${after ? `&after=${encodeURIComponent(after)}` : ''}`,
      );
      seen.push(...page.tasks);
      after = page.after;
    }
    expect(seen.length).toBeGreaterThanOrEqual(60);
    expect(new Set(seen.map(({ id }) => id)).size).toBe(seen.length);
    const keys = seen.map(({ due }) => due ?? '9999');
    expect(keys).toEqual([...keys].sort());
    for (const after of ['x', '2030-01-01', 'tomorrow 3', '9999-99-99 1'])
      expect(
        (await call('GET', `/api/tasks?whose=all&state=open&after=${encodeURIComponent(after)}`))
          .status,
      ).toBe(400);
  });

  it('are reminded of by one mail to each who has any due, in the morning, once', async () => {
    for (const [at, due] of [
      [8, '2026-03-09'],
      [9, '2026-03-10'],
      [10, '2026-03-11'],
    ] as const)
      await call(
        'POST',
        `/api/people/${ids[at]}/tasks`,
        task({ due, assignee: kasimir, remind: true, text: `number ${at}` }),
      );
    const mails: unknown[][] = [];
    const remindAt = (moment: string): Promise<void> =>
      new TasksService(
        server.database,
        {} as PeopleService,
        {} as PeopleSets,
        {} as Timeline,
        { add: (_: Db, ...mail: unknown[]) => Promise.resolve(void mails.push(mail)) } as Outbox,
        {} as Upkeep,
        { now: () => new Date(moment) },
        { publicUrl: 'https://letters.example.com' } as Config,
      ).remind();
    await remindAt('2026-03-10T06:00:00Z');
    expect(mails).toEqual([]);
    for (const _ of [1, 2]) await remindAt('2026-03-10T08:00:00Z');
    expect(mails).toEqual([
      [
        'tasks due',
        'kasimir@example.com',
        {
          url: 'https://letters.example.com/tasks',
          tasks: ['call P8: number 8', 'call P9: number 9'],
          all: 2,
        },
      ],
    ]);
  });

  it.each<[string, object]>([
    ['a day that is none', task({ due: '2026-02-30' })],
    ['another kind', task({ kind: 'sing' })],
    ['a text without end', task({ text: 'x'.repeat(501) })],
    ['nobody', task({ assignee: null })],
  ])('refuse %s', async (_, raw) => {
    expect((await call('POST', `/api/people/${ids[0]}/tasks`, raw)).status).toBe(400);
  });
});

it('keeps somebody whom an import brought and somebody wrote about, when it is taken back', async () => {
  const { body } = await call('GET', '/api/changes');
  const made = (body.changes as { id: number; kind: string }[]).find(
    ({ kind }) => kind === 'import',
  );
  expect((await call('POST', `/api/changes/${made?.id}/undo`)).status).toBe(200);
  await until('it is taken back', async () => {
    const { rows } = await execute<{ count: number }>(
      server.database.db,
      sql`select count(*)::int as count from contacts where deleted_at is null`,
    );
    return (rows[0]?.count ?? 0) < 12;
  });
  expect((await call('GET', `/api/people/${ids[0]}`)).status).toBe(200);
});
