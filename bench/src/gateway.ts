// The embedded database behind its gateway, beside the same library in this process and a PostgreSQL server.
import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { chmodSync, existsSync, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { startEmbedded } from '@palabra/embedded-postgres';
import { PGlite } from '@electric-sql/pglite';
import pg from 'pg';
import { inTurn, pairRow, type Row } from './measure.js';

const ROWS = 20_000;
const setUp = ['create table t (id int primary key, name text, fields jsonb)', `insert into t select g, 'name ' || g, jsonb_build_object('a', g) from generate_series(1, ${ROWS}) g`, 'analyze t'];

export interface Native {
  readonly client: pg.Client;
  stop(): Promise<void>;
}

/** A PostgreSQL server of this machine on a throw-away cluster, or undefined where none is installed. */
export async function startNative(): Promise<Native | undefined> {
  const versions = existsSync('/usr/lib/postgresql') ? readdirSync('/usr/lib/postgresql') : [];
  const bin = versions.map((version) => `/usr/lib/postgresql/${version}/bin`).find((path) => existsSync(join(path, 'initdb')));
  if (!bin) return undefined;
  // A server refuses to run as root; Debian's package brings an account for it.
  const number = (flag: string): number => Number(spawnSync('id', [flag, 'postgres']).stdout);
  const who = process.getuid?.() === 0 ? { uid: number('-u'), gid: number('-g') } : {};
  const directory = mkdtempSync(join(tmpdir(), 'palabra-native-'));
  chmodSync(directory, 0o777);
  const data = join(directory, 'data');
  if (spawnSync(join(bin, 'initdb'), ['-D', data, '-U', 'postgres', '--auth=trust', '-E', 'UTF8', '--locale=C'], who).status !== 0) return undefined;
  const server: ChildProcess = spawn(join(bin, 'postgres'), ['-D', data, '-k', directory, '-h', ''], { ...who, stdio: 'ignore' });
  for (let left = 100; left > 0; left--) {
    const client = new pg.Client({ host: directory, user: 'postgres', database: 'postgres' });
    try {
      await client.connect();
      return {
        client,
        stop: async () => {
          await client.end();
          server.kill('SIGINT');
          await new Promise((resolve) => server.once('exit', resolve));
          rmSync(directory, { recursive: true, force: true });
        },
      };
    } catch {
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
  }
  server.kill();
  return undefined;
}

export async function gateway(): Promise<Row[]> {
  const directory = mkdtempSync(join(tmpdir(), 'palabra-bench-'));
  const embedded = await startEmbedded({ directory: join(directory, 'gateway') });
  const client = new pg.Client(embedded.connection);
  await client.connect();
  const inProcess = await PGlite.create(join(directory, 'process'));
  const native = await startNative();
  try {
    for (const statement of setUp) {
      await client.query(statement);
      await inProcess.exec(statement);
      await native?.client.query(statement);
    }
    const one = 'select * from t where id = $1';
    const thousand = 'select * from t where id between $1 and $1 + 999';
    const key = (round: number): number[] => [1 + ((round * 7919) % (ROWS - 1000))];
    // Single reads are shorter than the clock is fine: a hundred at a time.
    const hundred = (run: (values: number[]) => Promise<unknown>) => async (round: number) => {
      for (let at = 0; at < 100; at++) await run(key(round * 100 + at));
    };
    const rows = [
      pairRow('gateway, 100 reads by key', await inTurn(30, hundred((values) => client.query(one, values)), hundred((values) => inProcess.query(one, values))), 'stated'),
      pairRow('gateway, 1,000 rows', await inTurn(60, (round) => client.query(thousand, key(round)), (round) => inProcess.query(thousand, key(round))), '≤ 1.3'),
    ];
    if (native) {
      rows.push(
        pairRow('gateway, 100 reads by key, against a PostgreSQL server', await inTurn(30, hundred((values) => client.query(one, values)), hundred((values) => native.client.query(one, values))), 'stated'),
        pairRow('gateway, 1,000 rows, against a PostgreSQL server', await inTurn(60, (round) => client.query(thousand, key(round)), (round) => native.client.query(thousand, key(round))), 'stated'),
      );
    }
    return rows;
  } finally {
    await native?.stop();
    await inProcess.close();
    await client.end();
    await embedded.stop();
    rmSync(directory, { recursive: true, force: true });
  }
}

