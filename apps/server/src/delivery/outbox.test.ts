// The office's own mails: each goes out once, whatever the mail server and the process do, and none is lost.
import { idOf } from '@palabra/core/kernel';
import type { MailId } from '@palabra/core/delivery';
import { sql } from 'drizzle-orm';
import { readConfig } from '../platform/config.js';
import { execute } from '../platform/database.js';
import { Jobs } from '../platform/jobs.js';
import { stoppedWork } from '../platform/standstill.store.js';
import { systemIds } from '../platform/time.js';
import type { Upkeep } from '../platform/upkeep.js';
import { openTestDatabase, type TestDatabase } from '../testing/database.js';
import { aWorld } from '../testing/people.js';
import { until } from '../testing/server.js';
import type { Lanes } from './lanes.js';
import type { AccountsService } from '../office/index.js';
import { Outbox } from './outbox.js';
import { mailById, mailsToWorkOn, stepMail } from './outbox.store.js';
import type { Outcome } from './smtp.js';

const taken: Outcome = { kind: 'answered', code: 250, text: 'OK' };
let test: TestDatabase;
let jobs: Jobs;
let outbox: Outbox;
let now = new Date('2026-03-02T09:00:00Z');
/** What the mail server says next; it is asked for each mail that is handed over. */
let says: Outcome = taken;
let handedOver: string[] = [];

beforeAll(async () => {
  test = await openTestDatabase();
  await aWorld(test.database.db);
  const config = readConfig({});
  const clock = { now: () => now };
  jobs = new Jobs(test.database, config, clock, systemIds);
  const lane = {
    send: (_: string, to: string) => {
      handedOver.push(to);
      return Promise.resolve(says);
    },
    close: () => undefined,
  };
  outbox = new Outbox(
    test.database,
    jobs,
    { register: () => undefined } as unknown as Upkeep,
    { open: () => lane } as unknown as Lanes,
    { mailLinksBy: () => undefined } as unknown as AccountsService,
    config,
    clock,
  );
  outbox.onModuleInit();
}, 60_000);
afterAll(async () => {
  await jobs.onApplicationShutdown();
  await test.drop();
});
beforeEach(() => {
  says = taken;
  handedOver = [];
});

const pass = (minutes: number): void => {
  now = new Date(now.getTime() + minutes * 60_000);
};
/** Whatever is to be done now, as each sweep finds it. */
async function sweep(): Promise<void> {
  for (const id of await mailsToWorkOn(test.database.db, now)) await jobs.runNow('mail', id);
}
async function aMail(address: string | null = 'ada@example.com'): Promise<MailId> {
  await test.database.transaction((tx) =>
    outbox.add(tx, 'own page', address, { url: 'http://office.example/yours/x' }),
  );
  const { rows } = await execute<{ id: MailId }>(
    test.database.db,
    sql`select max(id) as id from outbox`,
  );
  return rows[0]?.id ?? idOf(0);
}
const stateOf = async (id: MailId) => (await mailById(test.database.db, id))?.state;
const standing = async () =>
  (await stoppedWork(test.database.db)).map(({ thing, reason }) => ({ thing, reason }));

it('goes out once, and is wiped when it has', async () => {
  const id = await aMail();
  await sweep();
  await sweep();
  expect(handedOver).toEqual(['ada@example.com']);
  expect(await mailById(test.database.db, id)).toMatchObject({
    state: 'sent',
    kind: 'own page',
    address: null,
    subject: '',
    text: '',
    answer: 'OK',
  });
});

it('is not sent where there is nobody, and is done like the others', async () => {
  const id = await aMail(null);
  await sweep();
  expect(handedOver).toEqual([]);
  expect(await stateOf(id)).toBe('left');
});

it('is tried again when it was put off, not before its time, and in the end stands on the desk', async () => {
  says = { kind: 'answered', code: 451, text: 'later' };
  const id = await aMail();
  await sweep();
  await sweep();
  expect(handedOver).toHaveLength(1);
  pass(1);
  await sweep();
  expect(handedOver).toHaveLength(2);
  for (let hour = 0; hour < 30; hour++) {
    pass(60);
    await sweep();
  }
  expect(handedOver).toHaveLength(7);
  expect(await stateOf(id)).toBe('gave up');
  expect(await standing()).toEqual([
    { thing: id, reason: 'the mail server did not take it for a day' },
  ]);
  says = taken;
  expect(await jobs.decide('mail', id, 'again')).toBe(true);
  await until('it to go out', async () => (await stateOf(id)) === 'sent');
  expect(await standing()).toEqual([]);
});

it('is refused once', async () => {
  says = { kind: 'answered', code: 550, text: '5.1.1 no such mailbox' };
  const id = await aMail();
  await sweep();
  pass(24 * 60);
  await sweep();
  expect(handedOver).toHaveLength(1);
  expect(await stateOf(id)).toBe('refused');
});

it.each<[string, () => Promise<MailId>]>([
  [
    'the connection went before the answer',
    async () => {
      says = { kind: 'lost', why: 'the connection went' };
      const id = await aMail();
      await sweep();
      return id;
    },
  ],
  [
    'the process went while it handed it over',
    async () => {
      const id = await aMail();
      await stepMail(test.database.db, id, 'handed over', now);
      return id;
    },
  ],
])('is never sent a second time by itself when %s', async (_, lose) => {
  const id = await lose();
  handedOver = [];
  says = taken;
  for (let hour = 0; hour < 30; hour++) {
    await sweep();
    pass(60);
  }
  expect(handedOver).toEqual([]);
  expect(await stateOf(id)).toBe('uncertain');
  expect(await standing()).toEqual([
    { thing: id, reason: 'nobody knows whether the mail server took it' },
  ]);
  await jobs.decide('mail', id, 'leave');
  expect([await stateOf(id), await standing()]).toEqual(['left', []]);
});
