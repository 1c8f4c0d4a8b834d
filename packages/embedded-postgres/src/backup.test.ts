import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  copyRunning,
  differences,
  fingerprint,
  startEmbedded,
  type EmbeddedPostgres,
  type Query,
} from '@palabra/embedded-postgres';
import pg from 'pg';

const folder = mkdtempSync(join(tmpdir(), 'palabra-backup-'));
const open: { stop(): Promise<void> }[] = [];
afterAll(async () => {
  for (const one of open.reverse()) await one.stop();
  rmSync(folder, { recursive: true, force: true });
});

async function start(name: string): Promise<EmbeddedPostgres> {
  const embedded = await startEmbedded({ directory: join(folder, name) });
  open.push(embedded);
  return embedded;
}

async function connect({
  connection,
}: EmbeddedPostgres): Promise<{ client: pg.Client; query: Query }> {
  const client = new pg.Client(connection);
  await client.connect();
  open.push({ stop: () => client.end() });
  return {
    client,
    query: async (text) => (await client.query<Record<string, unknown>>(text)).rows,
  };
}

it('copies a database while clients write to it, and holds all that was committed by then', async () => {
  const { client, query } = await connect(await start('running'));
  await client.query('create table kept (id int primary key, text text)');
  await client.query(
    `insert into kept select g, repeat('x', 200) from generate_series(1, 20000) g`,
  );
  await client.query(`create table gone (id int)`);

  const { client: writer } = await connect({
    connection: (open[0] as EmbeddedPostgres).connection,
  } as EmbeddedPostgres);
  let written = 0;
  let stop = false;
  const writing = (async () => {
    while (!stop) {
      await writer.query('insert into kept values ($1, $2)', [100_000 + written, 'meanwhile']);
      await writer.query('update kept set text = $2 where id = $1', [
        1 + (written % 20_000),
        `changed ${written}`,
      ]);
      written++;
    }
  })();
  await copyRunning(query, join(folder, 'running'), join(folder, 'copy'));
  const atLeast = written;
  stop = true;
  await writing;
  expect(atLeast).toBeGreaterThan(5);

  const copy = await connect(await start('copy'));
  const { rows } = await copy.client.query<{ count: string; changed: string }>(
    `select count(*) filter (where id >= 100000) as count, count(*) filter (where text like 'changed%') as changed from kept`,
  );
  expect(Number(rows[0]?.count)).toBeGreaterThanOrEqual(atLeast - 1);
  expect(Number(rows[0]?.count)).toBeLessThanOrEqual(written);
  // The copy is a database in its own right, and the running one takes another copy.
  await copy.client.query(`insert into gone values (1)`);
  await copyRunning(query, join(folder, 'running'), join(folder, 'again'));
  const again = await connect(await start('again'));
  expect(differences(await fingerprint(query), await fingerprint(again.query))).toEqual([]);
  expect(differences(await fingerprint(query), await fingerprint(copy.query)).join()).toContain(
    'public.gone: 0 rows expected, 1 found',
  );
}, 90_000);

it('goes on after a copy that was cut off, and leaves the running database as it was', async () => {
  const { client, query } = await connect(await start('cut'));
  await client.query('create table t as select 1 as id');
  await query("select pg_backup_start('palabra', true)");
  await copyRunning(query, join(folder, 'cut'), join(folder, 'cut copy'));
  expect(existsSync(join(folder, 'cut copy', 'pg', 'backup_label'))).toBe(true);
  expect(existsSync(join(folder, 'cut', 'pg', 'backup_label'))).toBe(false);
  await expect(query('select pg_backup_stop(false)')).rejects.toThrow(/not in progress/);
}, 60_000);
