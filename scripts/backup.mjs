// npm run backup -- FILE: one file with everything the office has, made while Palabra runs or not.
// It is opened and read once before it is called good. Options: --demo, --contacts N.
import { spawnSync } from 'node:child_process';
import {
  appendFileSync,
  cpSync,
  existsSync,
  mkdtempSync,
  renameSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import { build } from './build.mjs';
import { dataDir, plain, stop } from './places.mjs';
import { needNode, needPackages } from './setup.mjs';

const [name] = plain;
if (!name) stop('Say which file to write: npm run backup -- office.palabra.tgz');
const file = resolve(name);
if (process.env.DATABASE_URL)
  stop(
    'The office is on a PostgreSQL server: back it up with the server’s own means, such as pg_dump.',
  );
if (existsSync(file)) stop(`${file} is there already. Choose another name, or move it away.`);
if (!existsSync(join(dataDir, 'pg')))
  stop(`There is no office in ${dataDir}. Name its directory with DATA_DIR.`);
needNode();
needPackages();
await build(undefined, ['packages/embedded-postgres']);
const {
  MIGRATIONS,
  copyRunning,
  fingerprint,
  keepToOneself,
  lockDirectory,
  runningOn,
  startEmbedded,
} = await import('@palabra/embedded-postgres');
const { default: pg } = await import('pg');

// A backup holds everything.
keepToOneself();

const say = (text) => process.stdout.write(`${text}\n`);
async function withClient(connection, work) {
  const client = new pg.Client({ ...connection, application_name: MIGRATIONS });
  await client.connect();
  try {
    return await work(async (text) => (await client.query(text)).rows);
  } finally {
    await client.end();
  }
}

const begun = new Date().toISOString();
// Beside the target, so that moving it into place is one step.
const half = mkdtempSync(join(dirname(file), '.palabra-backup-'));
try {
  const copy = join(half, 'data');
  const running = runningOn(dataDir);
  if (running) {
    say('copying the running database …');
    await withClient(running, (query) => copyRunning(query, dataDir, copy));
  } else {
    say('copying the database …');
    const release = await lockDirectory(dataDir);
    cpSync(join(dataDir, 'pg'), join(copy, 'pg'), { recursive: true });
    release();
  }
  say('reading the copy …');
  const embedded = await startEmbedded({ directory: copy });
  const tables = await withClient(embedded.connection, fingerprint);
  await embedded.stop();
  writeFileSync(
    join(half, 'manifest.json'),
    JSON.stringify({ palabra: 1, made: new Date().toISOString(), tables }, null, 1),
  );
  say('packing …');
  const packed = spawnSync('tar', ['-czf', `${file}.half`, '-C', half, 'manifest.json', 'data'], {
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  if (packed.status !== 0)
    throw new Error('The file could not be written. Is there room on the disk?');
  renameSync(`${file}.half`, file);
  // Whoever is erased later is told which backups hold them still.
  appendFileSync(join(dataDir, 'backups.jsonl'), `${JSON.stringify({ at: begun, file })}\n`);
  const rows = Object.values(tables).reduce((sum, table) => sum + table.rows, 0);
  say(
    `${file}: ${Object.keys(tables).length} tables, ${rows.toLocaleString('en')} rows, ${Math.ceil(statSync(file).size / 1024 / 1024)} MB.`,
  );
} catch (error) {
  rmSync(`${file}.half`, { force: true });
  process.exitCode = 1;
  process.stderr.write(`${error.message}\nNo backup was written.\n`);
} finally {
  rmSync(half, { recursive: true, force: true });
}
