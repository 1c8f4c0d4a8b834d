// The database process: PGlite runs synchronously, so it lives here and not beside the requests.
import { watchStatements } from './deadline.js';
import { Gateway } from './gateway.js';
import { lockDirectory } from './lock.js';
import { keepToOneself, ownDirectory, ownFiles } from './own.js';
import { openDatabase } from './session.js';

export type ChildMessage = { readonly ready: true } | { readonly failed: string };

const [directory = '', socketPath = '', fsync = 'on', most] = process.argv.slice(2);

/** To whoever started this; gone, they have nothing to be told. */
const tell = (message: ChildMessage): void => {
  if (process.connected) process.send?.(message, undefined, undefined, () => undefined);
};

async function main(): Promise<void> {
  keepToOneself();
  // Nothing is open yet that would have to be closed.
  const giveUp = (): never => process.exit(1);
  process.on('disconnect', giveUp);
  ownDirectory(directory);
  const release = await lockDirectory(directory);
  const database = await openDatabase({ directory: `${directory}/pg`, fsync: fsync === 'on' });
  ownFiles(directory);
  const gateway = new Gateway(database, { deadline: watchStatements(Number(most)) });
  await gateway.listen(socketPath);

  let stopping = false;
  const stop = async (): Promise<void> => {
    if (stopping) return;
    stopping = true;
    await gateway.close();
    await database.close();
    release();
    process.exit(0);
  };
  process.off('disconnect', giveUp);
  process.on('disconnect', () => void stop());
  if (!process.connected) return stop();
  process.on('message', (message) => {
    if (message === 'stop') void stop();
  });
  // The terminal's Ctrl-C reaches the whole group; the parent decides when the database may stop.
  process.on('SIGINT', () => undefined);
  process.on('SIGTERM', () => undefined);
  tell({ ready: true });
}

main().catch((error: unknown) => {
  const text = error instanceof Error ? error.message : String(error);
  const full = (error as NodeJS.ErrnoException).code === 'ENOSPC' || /no space left/i.test(text);
  tell({ failed: full ? `The disk is full: ${text}` : text });
  process.exit(1);
});
