// The server as a process of its own, started, spoken to and killed as often as a test likes.
import { fork, type ChildProcess } from 'node:child_process';
import { readFileSync, rmSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { openDatabase } from '../platform/database.js';
import { openTestDatabase } from './database.js';
import { wrongFacts } from './facts.js';
import { PASSWORD, type Reply } from './server.js';

const main = join(dirname(dirname(dirname(fileURLToPath(import.meta.url)))), 'dist', 'main.js');

export class ServerProcess {
  private child: ChildProcess | undefined;
  private url = '';
  private cookie = '';

  private constructor(
    private readonly dataDir: string,
    private readonly env: Record<string, string>,
  ) {}

  /** A server with an office, on a data directory that outlives it. */
  static async start(env: Record<string, string>): Promise<ServerProcess> {
    const { database, dataDir } = await openTestDatabase();
    await database.close();
    const server = new ServerProcess(dataDir, {
      PORT: '0',
      DATA_DIR: dataDir,
      PUBLIC_URL: 'http://letters.example.com',
      WEB_DIR: '/nowhere',
      LOG_LEVEL: process.env['KILL_LOG'] ?? 'silent',
      LEASE_MS: '1500',
      PACE: '6000',
      FSYNC: 'off',
      ...env,
    });
    const code = await server.launch();
    await server.call('POST', '/api/setup', {
      code,
      officeName: 'Garden',
      postalAddress: '3 Walk',
      timeZone: 'UTC',
      name: 'Ines',
      address: 'ines@example.com',
      password: PASSWORD,
    });
    return server;
  }

  /** Starts the process; resolves with what a first visit asks for, where there was none. */
  private async launch(): Promise<string | undefined> {
    const child = fork(main, [], {
      env: { ...process.env, ...this.env },
      stdio: ['ignore', process.env['KILL_LOG'] ? 'inherit' : 'ignore', 'inherit', 'ipc'],
      execArgv: [],
    });
    this.child = child;
    const { ready, setUpCode } = await new Promise<{ ready?: number; setUpCode?: string }>(
      (resolve, reject) => {
        child.on('message', (message: { ready?: number; setUpCode?: string; failed?: string }) => {
          if (message.ready) resolve(message);
          if (message.failed) reject(new Error(message.failed));
        });
        child.once('exit', () => reject(new Error('the server ended')));
      },
    );
    child.removeAllListeners('exit');
    this.url = `http://127.0.0.1:${ready ?? 0}`;
    return setUpCode;
  }

  private async end(signal: NodeJS.Signals): Promise<void> {
    const { child } = this;
    if (!child || child.exitCode !== null || child.signalCode !== null) return;
    const gone = new Promise((resolve) => child.once('exit', resolve));
    child.kill(signal);
    await gone;
  }

  /** As a power cut would: nothing is put in order first. */
  async kill(): Promise<void> {
    await this.end('SIGKILL');
    await this.launch();
  }

  /** Kills only the database under the running server. */
  killDatabase(): void {
    const { pid = 0 } = this.child ?? {};
    const [database] = readFileSync(`/proc/${pid}/task/${pid}/children`, 'utf8')
      .trim()
      .split(' ')
      .map(Number);
    if (!database) throw new Error('the database process was not found');
    process.kill(database, 'SIGKILL');
  }

  /** One request, tried again while the database is starting. */
  call = async (
    method: string,
    path: string,
    data?: unknown,
    { headers = {} }: { headers?: Record<string, string> } = {},
  ): Promise<Reply> => {
    for (let left = 100; ; left--) {
      const reply = await this.once(method, path, data, headers);
      if (reply.status !== 503 || left === 0) return reply;
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
  };

  private async once(
    method: string,
    path: string,
    data: unknown,
    headers: Record<string, string>,
  ): Promise<Reply> {
    const isText = typeof data === 'string';
    const response = await fetch(this.url + path, {
      method,
      headers: {
        'x-requested-by': 'palabra',
        cookie: this.cookie,
        ...(isText || data === undefined ? {} : { 'content-type': 'application/json' }),
        ...headers,
      },
      ...(data === undefined ? {} : { body: isText ? data : JSON.stringify(data) }),
    });
    const text = await response.text();
    const set = response.headers.get('set-cookie');
    if (set) this.cookie = set.split(';')[0] ?? '';
    return {
      status: response.status,
      headers: response.headers,
      text,
      body: text === '' ? undefined : (JSON.parse(text) as unknown),
    };
  }

  /** Stops in order, then counts facts that are not what a rebuild gives. */
  async stopAndCompare(): Promise<Record<string, unknown>[]> {
    await this.end('SIGTERM');
    this.child = undefined;
    const database = await openDatabase({
      dataDir: this.dataDir,
      databaseUrl: undefined,
      fsync: false,
    });
    try {
      return await wrongFacts(database.db);
    } finally {
      await database.close();
    }
  }

  async drop(): Promise<void> {
    if (this.child) await this.end('SIGKILL');
    rmSync(this.dataDir, { recursive: true, force: true });
  }
}
