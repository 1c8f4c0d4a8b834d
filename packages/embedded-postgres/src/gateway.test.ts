// The gateway under many clients at once: nothing of one is ever answered to another, and nobody hangs.
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { connect } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';
import pg from 'pg';
import { from as copyFrom, to as copyTo } from 'pg-copy-streams';
import { Gateway, openDatabase, type OpenDatabase } from './index.js';

let directory: string;
let database: OpenDatabase;
let gateway: Gateway;
let pool: pg.Pool;

beforeAll(async () => {
  directory = mkdtempSync(join(tmpdir(), 'gw-'));
  database = await openDatabase({ directory: join(directory, 'pg'), fsync: false });
  gateway = new Gateway(database);
  await gateway.listen(join(directory, '.s.PGSQL.5432'));
  pool = new pg.Pool({
    host: directory,
    port: 5432,
    user: 'postgres',
    database: 'postgres',
    max: 10,
  });
  pool.on('error', () => undefined);
  await pool.query('create table things (id int primary key, owner int not null, body text)');
}, 60_000);

afterAll(async () => {
  await pool.end();
  await gateway.close();
  await database.close();
  rmSync(directory, { recursive: true, force: true });
});

const big = (sign: string): string => sign.repeat(5 * 1024 * 1024);

/** What one client does in the mix; throws when an answer is not its own. */
const deeds: ((client: number, round: number) => Promise<void>)[] = [
  async (client, round) => {
    const { rows } = await pool.query('select $1::int as client, $2::text as round', [
      client,
      String(round),
    ]);
    expect(rows).toEqual([{ client, round: String(round) }]);
  },
  async (client, round) => {
    const { rows } = await pool.query({
      name: `same-name-${client % 3}`,
      text: `select $1::int * ${(client % 3) + 1} as product`,
      values: [round],
    });
    expect(rows).toEqual([{ product: round * ((client % 3) + 1) }]);
  },
  async () => {
    await expect(pool.query('select 1 / 0')).rejects.toThrow('division by zero');
    await expect(pool.query('select $1::int', ['x'])).rejects.toThrow('invalid input syntax');
    await expect(pool.query('selec')).rejects.toThrow('syntax error');
  },
  async (client, round) => {
    const id = client * 10_000 + round;
    const one = await pool.connect();
    try {
      await one.query('begin');
      await one.query('insert into things values ($1, $2, $3)', [id, client, 'first']);
      await one.query('update things set body = $2 where id = $1', [id, 'second']);
      const { rows } = await one.query('select owner, body from things where id = $1', [id]);
      expect(rows).toEqual([{ owner: client, body: 'second' }]);
      await one.query(round % 2 === 0 ? 'commit' : 'rollback');
    } finally {
      one.release();
    }
    const { rows } = await pool.query('select count(*)::int as count from things where id = $1', [
      id,
    ]);
    expect(rows[0]).toEqual({ count: round % 2 === 0 ? 1 : 0 });
  },
  async (client) => {
    const one = await pool.connect();
    try {
      await one.query('begin');
      await expect(one.query('select nothing_there')).rejects.toThrow('does not exist');
      await expect(one.query('select 1')).rejects.toThrow('current transaction is aborted');
      await one.query('rollback');
      expect((await one.query('select $1::int as client', [client])).rows).toEqual([{ client }]);
    } finally {
      one.release();
    }
  },
  async (client, round) => {
    const from = 1_000_000 + client * 100_000 + round * 1000;
    const one = await pool.connect();
    try {
      const lines = Array.from({ length: 500 }, (_, at) => `${from + at}\t${client}\tcopied\n`);
      await pipeline(Readable.from(lines), one.query(copyFrom('copy things from stdin')));
      let out = '';
      for await (const chunk of one.query(
        copyTo(
          `copy (select id from things where owner = ${client} and id between ${from} and ${from + 499} order by id) to stdout`,
        ),
      ))
        out += String(chunk);
      expect(out.trim().split('\n').map(Number)).toEqual(
        Array.from({ length: 500 }, (_, at) => from + at),
      );
      await expect(
        pipeline(
          Readable.from([`${from}\t${client}\ttwice\n`]),
          one.query(copyFrom('copy things from stdin')),
        ),
      ).rejects.toThrow('duplicate key');
    } finally {
      one.release();
    }
  },
];

it('mixes ten clients without one wrong or hanging answer', async () => {
  const rounds = 40;
  await Promise.all(
    Array.from({ length: 10 }, async (_, client) => {
      for (let round = 0; round < rounds; round++)
        await deeds[(client + round) % deeds.length]?.(client, round);
    }),
  );
}, 120_000);

it('carries values of 5 MB both ways', async () => {
  const bodies = ['a', 'b', 'c'].map(big);
  const found = await Promise.all(
    bodies.map(
      async (body) =>
        (await pool.query<{ body: string }>('select $1::text as body', [body])).rows[0]?.body,
    ),
  );
  found.forEach((body, at) => expect(body === bodies[at]).toBe(true));
}, 60_000);

it('keeps nothing of what it has answered', async () => {
  setFlagsFromString('--expose_gc');
  const collect = runInNewContext('gc') as () => void;
  const ask = (times: number): Promise<unknown> =>
    Promise.all(
      Array.from({ length: times }, () => pool.query("select repeat('x', 1000000) as body")),
    );
  const used = (): number => {
    collect();
    return process.memoryUsage().heapUsed;
  };
  await ask(10);
  const before = used();
  for (let round = 0; round < 5; round++) await ask(10);
  expect(used() - before).toBeLessThan(10 * 1024 * 1024);
});

it('goes on after clients that are killed in the middle', async () => {
  for (let round = 0; round < 10; round++) {
    const client = new pg.Client({
      host: directory,
      port: 5432,
      user: 'postgres',
      database: 'postgres',
    });
    client.on('error', () => undefined);
    await client.connect();
    await client.query('begin');
    await client.query('insert into things values ($1, 0, $2)', [-1 - round, 'never kept']);
    client.query('select pg_sleep(0.01)').catch(() => undefined);
    (
      client as unknown as { connection: { stream: { destroy(): void } } }
    ).connection.stream.destroy();
  }
  expect((await pool.query('select count(*)::int as count from things where id < 0')).rows).toEqual(
    [{ count: 0 }],
  );
});

it('ends a transaction that is left alone while others wait, however many come, and says so to its owner', async () => {
  const strict = new Gateway(database, { idleInTransaction: 400 });
  const place = {
    host: join(directory, 'strict'),
    port: 5432,
    user: 'postgres',
    database: 'postgres',
  };
  mkdirSync(place.host);
  await strict.listen(join(place.host, '.s.PGSQL.5432'));
  const waiting = new pg.Pool({ ...place, max: 100 });
  const sleeper = new pg.Client(place);
  const ended = new Promise<Error & { code?: string }>((resolve) => sleeper.on('error', resolve));
  await sleeper.connect();
  await sleeper.query('begin');
  await sleeper.query("insert into things values (-100, 0, 'held')");
  const before = Date.now();
  try {
    const counts: Promise<pg.QueryResult>[] = [];
    let over = false;
    void ended.then(() => (over = true));
    while (!over && counts.length < 100) {
      counts.push(waiting.query('select count(*)::int as count from things where id = -100'));
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
    for (const { rows } of await Promise.all(counts)) expect(rows).toEqual([{ count: 0 }]);
    expect(Date.now() - before).toBeGreaterThanOrEqual(350);
    expect(counts.length).toBeLessThan(100);
    expect((await ended).code).toBe('25P03');
  } finally {
    await waiting.end();
    await strict.close();
  }
});

it('refuses what is not the protocol, and COPY by the extended one, without harm to others', async () => {
  const socket = connect(join(directory, '.s.PGSQL.5432'));
  const answer = new Promise<string>((resolve) =>
    socket.once('data', (chunk) => resolve(String(chunk))),
  );
  socket.write(Buffer.from([0x7f, 0xff, 0xff, 0xff, 0, 0, 0, 0]));
  expect(await answer).toContain('08P01');
  await expect(pool.query('copy things from stdin where $1', [1])).rejects.toThrow(
    'simple query protocol',
  );
  expect((await pool.query('select 1 as one')).rows).toEqual([{ one: 1 }]);
});
