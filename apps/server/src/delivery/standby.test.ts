// Nobody gets a letter twice because the office forgot: restored in the middle of a send, copied to another place,
// or with a clock that went back, it sends nothing until somebody has looked.
import { cpSync, mkdtempSync, renameSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { copyRunning } from '@palabra/embedded-postgres';
import { sql } from 'drizzle-orm';
import { Continuity } from '../platform/continuity.js';
import { mendContinuity, readContinuity } from '../platform/continuity.store.js';
import { execute, openDatabase } from '../platform/database.js';
import { readConfig } from '../platform/config.js';
import { systemClock } from '../platform/time.js';
import { openTestDatabase, type TestDatabase } from '../testing/database.js';
import { startMailServer, type TestMailServer } from '../testing/mail-server.js';
import { importPeople, makeCampaign, send, untilStatus } from '../testing/round.js';
import { startTestServer, until, type TestServer } from '../testing/server.js';

const PEOPLE = 400;
let mail: TestMailServer;
const folder = mkdtempSync(join(tmpdir(), 'palabra-standby-'));
beforeAll(async () => {
  mail = await startMailServer();
});
afterAll(async () => {
  await mail.stop();
  rmSync(folder, { recursive: true, force: true });
});

const received = (): Map<string, number> => {
  const counts = new Map<string, number>();
  for (const { to } of mail.taken) counts.set(to, (counts.get(to) ?? 0) + 1);
  return counts;
};
const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

describe('a restore in the middle of a send', () => {
  let server: TestServer;
  let restored: TestServer;
  let campaigns: { sent: number; counted: number; stopped: number; planned: number };
  let cookie: string;
  beforeAll(async () => {
    server = await startTestServer({ SMTP_URL: mail.url });
    await importPeople(
      server,
      `email\n${Array.from({ length: PEOPLE }, (_, at) => `reader${at}@example.com`).join('\n')}\n`,
    );
    const make = async (name: string): Promise<number> =>
      (await makeCampaign(server, name)).campaign;
    campaigns = {
      sent: await make('Goes on'),
      counted: await make('Counted'),
      stopped: await make('Stopped'),
      planned: await make('Planned'),
    };
    const { body } = await server.call('GET', `/api/campaigns/${campaigns.planned}`);
    const { version, name, who, letterId, senderName, senderAddress, replyTo, topicId } = body;
    await server.call('PUT', `/api/campaigns/${campaigns.planned}`, {
      version,
      name,
      who,
      letterId,
      senderName,
      senderAddress,
      replyTo,
      topicId,
      sendAt: new Date(Date.now() + 3_600_000).toISOString(),
    });
    await send(server, campaigns.planned);
    // Slow enough that the first is still going out when the second has begun, however busy the machine is.
    mail.delay = 150;
    for (const id of [campaigns.counted, campaigns.stopped]) {
      await send(server, id);
      await until(
        'some letters',
        async () =>
          ((await server.call('GET', `/api/campaigns/${id}/progress`)).body.accepted as number) >
          20,
      );
    }
    // The backup, while two are going out and one is planned.
    const copy = join(folder, 'backup');
    await copyRunning(
      async (text) => (await execute(server.database.db, sql.raw(text))).rows,
      server.dataDir,
      copy,
    );
    mail.delay = 0;
    // Its hour comes, here and in what is restored.
    const due = sql`update campaigns set send_at = now() where id = ${campaigns.planned}`;
    await execute(server.database.db, due);
    for (const id of [campaigns.counted, campaigns.stopped, campaigns.planned])
      await untilStatus(server, id, 'sent');
    await server.stop();
    expect(mail.taken).toHaveLength(3 * PEOPLE);
    const database = await openDatabase({ dataDir: copy, databaseUrl: undefined, fsync: false });
    await execute(database.db, due);
    restored = await startTestServer(
      { SMTP_URL: mail.url, DATA_DIR: copy },
      { on: { database, dataDir: copy, drop: () => database.close() } },
    );
    cookie = await restored.signIn('ines@example.com');
  }, 120_000);
  afterAll(async () => {
    await restored.stop();
  });
  const ask = (method: string, path: string, data?: unknown) =>
    restored.call(method, path, data, { cookie });
  const standby = async () =>
    (await ask('GET', '/api/standby')).body.standby as {
      reason: string;
      asOf: string;
      campaigns: { id: number; status: string; done: number; open: number; isDecided: boolean }[];
    } | null;

  it('sends nothing, and says from when the data is and what may have gone out since', async () => {
    mail.reset();
    await pause(4000);
    expect(mail.taken).toEqual([]);
    const found = await standby();
    expect(found).toMatchObject({ reason: 'restored' });
    expect(Date.parse(found?.asOf ?? '')).toBeLessThan(Date.now() - 1000);
    expect(found?.campaigns.map(({ id, status }) => [id, status])).toEqual([
      [campaigns.counted, 'sending'],
      [campaigns.stopped, 'sending'],
      [campaigns.planned, 'scheduled'],
    ]);
    for (const { done, open } of found?.campaigns.slice(0, 2) ?? []) {
      expect(done + open).toBe(PEOPLE);
      expect(Math.min(done, open)).toBeGreaterThan(0);
    }
  });

  it('goes on only when each is decided: counted as sent, stopped, or gone on with', async () => {
    expect((await ask('POST', '/api/standby/end')).status).toBe(422);
    expect((await ask('POST', `/api/standby/${campaigns.planned}/count-as-sent`)).status).toBe(422);
    expect((await ask('POST', `/api/standby/${campaigns.sent}/go-on`)).status).toBe(422);
    expect((await ask('POST', `/api/standby/${campaigns.counted}/fly`)).status).toBe(404);
    for (const [id, word] of [
      [campaigns.counted, 'count-as-sent'],
      [campaigns.stopped, 'stop'],
      [campaigns.planned, 'stop'],
    ] as const)
      expect((await ask('POST', `/api/standby/${id}/${word}`)).status).toBe(204);
    await pause(2500);
    expect(mail.taken).toEqual([]);
    // A new one that is ordered meanwhile waits, too.
    expect((await send({ call: ask }, campaigns.sent)).status).toBe(204);
    await pause(2500);
    expect(mail.taken).toEqual([]);
    expect((await ask('POST', `/api/standby/${campaigns.sent}/go-on`)).status).toBe(204);
    expect((await ask('POST', '/api/standby/end')).status).toBe(204);
    expect(await standby()).toBeNull();
    await until(
      'the new one',
      async () => (await ask('GET', `/api/campaigns/${campaigns.sent}`)).body.status === 'sent',
      60_000,
    );
    await pause(2500);
    // Nobody has anything a second time: only the new campaign went out.
    expect(received().size).toBe(PEOPLE);
    expect(mail.taken).toHaveLength(PEOPLE);
    expect((await ask('GET', `/api/campaigns/${campaigns.counted}`)).body.status).toBe('sent');
    expect((await ask('GET', `/api/campaigns/${campaigns.stopped}`)).body.status).toBe('stopped');
    expect((await ask('GET', `/api/campaigns/${campaigns.planned}`)).body.status).toBe('draft');
    expect((await ask('GET', `/api/campaigns/${campaigns.counted}/progress`)).body).toMatchObject({
      accepted: PEOPLE,
      waiting: 0,
    });
  }, 90_000);
});

describe('what breaks the continuity of an office', () => {
  let test: TestDatabase;
  const begin = async (
    { database, dataDir }: TestDatabase,
    now = systemClock.now,
  ): Promise<string | null | undefined> => {
    const continuity = new Continuity(database, readConfig({ DATA_DIR: dataDir }), { now });
    await continuity.start();
    continuity.onApplicationShutdown();
    return (await readContinuity(database.db))?.brokenBy;
  };
  const opened = async (dataDir: string): Promise<TestDatabase> => {
    const database = await openDatabase({ dataDir, databaseUrl: undefined, fsync: false });
    return { database, dataDir, drop: () => database.close() };
  };
  beforeAll(async () => {
    test = await openTestDatabase();
  }, 60_000);
  afterAll(() => test.drop());

  it('is not the first start, on a template or not, nor another one', async () => {
    expect(await begin(test)).toBeNull();
    expect(await begin(test)).toBeNull();
    expect(await begin(test, () => new Date(Date.now() - 50 * 60_000))).toBeNull();
  });

  it('is a clock that went back by more than an hour', async () => {
    await begin(test);
    expect(await begin(test, () => new Date(Date.now() - 61 * 60_000))).toBe('clock');
    await mendContinuity(test.database.db);
    expect(await begin(test)).toBeNull();
  });

  it('is a directory that was copied with all that is in it, but not one that was given another name', async () => {
    await test.database.close();
    const [copy, renamed] = [join(folder, 'copy'), join(folder, 'renamed')];
    cpSync(test.dataDir, copy, { recursive: true });
    const copied = await opened(copy);
    expect(await begin(copied)).toBe('copied');
    await copied.drop();
    cpSync(copy, join(folder, 'place'), { recursive: true });
    const settled = await opened(join(folder, 'place'));
    await mendContinuity(settled.database.db);
    await begin(settled);
    await mendContinuity(settled.database.db);
    await settled.drop();
    renameSync(join(folder, 'place'), renamed);
    test = await opened(renamed);
    expect(await begin(test)).toBeNull();
  }, 60_000);
});
