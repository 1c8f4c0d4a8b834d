// The demo world in small: its accounts close, its facts are what its own event log says, and its numbers open.
import { idOf } from '@palabra/core/kernel';
import { resultNumbers, type ResultNumber } from '@palabra/core/results';
import { sql } from 'drizzle-orm';
import { readConfig } from '../platform/config.js';
import { execute } from '../platform/database.js';
import { resultCounts } from '../results/results.store.js';
import { openTestDatabase, type TestDatabase } from '../testing/database.js';
import { wrongFacts } from '../testing/facts.js';
import { writtenPeople } from '../delivery/written.store.js';
import { count } from '../contacts/people/people.store.js';
import { makeDemo } from './index.js';

let test: TestDatabase;
beforeAll(async () => {
  test = await openTestDatabase();
  await makeDemo(test.database, readConfig({ DEMO: '600' }), () => undefined);
}, 120_000);
afterAll(() => test.drop());

const one = async <T>(statement: ReturnType<typeof sql>): Promise<T> =>
  (await execute<{ value: T }>(test.database.db, statement)).rows[0]?.value as T;

it('has believable people at reserved domains only', async () => {
  expect(await one(sql`select count(*) as value from contacts`)).toBe(600);
  expect(
    await one(
      sql`select count(*) as value from contacts where address is not null and address !~ '@(example\\.(com|org|net)|[a-z]+\\.test)$'`,
    ),
  ).toBe(0);
  expect(
    await one(
      sql`select count(*) as value from contacts where address_key is distinct from lower(address)`,
    ),
  ).toBe(0);
  expect(await one(sql`select count(*) as value from pools`)).toBe(4);
});

it('keeps accounts true', async () => expect(await wrongFacts(test.database.db)).toEqual([]));

it('has a tally on every campaign that closes and is what is written', async () => {
  const { rows } = await execute<{
    id: number;
    tally: { matched: number; receives: number; heldBack: Record<string, number> };
    receives: number;
    held: number;
  }>(
    test.database.db,
    sql`
    select id, tally, (select count(*) from deliveries d where d.campaign_id = k.id) as receives, (select count(*) from held_back h where h.campaign_id = k.id) as held from campaigns k where status = 'sent'`,
  );
  expect(rows.length).toBeGreaterThan(20);
  for (const { tally, receives, held } of rows) {
    expect(tally.receives).toBe(receives);
    expect(Object.values(tally.heldBack).reduce((sum, n) => sum + n, 0)).toBe(held);
    expect(tally.matched).toBe(receives + held);
  }
});

it('opens every figure of its results into just so many people', async () => {
  const { db } = test.database;
  const { rows } = await execute<{ id: number }>(
    db,
    sql`select id from campaigns where status = 'sent' order by id desc limit 5`,
  );
  for (const { id } of rows) {
    const counts = await resultCounts(db, idOf(id));
    for (const [figure, { part }] of Object.entries(resultNumbers)) {
      const people = writtenPeople(idOf(id), part);
      expect({ id, figure, people: people && (await count(db, people)) }).toEqual({
        id,
        figure,
        people: counts[figure as ResultNumber],
      });
    }
    expect(counts.accepted).toBeGreaterThan(0);
  }
});

it('has nothing that happened before its person came in, or in the future', async () => {
  expect(
    await one(
      sql`select count(*) as value from events e join contacts c on c.id = e.contact_id where e.at < c.created_at or e.at > now()`,
    ),
  ).toBe(0);
  expect(await one(sql`select count(*) as value from do_not_mail d where d.at > now()`)).toBe(0);
});

it('can take its own import back', async () => {
  expect(
    await one(
      sql`select count(*) as value from imports i join change_sets s on s.id = i.change_set_id where s.undoable and s.count = (select count(*) from change_items c where c.set_id = s.id)`,
    ),
  ).toBe(1);
});
