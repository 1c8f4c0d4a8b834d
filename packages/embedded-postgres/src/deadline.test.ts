// A statement that never ends: it does, and what was committed before is there.
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { isBounded } from './deadline.js';
import {
  MIGRATIONS,
  OVERDUE,
  startEmbedded,
  type EmbeddedPostgres,
} from '@palabra/embedded-postgres';

let directory: string;
let embedded: EmbeddedPostgres;
let pool: pg.Pool;
const ends: (NodeJS.Signals | null)[] = [];
beforeAll(async () => {
  directory = mkdtempSync(join(tmpdir(), 'late-'));
  embedded = await startEmbedded({
    directory,
    fsync: false,
    statementMs: 600,
    onRestart: (_, signal) => ends.push(signal),
  });
  pool = new pg.Pool({ ...embedded.connection, max: 3, connectionTimeoutMillis: 20_000 });
  pool.on('error', () => undefined);
}, 60_000);
afterAll(async () => {
  await pool.end();
  await embedded.stop();
  rmSync(directory, { recursive: true, force: true });
});

const pairs = (of: number, and: number): string =>
  `select count(*)::int as count from generate_series(1, ${of}) a, generate_series(1, ${and}) b`;
const endless = pairs(100_000, 1_000_000);
const slow = pairs(4000, 4000);

it('ends a statement at its deadline, and others go on with what was committed', async () => {
  await pool.query('create table kept (id int)');
  await pool.query('insert into kept values (1)');
  await expect(pool.query(endless)).rejects.toThrow();
  const again = async (): Promise<unknown[]> => {
    for (let left = 50; ; left--)
      try {
        return (await pool.query('select id from kept')).rows as unknown[];
      } catch (error) {
        if (left === 0) throw error;
        await new Promise((resolve) => setTimeout(resolve, 200));
      }
  };
  expect(await again()).toEqual([{ id: 1 }]);
  expect(ends).toEqual([OVERDUE]);
}, 60_000);

it('lets who said so take their time', async () => {
  const client = new pg.Client({ ...embedded.connection, application_name: MIGRATIONS });
  await client.connect();
  const started = performance.now();
  expect((await client.query(slow)).rows).toEqual([{ count: 16_000_000 }]);
  expect(performance.now() - started).toBeGreaterThan(600);
  await client.end();
}, 60_000);

it.each([
  ['select 1', true],
  ['  WITH a as (select 1) select * from a', true],
  ['update x set y = 1', true],
  ['vacuum (analyze) contacts', false],
  ['create index on contacts (id)', false],
  ['copy x to stdout', false],
])('bounds what reads and writes: %s', (text, is) => {
  expect(isBounded(text)).toBe(is);
});
