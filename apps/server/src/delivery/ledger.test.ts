// What several lanes say goes to the database in groups, and nobody waits long for somebody else.
import { idOf } from '@palabra/core/kernel';
import type { CampaignId } from '@palabra/core/campaigns';
import type { ContactId } from '@palabra/core/contacts';
import type { SQL } from 'drizzle-orm';
import { sql } from 'drizzle-orm';
import { campaigns } from '../campaigns/campaigns.table.js';
import type { Database } from '../platform/database.js';
import { Keys } from '../platform/keys.js';
import { openTestDatabase, type TestDatabase } from '../testing/database.js';
import { countRecent, wrongFacts } from '../testing/facts.js';
import { aPerson, aWorld, NOW } from '../testing/people.js';
import { deliveries } from './delivery.table.js';
import { Ledger } from './ledger.js';

const ME = '00000000-0000-4000-8000-000000000001';
const OTHER = '00000000-0000-4000-8000-000000000002';
const taken = { kind: 'answered', code: 250, text: 'taken' } as const;

let test: TestDatabase;
let keys: Keys;
let people: ContactId[];
let campaign: CampaignId;
/** Statements that advanced the send. */
let statements: number;
/** What the next of them fails with. */
let trouble: Error | undefined;

beforeAll(async () => {
  test = await openTestDatabase();
  keys = await Keys.load(test.database.db, NOW);
  const world = await aWorld(test.database.db);
  people = [];
  for (let one = 0; one < 6; one++)
    people.push(
      await aPerson(test.database.db, world, keys, {
        values: { address: `person${one}@example.com` },
      }),
    );
}, 60_000);
afterAll(() => test.drop());

beforeEach(async () => {
  const { db } = test.database;
  const [row] = await db
    .insert(campaigns)
    .values({
      name: 'A campaign',
      status: 'sending',
      who: { to: [], notTo: [] },
      senderName: '',
      senderAddress: '',
      createdAt: NOW,
      updatedAt: NOW,
    })
    .returning({ id: campaigns.id });
  campaign = row?.id ?? idOf(0);
  await db.insert(deliveries).values(
    people.map((contactId, one) => ({
      campaignId: campaign,
      contactId,
      state: 'waiting' as const,
      address: `person${one}@example.com`,
      addressHash: keys.addressHash(`person${one}@example.com`),
    })),
  );
  await countRecent(db);
  statements = 0;
  trouble = undefined;
});

function ledger(worker = ME): Ledger {
  const counting = Object.create(test.database, {
    again: {
      value: async (...given: Parameters<Database['again']>) => {
        statements++;
        const failing = trouble;
        trouble = undefined;
        if (failing) throw failing;
        return test.database.again(...given);
      },
    },
  }) as Database;
  return new Ledger(counting, campaign, worker, { now: () => NOW }, 1);
}

const due = (at: number) => ({ contact_id: people[at] ?? idOf(0), attempts: 0 });
const states = async (condition: SQL = sql`true`): Promise<string[]> => {
  const { rows } = await test.database.db.execute(
    sql`select state from deliveries where campaign_id = ${campaign} and ${condition} order by contact_id`,
  );
  return rows.map(({ state }) => String(state));
};

it('writes in one statement what is said at once', async () => {
  const book = ledger();
  expect(await Promise.all([0, 1, 2, 3, 4].map((at) => book.takeInHand(due(at))))).toEqual([
    true,
    true,
    true,
    true,
    true,
  ]);
  expect(statements).toBe(1);
  expect(await states()).toEqual([...Array<string>(5).fill('handing over'), 'waiting']);
});

it('writes without waiting once every lane has said something', async () => {
  const book = ledger();
  await Promise.all([0, 1].map((at) => book.takeInHand(due(at))));
  await Promise.all([0, 1].map((at) => book.record(due(at), taken)));
  expect(statements).toBe(2);
  expect(await states()).toEqual([
    'accepted',
    'accepted',
    'waiting',
    'waiting',
    'waiting',
    'waiting',
  ]);
});

it('does not wait for a lane whose mail server takes its time', async () => {
  const book = ledger();
  await Promise.all([0, 1, 2].map((at) => book.takeInHand(due(at))));
  await book.record(due(0), taken);
  expect(await book.takeInHand(due(3))).toBe(true);
  expect(await states()).toEqual([
    'accepted',
    'handing over',
    'handing over',
    'handing over',
    'waiting',
    'waiting',
  ]);
});

it('says for each lane whether its letter is in hand', async () => {
  const [mine, theirs] = [ledger(), ledger(OTHER)];
  expect(await theirs.takeInHand(due(1))).toBe(true);
  expect(await Promise.all([0, 1, 2].map((at) => mine.takeInHand(due(at))))).toEqual([
    true,
    false,
    true,
  ]);
});

it('settles each answer by what it says, in the same group', async () => {
  const book = ledger();
  await Promise.all([0, 1, 2, 3, 4].map((at) => book.takeInHand(due(at))));
  await Promise.all([
    book.record(due(0), taken),
    book.record(due(1), { kind: 'answered', code: 450, text: '4.2.2 mailbox full' }),
    book.record(due(2), { kind: 'answered', code: 550, text: '5.1.1 no such user' }),
    book.record(due(3), { kind: 'lost', why: 'the connection went' }),
    book.record(due(4), { kind: 'not taken', why: 'the server can’t be reached' }),
  ]);
  expect(await states()).toEqual([
    'accepted',
    'deferred',
    'bounced',
    'uncertain',
    'waiting',
    'waiting',
  ]);
  const { rows } = await test.database.db.execute(
    sql`select reason from do_not_mail where address_hash = ${keys.addressHash('person2@example.com')}`,
  );
  expect(rows).toEqual([{ reason: 'hard bounce' }]);
  expect(await wrongFacts(test.database.db)).toEqual([]);
  await test.database.db.execute(sql`delete from do_not_mail`);
});

it('keeps what a mail server said when the database goes in the middle, and sends nothing of which it does not know', async () => {
  const book = ledger();
  await book.takeInHand(due(0));
  trouble = Object.assign(new Error('Connection terminated unexpectedly'));
  const [, next] = await Promise.all([book.record(due(0), taken), book.takeInHand(due(1))]);
  expect(next).toBe(false);
  expect(await states()).toEqual([
    'accepted',
    'waiting',
    'waiting',
    'waiting',
    'waiting',
    'waiting',
  ]);
});

it('tells everybody of the group when a statement fails for good, and goes on after it', async () => {
  const book = ledger();
  trouble = new Error('no such column');
  const ends = await Promise.allSettled([0, 1].map((at) => book.takeInHand(due(at))));
  expect(ends.map(({ status }) => status)).toEqual(['rejected', 'rejected']);
  expect(await book.takeInHand(due(0))).toBe(true);
});
