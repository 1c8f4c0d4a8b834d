// A commit is answered only when the disk has it: watched at the file system, where killing a process shows nothing.
import { fsyncSync, mkdtempSync, readlinkSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { DirectoryInUse, lockDirectory, openDatabase } from './index.js';
import { query } from './wire.js';

let directory: string;
beforeEach(() => {
  directory = mkdtempSync(join(tmpdir(), 'durable-'));
});
afterEach(() => rmSync(directory, { recursive: true, force: true }));

/** Commits some rows and counts for how many an fsync of the WAL happened before the answer. */
async function commits(fsync: boolean): Promise<{ answered: number; synced: number }> {
  let walSyncs = 0;
  const db = await openDatabase({
    directory: join(directory, 'pg'),
    fsync,
    onSync: (fd) => {
      if (/pg_wal\/[0-9A-F]{24}$/.test(readlinkSync(`/proc/self/fd/${fd}`))) walSyncs++;
      fsyncSync(fd);
    },
  });
  await db.exec(query('create table kept (id int)'));
  let synced = 0;
  const answered = 20;
  for (let id = 0; id < answered; id++) {
    const before = walSyncs;
    await db.exec(query(`insert into kept values (${id})`));
    if (walSyncs > before) synced++;
  }
  await db.close();
  return { answered, synced };
}

it('syncs the write-ahead log before each commit is answered', async () => {
  expect(await commits(true)).toEqual({ answered: 20, synced: 20 });
});

it('would lose every one of them without', async () => {
  expect((await commits(false)).synced).toBe(0);
});

describe('the lock on a data directory', () => {
  it('refuses a second process with a clear sentence', async () => {
    const release = await lockDirectory(directory);
    await expect(lockDirectory(directory, 0)).rejects.toThrow(DirectoryInUse);
    await expect(lockDirectory(directory, 0)).rejects.toThrow(
      /in use by process \d+\. Stop that one first/,
    );
    release();
    (await lockDirectory(directory, 0))();
  });

  it('takes over from a process that is gone, and from another that got its number', async () => {
    const file = join(directory, 'palabra.lock');
    writeFileSync(file, '999999999 1');
    (await lockDirectory(directory, 0))();
    writeFileSync(file, `${process.pid} 1`);
    (await lockDirectory(directory, 0))();
  });
});
