// Killed in the middle of a send: after a restart nobody has two letters, and everybody is accounted for.
import { fork, type ChildProcess } from 'node:child_process';
import { rmSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { openTestDatabase } from '../testing/database.js';
import { startMailServer } from '../testing/mail-server.js';
import { importPeople, makeCampaign, send } from '../testing/round.js';
import { PASSWORD, until, type Reply } from '../testing/server.js';

const PEOPLE = 400;
const CONNECTIONS = 5;
const KILLS = Number(process.env['KILLS'] ?? 3);
const main = join(dirname(dirname(dirname(fileURLToPath(import.meta.url)))), 'dist', 'main.js');

async function start(env: Record<string, string>): Promise<{ child: ChildProcess; url: string }> {
  const child = fork(main, [], { env: { ...process.env, ...env }, stdio: ['ignore', 'ignore', 'inherit', 'ipc'], execArgv: [] });
  const port = await new Promise<number>((resolve, reject) => {
    child.on('message', (message: { ready?: number; failed?: string }) => {
      if (message.ready) resolve(message.ready);
      if (message.failed) reject(new Error(message.failed));
    });
    child.once('exit', () => reject(new Error('the server ended')));
  });
  return { child, url: `http://127.0.0.1:${port}` };
}

it('leaves nobody out and nobody twice', async () => {
  const mail = await startMailServer();
  mail.delay = 8;
  const { database, dataDir } = await openTestDatabase();
  await database.close();
  const env = { PORT: '0', DATA_DIR: dataDir, SMTP_URL: mail.url, PUBLIC_URL: 'http://letters.example.com', WEB_DIR: '/nowhere', LOG_LEVEL: 'silent', LEASE_MS: '1500', SMTP_CONNECTIONS: String(CONNECTIONS), PACE: '6000', FSYNC: 'off' };
  let running = await start(env);
  let cookie = '';
  const call = async (method: string, path: string, data?: unknown, { headers = {} }: { headers?: Record<string, string> } = {}): Promise<Reply> => {
    const isText = typeof data === 'string';
    const response = await fetch(running.url + path, { method, headers: { 'x-requested-by': 'palabra', cookie, ...(isText || data === undefined ? {} : { 'content-type': 'application/json' }), ...headers }, ...(data === undefined ? {} : { body: isText ? data : JSON.stringify(data) }) });
    const text = await response.text();
    const set = response.headers.get('set-cookie');
    if (set) cookie = set.split(';')[0] ?? '';
    return { status: response.status, headers: response.headers, text, body: text === '' ? undefined : (JSON.parse(text) as unknown) };
  };
  try {
    await call('POST', '/api/setup', { officeName: 'Garden', postalAddress: '3 Walk', timeZone: 'UTC', name: 'Ines', address: 'ines@example.com', password: PASSWORD });
    await importPeople({ call }, `email\n${Array.from({ length: PEOPLE }, (_, at) => `person${at}@example.com`).join('\n')}\n`);
    const { campaign } = await makeCampaign({ call });
    await send({ call }, campaign);
    for (let kill = 1; kill <= KILLS; kill++) {
      const goal = (PEOPLE * kill) / (KILLS + 1);
      await until(`${goal} letters`, async () => mail.taken.length >= goal);
      const gone = new Promise((resolve) => running.child.once('exit', resolve));
      running.child.removeAllListeners('message');
      running.child.kill('SIGKILL');
      await gone;
      running = await start(env);
    }
    await until('the campaign to be sent', async () => (await call('GET', `/api/campaigns/${campaign}`)).body.status === 'sent', 60_000);

    const { body: progress } = await call('GET', `/api/campaigns/${campaign}/progress`);
    const addresses = mail.taken.map(({ to }) => to);
    expect(new Set(addresses).size).toBe(addresses.length);
    expect(progress).toMatchObject({ waiting: 0, deferred: 0, total: PEOPLE });
    expect((progress.accepted as number) + (progress.uncertain as number)).toBe(PEOPLE);
    expect(progress.uncertain).toBeLessThanOrEqual(KILLS * CONNECTIONS);
    // Every accepted one has exactly one; an uncertain one has none or one.
    expect(addresses.length).toBeGreaterThanOrEqual(progress.accepted as number);
    expect(addresses.length).toBeLessThanOrEqual(PEOPLE);
  } finally {
    const gone = new Promise((resolve) => running.child.once('exit', resolve));
    running.child.kill('SIGTERM');
    await gone;
    await mail.stop();
    rmSync(dataDir, { recursive: true, force: true });
  }
}, 180_000);
