// People are changed, tagged and deleted, one by one and together, and all of it is taken back and made again in any order:
// whoever is asked is what the log says, and nothing ends where it can't be taken back.
import { markedTag, said, type ContactId, type LoggedChange } from '@palabra/core/contacts';
import { sql } from 'drizzle-orm';
import fc from 'fast-check';
import { execute } from '../../platform/database.js';
import { importPeople } from '../../testing/round.js';
import { startTestServer, until, type TestServer } from '../../testing/server.js';
import { logOf } from './changes.store.js';

let server: TestServer;
let ids: ContactId[] = [];
let tags: number[] = [];
const start = { town: 'Ashby' };
beforeAll(async () => {
  server = await startTestServer();
  tags = [];
  for (const name of ['guest', 'friend'])
    tags.push((await server.call('POST', '/api/tags', { name, colour: 'moss' })).body.id as number);
  await importPeople(
    server,
    `email,town\n${[0, 1, 2].map((at) => `p${at}@example.com,${start.town}`).join('\n')}\n`,
  );
  ids = (
    await execute<{ id: ContactId }>(server.database.db, sql`select id from contacts order by id`)
  ).rows.map(({ id }) => id);
}, 60_000);
afterAll(() => server.stop());

interface Line {
  readonly id: number;
  readonly isDone: boolean;
  readonly isUndone: boolean;
  readonly canUndo: boolean;
}
const lines = async (): Promise<Line[]> =>
  (await server.call('GET', '/api/changes')).body.changes as Line[];
const settled = (): Promise<void> =>
  until('all changes', async () => (await lines()).every(({ isDone }) => isDone));

type Deed =
  | { readonly kind: 'town'; readonly who: number; readonly town: string }
  | { readonly kind: 'town of all'; readonly town: string }
  | { readonly kind: 'tag'; readonly who: number; readonly which: number; readonly put: boolean }
  | { readonly kind: 'delete'; readonly who: number }
  | { readonly kind: 'undo'; readonly back: number };

const towns = fc.constantFrom('Mere', 'Tarn', 'Lake', '');
const who = fc.nat(2);
const deeds: fc.Arbitrary<Deed> = fc.oneof(
  { weight: 2, arbitrary: fc.record({ kind: fc.constant('town' as const), who, town: towns }) },
  { weight: 1, arbitrary: fc.record({ kind: fc.constant('town of all' as const), town: towns }) },
  {
    weight: 2,
    arbitrary: fc.record({
      kind: fc.constant('tag' as const),
      who,
      which: fc.nat(1),
      put: fc.boolean(),
    }),
  },
  { weight: 1, arbitrary: fc.record({ kind: fc.constant('delete' as const), who }) },
  { weight: 5, arbitrary: fc.record({ kind: fc.constant('undo' as const), back: fc.nat(12) }) },
);

async function run(deed: Deed): Promise<void> {
  const { call } = server;
  const id = 'who' in deed ? ids[deed.who] : undefined;
  switch (deed.kind) {
    case 'town': {
      const { status, body } = await call('GET', `/api/people/${id}`);
      if (status === 200)
        await call('PATCH', `/api/people/${id}`, {
          version: body.version as number,
          values: { town: deed.town },
        });
      return;
    }
    case 'town of all':
      await call('POST', '/api/deeds', {
        people: {},
        deed: { kind: 'field', field: 'town', text: deed.town },
      });
      return;
    case 'tag':
      await call('POST', '/api/tagging', {
        people: { ids: [id] },
        tag: tags[deed.which],
        put: deed.put,
      });
      return;
    case 'delete':
      await call('POST', '/api/deeds', { people: { ids: [id] }, deed: { kind: 'delete' } });
      return;
    case 'undo': {
      const may = (await lines()).filter(({ canUndo, id: at }) => canUndo && at > 1);
      const one = may[deed.back % Math.max(1, may.length)];
      // What is offered can be done.
      if (one) expect((await call('POST', `/api/changes/${one.id}/undo`)).status).toBe(200);
    }
  }
}

async function asTheLogSays(): Promise<void> {
  const { db } = server.database;
  const log = await logOf(db, ids);
  const { rows } = await execute<{
    id: ContactId;
    town: string | null;
    gone: boolean;
    tags: number[];
  }>(
    db,
    sql`select c.id, c.town, c.deleted_at is not null as gone, array(select tag_id from contact_tags t where t.contact_id = c.id order by tag_id) as tags from contacts c order by c.id`,
  );
  for (const { id, town, gone, tags: has } of rows) {
    const own: readonly LoggedChange[] = log.get(id) ?? [];
    const isGone = said(own, 'deleted') === true;
    const keys = [...new Set(own.flatMap(({ after }) => Object.keys(after)))];
    expect({ id, town, gone, has }).toEqual({
      id,
      town: keys.includes('town') ? (said(own, 'town') ?? null) : start.town,
      gone: isGone,
      has: isGone
        ? []
        : keys
            .filter((key) => markedTag(key) !== undefined && said(own, key) === true)
            .map((key) => Number(markedTag(key)))
            .sort((a, b) => a - b),
    });
  }
}

it('ends where the log says', async () => {
  await fc.assert(
    fc.asyncProperty(fc.array(deeds, { minLength: 6, maxLength: 16 }), async (all) => {
      for (const deed of all) {
        await run(deed);
        await settled();
        await asTheLogSays();
      }
      // The log is paged: what is behind the first page was tried before.
      await execute(server.database.db, sql`delete from change_items where set_id > 1`);
      await execute(server.database.db, sql`delete from happenings where set_id > 1`);
      await execute(server.database.db, sql`delete from change_sets where id > 1`);
      await execute(server.database.db, sql`delete from contact_tags`);
      await execute(
        server.database.db,
        sql`update contacts set town = ${start.town}, keys = keys || '{"town": "ashby"}', deleted_at = null, version = version + 1`,
      );
    }),
    { numRuns: 12 },
  );
}, 120_000);
