// The office's files are for one user of the machine.
import {
  chmodSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { startEmbedded } from '@palabra/embedded-postgres';

const base = mkdtempSync(join(tmpdir(), 'palabra-own-'));
afterAll(() => rmSync(base, { recursive: true, force: true }));

function* everythingIn(folder: string): Generator<string> {
  yield folder;
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name);
    if (entry.isDirectory()) yield* everythingIn(path);
    else yield path;
  }
}
const forOthers = (folder: string): string[] =>
  [...everythingIn(folder)].filter((path) => (statSync(path).mode & 0o077) !== 0);

it('makes everything of a new database for its user only', async () => {
  const directory = join(base, 'new', 'data');
  const database = await startEmbedded({ directory, fsync: false });
  await database.stop();
  expect(readdirSync(join(directory, 'pg')).length).toBeGreaterThan(10);
  expect(forOthers(directory)).toEqual([]);
}, 60_000);

it('closes a directory that was open to others, at every start', async () => {
  const directory = join(base, 'open');
  mkdirSync(directory);
  writeFileSync(join(directory, 'left.txt'), 'x');
  for (const mode of [0o755, 0o777]) {
    chmodSync(directory, mode);
    const database = await startEmbedded({ directory, fsync: false });
    await database.stop();
    expect((statSync(directory).mode & 0o777).toString(8)).toBe('700');
    expect(forOthers(directory)).toEqual([]);
  }
}, 60_000);
