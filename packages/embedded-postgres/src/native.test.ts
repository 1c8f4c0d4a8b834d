// The same statements to the gateway and to a PostgreSQL server: the same answers, errors included. Where no
// server is installed there is nothing to compare with, and only the gateway's own answers are checked.
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { startEmbedded, type EmbeddedPostgres } from '@palabra/embedded-postgres';
import pg from 'pg';
import { startNative, type Native } from './testing/native.js';

const LONG = process.env['ROUND'] === 'long';
const CONNECTIONS = 20;
const OPERATIONS = LONG ? 1_000_000 : process.env['ROUND'] === 'short' ? 2000 : 6000;

const directory = mkdtempSync(join(tmpdir(), 'palabra-same-'));
let embedded: EmbeddedPostgres;
let native: Native | undefined;
beforeAll(async () => {
  embedded = await startEmbedded({ directory, fsync: false });
  native = await startNative();
}, 60_000);
afterAll(async () => {
  await native?.stop();
  await embedded.stop();
  rmSync(directory, { recursive: true, force: true });
});

/** Mulberry32: the same seed gives the same statements on both sides. */
function random(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

interface Answer {
  readonly error?: string;
  readonly command?: string;
  readonly rows?: unknown[];
  readonly types?: number[];
}

async function ask(client: pg.Client, statement: string | pg.QueryConfig): Promise<Answer> {
  try {
    const { command, rows, fields } = await client.query<Record<string, unknown>>(statement);
    return { command, rows, types: fields.map(({ dataTypeID }) => dataTypeID) };
  } catch (error) {
    return { error: (error as { code?: string }).code ?? String(error) };
  }
}

/** One statement of one client, about its own rows only, so that others never change its answer. */
function statement(client: number, next: () => number): string | pg.QueryConfig {
  const id = client * 100_000 + Math.floor(next() * 50);
  const kinds: (() => string | pg.QueryConfig)[] = [
    () => ({ text: 'select * from things where id = $1', values: [id] }),
    () => ({
      name: `by-key-${Math.floor(next() * 3)}`,
      text: 'select id, body, amount from things where id = $1',
      values: [id],
    }),
    () => ({
      text: 'insert into things (id, owner, body, amount, at, tags, fields) values ($1, $2, $3, $4, $5, $6, $7) on conflict (id) do update set body = excluded.body, amount = things.amount + excluded.amount returning id, body, amount',
      values: [
        id,
        client,
        `ä ${'x'.repeat(Math.floor(next() * 200))} '"\\`,
        Math.floor(next() * 100) / 4,
        new Date(Math.floor(next() * 2 ** 40)),
        ['a', 'b c', 'd"e'],
        JSON.stringify({ n: Math.floor(next() * 10), deep: [{ a: null }] }),
      ],
    }),
    () => ({ text: 'delete from things where id = $1 returning *', values: [id] }),
    () => ({
      text: 'select owner, count(*), sum(amount), max(at), array_agg(id order by id) from things where owner = $1 group by owner',
      values: [client],
    }),
    () => ({
      text: "select id, fields ->> 'n' as n, tags, body like $2 as found from things where owner = $1 order by id limit 5",
      values: [client, '%x%'],
    }),
    () => 'begin',
    () => 'commit',
    () => 'rollback',
    () => 'select 1 / 0',
    () => 'selec',
    () => ({ text: 'select $1::int as number', values: ['x'] }),
    () => ({ text: 'insert into things (id, owner) values ($1, $2)', values: [id, null] }),
    () => `select ${client} as a; select 'two' as b`,
    () => ({
      text: 'update things set body = $2 where owner = $1 and id % 2 = 0',
      values: [client, 'even'],
    }),
    () => 'savepoint one',
    () => 'rollback to savepoint one',
  ];
  return kinds[Math.floor(next() * kinds.length)]?.() ?? 'select 1';
}

const table =
  'create table things (id int primary key, owner int not null, body text, amount numeric, at timestamptz, tags text[], fields jsonb)';

async function playOn(
  connection: pg.ClientConfig,
  operations: number,
  hear: (client: number, answer: Answer) => void,
): Promise<void> {
  await Promise.all(
    Array.from({ length: CONNECTIONS }, async (_, at) => {
      const client = new pg.Client({ ...connection, application_name: 'palabra-migrations' });
      client.on('error', () => undefined);
      await client.connect();
      await client.query("set timezone = 'UTC'");
      const next = random(1000 + at);
      // The gateway has one session: a transaction is ended within its turn, so that no client waits for another's.
      for (let done = 0; done < operations / CONNECTIONS;) {
        const burst: (string | pg.QueryConfig)[] = [];
        for (let left = 1 + Math.floor(next() * 6); left > 0; left--)
          burst.push(statement(at, next));
        burst.push('rollback');
        for (const one of burst) hear(at, await ask(client, one));
        done += burst.length;
      }
      await client.end();
    }),
  );
}

const memoryOf = (pid: number): number =>
  1024 * Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0);

it(
  'answers many clients as a server does',
  async () => {
    const first = new pg.Client(embedded.connection);
    await first.connect();
    await first.query(table);
    await first.end();
    if (native) await native.client.query(table);
    const theirs: Answer[][] = Array.from({ length: CONNECTIONS }, () => []);
    if (native)
      await playOn(native.connection, OPERATIONS, (client, answer) => theirs[client]?.push(answer));
    const heard = Array.from({ length: CONNECTIONS }, () => 0);
    let wrong = 0;
    await playOn(embedded.connection, 2000, () => undefined).catch(() => undefined);
    const reset = new pg.Client(embedded.connection);
    await reset.connect();
    await reset.query('truncate things');
    const before = memoryOf(embedded.pid() ?? 0);
    await playOn(embedded.connection, OPERATIONS, (client, answer) => {
      const expected = theirs[client]?.[heard[client] ?? 0];
      heard[client] = (heard[client] ?? 0) + 1;
      if (expected && JSON.stringify(expected) !== JSON.stringify(answer) && wrong++ < 5)
        expect({ client, at: heard[client], answer }).toEqual({
          client,
          at: heard[client],
          answer: expected,
        });
    });
    const { rows } = await reset.query<{ count: string }>('select count(*) from things');
    await reset.end();
    expect(wrong).toBe(0);
    expect(heard.reduce((sum, count) => sum + count, 0)).toBeGreaterThanOrEqual(OPERATIONS);
    expect(Number(rows[0]?.count)).toBeGreaterThan(0);
    // Nothing of a statement stays behind: what grows is the database's own cache.
    expect(memoryOf(embedded.pid() ?? 0) - before).toBeLessThan(150 * 1024 * 1024);
  },
  LONG ? 60 * 60_000 : 120_000,
);
