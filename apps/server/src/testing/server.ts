// The whole server on a test database, spoken to over HTTP as a browser would.
import { readConfig } from '../platform/config.js';
import { startServer, type RunningServer } from '../server.js';
import { openTestDatabase, type TestDatabase } from './database.js';

export interface Reply {
  readonly status: number;
  readonly headers: Headers;
  readonly text: string;
  // Tests look into replies of many shapes.
  // eslint-disable-next-line @typescript-eslint/no-explicit-any
  readonly body: any;
}

export interface TestServer extends TestDatabase {
  readonly url: string;
  /** What the first visit asked for. */
  readonly setUpCode: string;
  /** Where returned mail is taken, with RETURNS_PORT. */
  readonly returnsPort: number;
  /** One request with the session of the given cookie; objects go as JSON, text and bytes as they are. */
  readonly call: (
    method: string,
    path: string,
    data?: unknown,
    options?: { cookie?: string; headers?: Record<string, string> },
  ) => Promise<Reply>;
  /** The coordinator's cookie, after set-up. */
  readonly coordinator: string;
  signIn(address: string): Promise<string>;
  /** A colleague who has chosen the password of all tests. */
  account(who: { name: string; address: string; role: string }): Promise<number>;
  stop(): Promise<void>;
}

export const PASSWORD = 'a long enough password';

/** A server with an office and its coordinator, or without when the first visit is what is tested; on a database of its own, or on one that has an office. */
export async function startTestServer(
  env: Record<string, string> = {},
  { isSetUp = true, on }: { isSetUp?: boolean; on?: TestDatabase } = {},
): Promise<TestServer> {
  const test = on ?? (await openTestDatabase());
  const config = readConfig({
    PORT: '0',
    PUBLIC_URL: 'http://letters.example.com',
    SMTP_URL: 'smtp://127.0.0.1:9',
    PACE: '6000',
    LEASE_MS: '1500',
    WEB_DIR: '/nowhere',
    DATA_DIR: test.dataDir,
    ...env,
  });
  const running: RunningServer = await startServer(config, test.database);
  const url = `http://127.0.0.1:${running.port}`;
  const server = { coordinator: '' };

  const call: TestServer['call'] = async (
    method,
    path,
    data,
    { cookie = server.coordinator, headers = {} } = {},
  ) => {
    const isRaw = typeof data === 'string' || Buffer.isBuffer(data);
    const response = await fetch(url + path, {
      method,
      redirect: 'manual',
      headers: {
        'x-requested-by': 'palabra',
        ...(cookie ? { cookie } : {}),
        ...(data !== undefined && !isRaw ? { 'content-type': 'application/json' } : {}),
        ...headers,
      },
      ...(data === undefined
        ? {}
        : { body: isRaw ? new Uint8Array(Buffer.from(data)) : JSON.stringify(data) }),
    });
    const text = await response.text();
    let body: unknown;
    try {
      body = text === '' ? undefined : JSON.parse(text);
    } catch {
      body = undefined;
    }
    return { status: response.status, headers: response.headers, text, body };
  };
  const cookieOf = (reply: Reply): string =>
    (reply.headers.get('set-cookie') ?? '').split(';')[0] ?? '';
  const signIn = async (address: string): Promise<string> =>
    cookieOf(await call('POST', '/api/session', { address, password: PASSWORD }, { cookie: '' }));

  if (isSetUp && running.setUpCode !== undefined) {
    const setUp = await call('POST', '/api/setup', {
      code: running.setUpCode,
      officeName: 'Garden',
      postalAddress: '3 Orchard Walk',
      timeZone: 'Europe/Lisbon',
      name: 'Ines',
      address: 'ines@example.com',
      password: PASSWORD,
    });
    server.coordinator = cookieOf(setUp);
    // What is ordered goes at once.
    await test.database.db.execute('update offices set hold_seconds = 0');
  }
  return {
    ...test,
    url,
    setUpCode: running.setUpCode ?? '',
    returnsPort: running.returnsPort ?? 0,
    call,
    signIn,
    get coordinator() {
      return server.coordinator;
    },
    account: async (who) => {
      const made = await call('POST', '/api/accounts', who);
      if (made.status !== 201) throw new Error(made.text);
      const { id } = made.body as { id: number };
      const { link } = (await call('POST', `/api/accounts/${id}/link`, { mail: false })).body as {
        link: string;
      };
      const token = link.split('/').at(-1);
      const entered = await call(
        'POST',
        '/api/entry',
        { token, password: PASSWORD },
        { cookie: '' },
      );
      if (entered.status !== 204) throw new Error(entered.text);
      return id;
    },
    stop: async () => {
      await running.close();
      await test.drop().catch(() => undefined);
    },
  };
}

/** Waits until `done` is true; fails with `what` after the time. */
export async function until(
  what: string,
  done: () => Promise<boolean>,
  ms = 30_000,
): Promise<void> {
  const end = Date.now() + ms;
  while (!(await done())) {
    if (Date.now() > end) throw new Error(`waited too long for: ${what}`);
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}
