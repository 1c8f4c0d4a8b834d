// The embedded database behind its gateway, beside the same library in this process and a PostgreSQL server.
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { startEmbedded } from '@palabra/embedded-postgres';
import { startNative } from '@palabra/embedded-postgres/testing/native';
import { PGlite } from '@electric-sql/pglite';
import pg from 'pg';
import { inTurn, pairRow, type Row } from './measure.js';

const ROWS = 20_000;
const setUp = [
  'create table t (id int primary key, name text, fields jsonb)',
  `insert into t select g, 'name ' || g, jsonb_build_object('a', g) from generate_series(1, ${ROWS}) g`,
  'analyze t',
];

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
      pairRow(
        'gateway, 100 reads by key',
        await inTurn(
          30,
          hundred((values) => client.query(one, values)),
          hundred((values) => inProcess.query(one, values)),
        ),
        'stated',
      ),
      pairRow(
        'gateway, 1,000 rows',
        await inTurn(
          60,
          (round) => client.query(thousand, key(round)),
          (round) => inProcess.query(thousand, key(round)),
        ),
        '≤ 1.3',
      ),
    ];
    if (native) {
      rows.push(
        pairRow(
          'gateway, 100 reads by key, against a PostgreSQL server',
          await inTurn(
            30,
            hundred((values) => client.query(one, values)),
            hundred((values) => native.client.query(one, values)),
          ),
          'stated',
        ),
        pairRow(
          'gateway, 1,000 rows, against a PostgreSQL server',
          await inTurn(
            60,
            (round) => client.query(thousand, key(round)),
            (round) => native.client.query(thousand, key(round)),
          ),
          'stated',
        ),
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
