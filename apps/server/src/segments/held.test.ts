// What is kept in memory is right: it is asked again as soon as anything was written that it tells of.
import { isNativeThere } from '@palabra/embedded-postgres/testing/native';
import { KeySet } from '@palabra/core/segments';
import { sql, type SQL } from 'drizzle-orm';
import { living } from '../contacts/index.js';
import { Keys } from '../platform/keys.js';
import { Foreground } from '../platform/stride.js';
import { counted, courseColumns, readWrites } from '../platform/writes.store.js';
import { onServer, openTestDatabase, type TestDatabase } from '../testing/database.js';
import { aPerson, aWorld, NOW, type TestWorld } from '../testing/people.js';
import { HeldService, type Asked } from './held.service.js';
import { askingOf } from './held.store.js';

let test: TestDatabase;
let world: TestWorld;
let keys: Keys;
let held: HeldService;

// On a server, where there is one, somebody may ask while another writes.
if (isNativeThere()) onServer();

beforeAll(async () => {
  test = await openTestDatabase();
  const { db } = test.database;
  world = await aWorld(db);
  keys = await Keys.load(db, NOW);
  for (let at = 0; at < 40; at++)
    await aPerson(db, world, keys, {
      values: { town: at % 2 === 0 ? 'Millrace' : 'Ashwick' },
      tags: at % 4 === 0 ? world.tags.slice(0, 1) : [],
    });
}, 60_000);
beforeEach(() => {
  const foreground = new Foreground();
  held = new HeldService(test.database, foreground);
});
afterAll(() => test.drop());

const asking = (condition: SQL, weight = 1): Asked => ({
  bind: (within) =>
    within ? sql`(${condition} and c.id > ${within.after} and c.id <= ${within.upTo})` : condition,
  weight,
});
const inMillrace = sql`c.town = 'Millrace'`;
const guests = sql`c.id in (select contact_id from contact_tags where tag_id = 1)`;
const waiting = (): AbortSignal => new AbortController().signal;

async function sizes(...conditions: SQL[]): Promise<number[]> {
  const sets = await held.of(
    conditions.map((one) => asking(one)),
    waiting(),
  );
  return (sets ?? []).map(({ size }) => size);
}

/** Writes without being counted, which nobody does but here: what is kept does not see it. */
async function unseen(statement: SQL): Promise<void> {
  await test.database.transaction(async (tx) => {
    await tx.execute(sql`set local session_replication_role = replica`);
    await tx.execute(statement);
  });
}

it('keeps for whom a condition holds until something is written that it asks', async () => {
  const { db } = test.database;
  expect(await sizes(living, inMillrace, guests)).toEqual([40, 20, 10]);
  await unseen(sql`update contacts set town = 'Ashwick' where id % 4 = 1`);
  await unseen(sql`delete from contact_tags where contact_id % 8 = 1`);
  const [millrace, tagged] = await sizes(inMillrace, guests);
  expect([millrace, tagged]).toEqual([20, 10]);
  await db.execute(sql`delete from contact_tags where false`);
  const [still, fresh] = await sizes(inMillrace, guests);
  expect(still).toBe(20);
  expect(fresh).toBeLessThan(10);
  await db.execute(sql`update contacts set town = 'Millrace' where id % 4 = 1`);
  await db.execute(
    sql`insert into contact_tags select id, 1 from contacts where id % 4 = 2 on conflict do nothing`,
  );
  const { rows } = await db.execute<{ town: number; tag: number }>(
    sql`select count(*) filter (where ${inMillrace})::int as town, count(*) filter (where ${guests})::int as tag from contacts c`,
  );
  expect(await sizes(inMillrace, guests)).toEqual([rows[0]?.town, rows[0]?.tag]);
});

/** How often a table was written, but for the run of the database. */
const times = async (of: (typeof counted)[number]): Promise<number> =>
  Number((await readWrites(test.database.db))[of].split('/')[1]);

async function columnsOf(table: string): Promise<string[]> {
  const { rows } = await test.database.db.execute<{ name: string }>(
    sql`select column_name as name from information_schema.columns where table_name = ${table} and is_generated = 'NEVER' and is_identity = 'NO'`,
  );
  return rows.map(({ name }) => name);
}

it.each(counted.filter((table) => table !== 'contact_courses'))(
  'counts whatever writes %s',
  async (table) => {
    const { db } = test.database;
    const before = await times(table);
    const name = sql.identifier(table);
    await db.execute(
      sql`insert into ${name} overriding system value select * from ${name} where false`,
    );
    await db.execute(sql`delete from ${name} where false`);
    const own = (await columnsOf(table)).find((one) => !courseColumns.some((of) => of === one));
    const column = sql.identifier(own ?? '');
    await db.execute(sql`update ${name} set ${column} = ${column} where false`);
    expect((await times(table)) - before).toBe(3);
  },
);

it('counts each column of contacts with what became of letters, or with the rest', async () => {
  const columns = await columnsOf('contacts');
  expect(columns).toEqual(expect.arrayContaining([...courseColumns]));
  for (const name of columns) {
    const before = [await times('contacts'), await times('contact_courses')];
    const column = sql.identifier(name);
    await test.database.db.execute(sql`update contacts set ${column} = ${column} where false`);
    const isCourse = courseColumns.some((one) => one === name);
    expect([name, await times('contacts'), await times('contact_courses')]).toEqual([
      name,
      (before[0] ?? 0) + (isCourse ? 0 : 1),
      (before[1] ?? 0) + (isCourse ? 1 : 0),
    ]);
    const { tables } = askingOf(sql`c.${column} is not null`);
    expect([name, tables.includes('contact_courses')]).toEqual([name, isCourse]);
  }
});

it('is as good with many looks, a stretch at a time', async () => {
  const conditions = [inMillrace, guests, living];
  const plain = await held.of(
    conditions.map((one) => asking(one)),
    waiting(),
  );
  const heavy = await new HeldService(test.database, new Foreground()).of(
    conditions.map((one) => asking(one, 100_000_000)),
    waiting(),
  );
  expect(heavy?.map((set) => [...set])).toEqual(plain?.map((set) => [...set]));
});

it('keeps nothing that changes with time alone', async () => {
  const lately = sql`c.created_at > now() - interval '1 day'`;
  expect(askingOf(lately).isByTheClock).toBe(true);
  const [before] = await sizes(lately);
  await unseen(sql`update contacts set created_at = now() - interval '3 days'`);
  expect([before, ...(await sizes(lately))]).toEqual([before, 0]);
});

it('tells those who wait for the same when the first of them leaves', async () => {
  const leaving = new AbortController();
  const condition = [asking(sql`c.town = 'Ashwick'`, 100_000_000)];
  const first = held.of(condition, leaving.signal);
  const second = held.of(condition, waiting());
  leaving.abort();
  expect(await first).toBeUndefined();
  const asked = (await held.of([asking(sql`c.town = 'Ashwick'`)], waiting()))?.[0];
  expect([...((await second)?.[0] ?? KeySet.empty)]).toEqual([...(asked ?? [])]);
});

it('says what is wrong with a condition each time, and keeps no failure', async () => {
  const wrong = sql`c.town::int > 1`;
  await expect(sizes(wrong)).rejects.toThrow();
  await expect(sizes(wrong)).rejects.toThrow();
});

if (isNativeThere())
  it('keeps nothing while somebody writes: what is written is seen as soon as it is there', async () => {
    const [before = 0] = await sizes(living);
    let done = (): void => undefined;
    const isOver = new Promise<void>((resolve) => (done = resolve));
    let begun = (): void => undefined;
    const isWritten = new Promise<void>((resolve) => (begun = resolve));
    const writing = test.database.transaction(async (tx) => {
      await aPerson(tx, world, keys, {});
      begun();
      await isOver;
    });
    await isWritten;
    expect(await sizes(living)).toEqual([before]);
    done();
    await writing;
    expect(await sizes(living)).toEqual([before + 1]);
  });
else
  it('is not tried while somebody writes: no PostgreSQL server is installed', () => {
    process.stdout.write(
      'No PostgreSQL server is installed: asking while another writes was not tried.\n',
    );
  });
