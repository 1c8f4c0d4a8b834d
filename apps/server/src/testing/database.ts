// A real embedded database per test file, copied from a template that is made once per schema.
import { createHash } from 'node:crypto';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { fromTemplate } from '@palabra/embedded-postgres';
import { startNative } from '@palabra/embedded-postgres/testing/native';
import { workKinds } from '@palabra/core/office';
import PgBoss from 'pg-boss';
import { openDatabase, type Database } from '../platform/database.js';

const server = dirname(dirname(dirname(fileURLToPath(import.meta.url))));

function schemaKey(): string {
  const hash = createHash('sha256');
  const folder = join(server, 'drizzle');
  for (const file of readdirSync(folder)
    .filter((name) => name.endsWith('.sql'))
    .sort())
    hash.update(readFileSync(join(folder, file)));
  hash.update(workKinds.join());
  return `schema-${hash.digest('hex').slice(0, 16)}`;
}

/** The queue makes its tables at its first start, which takes longer than most tests. */
async function makeQueues({ connection }: Database): Promise<void> {
  const boss = new PgBoss({ ...connection, max: 1, schema: 'pgboss' });
  boss.on('error', () => undefined);
  await boss.start();
  for (const kind of workKinds) await boss.createQueue(kind);
  await boss.stop({ graceful: false });
}

export interface TestDatabase {
  readonly database: Database;
  readonly dataDir: string;
  drop(): Promise<void>;
}

let isOnServer = false;
/** From here on test databases are on a PostgreSQL server of this machine. */
export const onServer = (): void => {
  isOnServer = true;
};

async function openOnServer(): Promise<TestDatabase> {
  const native = await startNative();
  if (!native) throw new Error('no PostgreSQL server is installed');
  const dataDir = mkdtempSync(join(tmpdir(), 'palabra-on-'));
  const databaseUrl = `postgres://postgres@localhost/postgres?host=${encodeURIComponent(native.connection.host)}`;
  const database = await openDatabase({ dataDir, databaseUrl, fsync: false });
  return {
    database,
    dataDir,
    drop: async () => {
      await database.close();
      await native.stop();
      rmSync(dataDir, { recursive: true, force: true });
    },
  };
}

export async function openTestDatabase(): Promise<TestDatabase> {
  if (isOnServer) return openOnServer();
  const cache = join(server, '..', '..', '.cache', 'templates');
  mkdirSync(cache, { recursive: true });
  const dataDir = mkdtempSync(join(tmpdir(), 'palabra-test-'));
  await fromTemplate(cache, schemaKey(), dataDir, async (directory) => {
    const made = await openDatabase({ dataDir: directory, databaseUrl: undefined, fsync: false });
    await makeQueues(made);
    await made.close();
  });
  const database = await openDatabase({ dataDir, databaseUrl: undefined, fsync: false });
  return {
    database,
    dataDir,
    drop: async () => {
      await database.close();
      rmSync(dataDir, { recursive: true, force: true });
    },
  };
}
