// A demo world of the wanted size, and the server on it as a process of its own.
import { fork, type ChildProcess } from 'node:child_process';
import { existsSync, mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const root = join(import.meta.dirname, '..', '..');

export interface RunningServer {
  readonly url: string;
  readonly pid: number;
  call(
    method: string,
    path: string,
    data?: unknown,
    headers?: Record<string, string>,
  ): Promise<{ status: number; body: unknown }>;
  stop(): Promise<void>;
}

export const dataDirOf = (contacts: number): string => join(root, '.palabra', `bench-${contacts}`);

export const demoSignIn = { address: 'coordinator@quillwater.test', password: 'quillwater' };

export async function startServer(
  dataDir: string,
  env: Record<string, string> = {},
  signIn = demoSignIn,
  setUp?: object,
): Promise<RunningServer> {
  const child: ChildProcess = fork(join(root, 'apps/server/dist/main.js'), [], {
    env: {
      ...process.env,
      PORT: '0',
      DATA_DIR: dataDir,
      PUBLIC_URL: 'http://letters.example.com',
      WEB_DIR: join(root, 'apps/web/dist'),
      LOG_LEVEL: 'error',
      SMTP_URL: 'smtp://127.0.0.1:9',
      PACE: '60',
      RETURNS_PORT: '',
      ...env,
    },
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    execArgv: [],
  });
  const { ready: port = 0, setUpCode } = await new Promise<{ ready?: number; setUpCode?: string }>(
    (resolve, reject) => {
      child.on(
        'message',
        (message: { ready?: number; setUpCode?: string; failed?: string; progress?: string }) => {
          if (message.progress) process.stderr.write(`\r\x1b[K${message.progress}`);
          if (message.ready) resolve(message);
          if (message.failed) reject(new Error(message.failed));
        },
      );
      child.once('exit', () => reject(new Error('the server ended')));
    },
  );
  process.stderr.write('\r\x1b[K');
  const url = `http://127.0.0.1:${port}`;
  let cookie = '';
  const call: RunningServer['call'] = async (method, path, data, headers = {}) => {
    const isRaw = typeof data === 'string' || Buffer.isBuffer(data);
    const body = Buffer.isBuffer(data)
      ? new Uint8Array(data)
      : typeof data === 'string'
        ? data
        : JSON.stringify(data);
    const response = await fetch(url + path, {
      method,
      redirect: 'manual',
      headers: {
        'x-requested-by': 'palabra',
        cookie,
        ...(data === undefined || isRaw ? {} : { 'content-type': 'application/json' }),
        ...headers,
      },
      ...(data === undefined ? {} : { body }),
    });
    const set = response.headers.get('set-cookie');
    if (set) cookie = set.split(';')[0] ?? '';
    const text = await response.text();
    if (response.status >= 400)
      throw new Error(`${method} ${path}: ${response.status} ${text.slice(0, 300)}`);
    return {
      status: response.status,
      body: text.startsWith('{') || text.startsWith('[') ? (JSON.parse(text) as unknown) : text,
    };
  };
  const { needsSetUp } = (await call('GET', '/api/me')).body as { needsSetUp: boolean };
  if (needsSetUp && setUp) await call('POST', '/api/setup', { code: setUpCode, ...setUp });
  else await call('POST', '/api/session', signIn);
  return {
    url,
    pid: child.pid ?? 0,
    call,
    stop: async () => {
      const gone = new Promise((resolve) => child.once('exit', resolve));
      child.kill('SIGTERM');
      await gone;
    },
  };
}

/** Starts on the world of that size, which is made first when it is not there; on a PostgreSQL server by its address. */
export function startWorld(contacts: number, databaseUrl?: string): Promise<RunningServer> {
  if (databaseUrl !== undefined)
    return startServer(mkdtempSync(join(tmpdir(), 'palabra-bench-')), {
      DEMO: String(contacts),
      DATABASE_URL: databaseUrl,
    });
  const dataDir = dataDirOf(contacts);
  if (!existsSync(dataDir))
    process.stderr.write(`making a world of ${contacts.toLocaleString('en')} contacts, once\n`);
  return startServer(dataDir, { DEMO: String(contacts) });
}

/** Resident memory of a process and its children, in bytes. */
export async function memory(pid: number): Promise<number> {
  const { readFileSync } = await import('node:fs');
  const own = (one: number): number => {
    try {
      return (
        1024 * Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${one}/status`, 'utf8'))?.[1] ?? 0)
      );
    } catch {
      return 0;
    }
  };
  return own(pid);
}
