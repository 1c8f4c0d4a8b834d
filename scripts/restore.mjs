// npm run restore -- FILE: puts a backup in the place of the office's data. What was there is moved aside, not
// deleted; and nothing is moved before every table was read and compared. Options: --demo, --contacts N.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, renameSync, rmSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { build } from './build.mjs';
import { base, dataDir, plain, stop } from './places.mjs';
import { needNode, needPackages } from './setup.mjs';

const [name] = plain;
if (!name) stop('Say which file to bring back: npm run restore -- office.palabra.tgz');
const file = resolve(name);
if (process.env.DATABASE_URL)
  stop(
    'DATABASE_URL names a PostgreSQL server; a backup of the embedded database can’t be put there.',
  );
if (!existsSync(file)) stop(`There is no file ${file}.`);
needNode();
needPackages();
await build(undefined, ['packages/embedded-postgres']);
const { MIGRATIONS, differences, fingerprint, keepToOneself, runningOn, startEmbedded } =
  await import('@palabra/embedded-postgres');
const { default: pg } = await import('pg');
if (runningOn(dataDir)) stop(`Palabra runs on ${dataDir}. Stop it first.`);

keepToOneself();

const say = (text) => process.stdout.write(`${text}\n`);
const half = `${base}.restoring`;
rmSync(half, { recursive: true, force: true });
mkdirSync(half, { recursive: true });
try {
  say('unpacking …');
  const unpacked = spawnSync('tar', ['-xzf', file, '-C', half], {
    stdio: ['ignore', 'ignore', 'ignore'],
  });
  if (
    unpacked.status !== 0 ||
    !existsSync(join(half, 'manifest.json')) ||
    !existsSync(join(half, 'data', 'pg'))
  )
    throw new Error(`${file} is no backup of Palabra, or it is damaged.`);
  const { tables, made } = JSON.parse(readFileSync(join(half, 'manifest.json'), 'utf8'));
  say('comparing every table …');
  const embedded = await startEmbedded({ directory: join(half, 'data') });
  const client = new pg.Client({ ...embedded.connection, application_name: MIGRATIONS });
  await client.connect();
  const found = await fingerprint(async (text) => (await client.query(text)).rows);
  await client.end();
  await embedded.stop();
  const wrong = differences(tables, found);
  if (wrong.length > 0) throw new Error(`The backup is damaged:\n  ${wrong.join('\n  ')}`);
  mkdirSync(base, { recursive: true });
  let aside = '';
  if (existsSync(dataDir)) {
    aside = `${dataDir}.before-${new Date().toISOString().replace(/[:.]/g, '-')}`;
    renameSync(dataDir, aside);
  }
  renameSync(join(half, 'data'), dataDir);
  say(
    `The office is as it was on ${made}: ${Object.keys(found).length} tables, all as in the backup.`,
  );
  if (aside) say(`What was there before is in ${aside}; delete it when you are sure.`);
} catch (error) {
  process.exitCode = 1;
  process.stderr.write(`${error.message}\nNothing was changed.\n`);
} finally {
  rmSync(half, { recursive: true, force: true });
}
