// The office on a PostgreSQL server instead of the embedded one, with two processes: where Debian's server is
// installed; where it isn't, that is said.
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { startNative, type Native } from '@palabra/embedded-postgres/testing/native';
import { sql } from 'drizzle-orm';
import { execute, openDatabase } from './platform/database.js';
import { wrongFacts } from './testing/facts.js';
import { startMailServer, type TestMailServer } from './testing/mail-server.js';
import { importPeople, makeCampaign, send, untilStatus } from './testing/round.js';
import { startTestServer, until, type TestServer } from './testing/server.js';

const PEOPLE = 1000;
let native: Native | undefined;
let mail: TestMailServer;
let first: TestServer;
let second: TestServer;

async function serverOn({ connection }: Native): Promise<TestServer> {
  const dataDir = mkdtempSync(join(tmpdir(), 'palabra-on-'));
  const databaseUrl = `postgres://postgres@localhost/postgres?host=${encodeURIComponent(connection.host)}`;
  const database = await openDatabase({ dataDir, databaseUrl, fsync: false });
  const drop = async (): Promise<void> => {
    await database.close();
    rmSync(dataDir, { recursive: true, force: true });
  };
  return startTestServer(
    { SMTP_URL: mail.url, SMTP_CONNECTIONS: '3' },
    { on: { database, dataDir, drop } },
  );
}

beforeAll(async () => {
  native = await startNative();
  if (!native) {
    process.stdout.write('No PostgreSQL server is installed: the office on one was not tried.\n');
    return;
  }
  mail = await startMailServer();
  first = await serverOn(native);
  second = await serverOn(native);
}, 60_000);
afterAll(async () => {
  if (!native) return;
  await second.stop();
  await first.stop();
  await mail.stop();
  await native.stop();
});

it('imports quickly, finds each address by its unique key, and takes the import back', async () => {
  if (!native) return;
  const file = `email,first name\n${Array.from({ length: PEOPLE }, (_, at) => `person${at}@example.com,Given${at}`).join('\n')}\n`;
  await importPeople(first, file);
  const again = await importPeople(first, file.replaceAll('Given', 'Other'));
  expect((await first.call('GET', `/api/imports/${again}`)).body).toMatchObject({
    newCount: 0,
    changedCount: PEOPLE,
  });
  const { rows: jit } = await execute(first.database.db, sql`show jit`);
  expect(jit).toEqual([{ jit: 'off' }]);
  // What the planner makes of a look-up, whatever it thinks of the table.
  const { rows } = await execute<{ 'QUERY PLAN': string }>(
    first.database.db,
    sql`explain select c.id from contacts c where c.pool_id = 1 and c.address_key = 'person7@example.com' collate "C" and c.deleted_at is null limit 1`,
  );
  expect(rows.map((row) => row['QUERY PLAN']).join('\n')).toMatch(
    /contacts_(by|in_order_of)_address/,
  );
  await first.call('POST', `/api/imports/${again}/take-back`);
  await until(
    'the import to be taken back',
    async () => (await first.call('GET', `/api/imports/${again}`)).body.takenBack?.isDone === true,
  );
  expect((await first.call('GET', '/api/people?q=given7')).body.rows).not.toEqual([]);
}, 120_000);

it('sends with two processes, nobody twice and nobody left out', async () => {
  if (!native) return;
  const { campaign } = await makeCampaign(first, 'From two');
  await send(first, campaign);
  await untilStatus(first, campaign, 'sent');
  expect(mail.taken.length).toBe(PEOPLE);
  expect(new Set(mail.taken.map(({ to }) => to)).size).toBe(PEOPLE);
  expect(await wrongFacts(second.database.db)).toEqual([]);
}, 120_000);
