// Starts the embedded PostgreSQL in a child process and keeps it running.
import { fork, type ChildProcess } from 'node:child_process';
import {
  existsSync,
  cpSync,
  mkdtempSync,
  readFileSync,
  renameSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { ChildMessage } from './child.js';
import { STATEMENT_MS } from './deadline.js';

export { copyRunning, differences, fingerprint, type Fingerprint, type Query } from './backup.js';
export { OVERDUE, STATEMENT_MS } from './deadline.js';
export { Gateway, MIGRATIONS, type GatewayOptions, type Session } from './gateway.js';
export { DirectoryInUse, lockDirectory } from './lock.js';
export { keepToOneself, ownDirectory } from './own.js';
export { openDatabase, type OpenDatabase } from './session.js';

export interface EmbeddedOptions {
  readonly directory: string;
  readonly fsync?: boolean;
  /** As long as a statement may take, in milliseconds. */
  readonly statementMs?: number;
  /** Told whenever the child died by itself and is being started again. */
  readonly onRestart?: (code: number | null, signal: NodeJS.Signals | null) => void;
}

export interface EmbeddedPostgres {
  /** For `pg`: a directory as host means a Unix socket. */
  readonly connection: {
    readonly host: string;
    readonly port: number;
    readonly user: string;
    readonly database: string;
  };
  /** Process number of the child, for tests that kill it. */
  pid(): number | undefined;
  stop(): Promise<void>;
}

const CHILD = fileURLToPath(new URL('./child.js', import.meta.url));
const PORT = 5432;
/** Says in the data directory where the running database listens. */
const SOCKET_NOTE = 'palabra.socket';

const connectionIn = (sockets: string): EmbeddedPostgres['connection'] => ({
  host: sockets,
  port: PORT,
  user: 'postgres',
  database: 'postgres',
});

/** How to reach the database that runs on a directory, or undefined when none does. */
export function runningOn(directory: string): EmbeddedPostgres['connection'] | undefined {
  const note = join(directory, SOCKET_NOTE);
  const sockets = existsSync(note) ? readFileSync(note, 'utf8') : '';
  return sockets !== '' && existsSync(join(sockets, `.s.PGSQL.${PORT}`))
    ? connectionIn(sockets)
    : undefined;
}

/** Starts the database on a directory; fails with one clear sentence when that can't be done. */
export async function startEmbedded({
  directory,
  fsync = true,
  statementMs = STATEMENT_MS,
  onRestart,
}: EmbeddedOptions): Promise<EmbeddedPostgres> {
  // Unix socket paths may be 107 bytes long at the most, so the socket does not live in the data directory.
  const sockets = mkdtempSync(join(tmpdir(), 'palabra-'));
  const socketPath = join(sockets, `.s.PGSQL.${PORT}`);
  let child: ChildProcess | undefined;
  let stopping = false;

  const launch = (): Promise<void> =>
    new Promise((resolve, reject) => {
      rmSync(socketPath, { force: true });
      const started = fork(CHILD, [directory, socketPath, fsync ? 'on' : 'off', `${statementMs}`], {
        stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
        execArgv: [],
      });
      child = started;
      let ready = false;
      started.on('message', (message: ChildMessage) => {
        if ('ready' in message) {
          ready = true;
          resolve();
        } else reject(new Error(message.failed));
      });
      started.once('exit', (code, signal) => {
        if (stopping) return;
        if (!ready)
          return reject(
            new Error(`The database process ended while starting (${signal ?? code}).`),
          );
        onRestart?.(code, signal);
        void relaunch();
      });
    });

  const relaunch = async (): Promise<void> => {
    for (let wait = 50; !stopping; wait = Math.min(wait * 2, 5000)) {
      try {
        await launch();
        return;
      } catch {
        await new Promise((resolve) => setTimeout(resolve, wait));
      }
    }
  };

  /** Ends the child; it writes out what it has first. */
  const end = async (): Promise<void> => {
    const running = child;
    if (!running || running.exitCode !== null || running.signalCode !== null) return;
    const gone = new Promise<void>((resolve) => running.once('exit', () => resolve()));
    if (running.connected) running.send('stop');
    const hard = setTimeout(() => running.kill('SIGKILL'), 15_000);
    await gone;
    clearTimeout(hard);
  };

  try {
    await launch();
  } catch (error) {
    stopping = true;
    rmSync(sockets, { recursive: true, force: true });
    throw error;
  }

  writeFileSync(join(directory, SOCKET_NOTE), sockets);

  return {
    connection: connectionIn(sockets),
    pid: () => child?.pid,
    stop: async () => {
      stopping = true;
      await end();
      rmSync(join(directory, SOCKET_NOTE), { force: true });
      rmSync(sockets, { recursive: true, force: true });
    },
  };
}

/**
 * Gives `directory` the contents of the cached template named `key`, made by `make` the first time.
 * A fresh database takes 4 to 16 s, a copy less than one.
 */
export async function fromTemplate(
  cache: string,
  key: string,
  directory: string,
  make: (directory: string) => Promise<void>,
): Promise<void> {
  const template = join(cache, key);
  if (!existsSync(template)) {
    const half = `${template}.${process.pid}.half`;
    rmSync(half, { recursive: true, force: true });
    await make(half);
    try {
      renameSync(half, template);
    } catch {
      // Somebody else finished the same template first; theirs is as good.
      rmSync(half, { recursive: true, force: true });
    }
  }
  cpSync(template, directory, { recursive: true });
}
