// The tally: everybody has one reason or receives, every line opens into just those people, and what is written is what was counted.
import type { TagId, ContactId } from '@palabra/core/contacts';
import { idOf } from '@palabra/core/kernel';
import {
  heldBackReasons,
  partOfReason,
  tallyOf,
  type HeldBackReason,
} from '@palabra/core/campaigns';
import { eq, sql, type SQL } from 'drizzle-orm';
import { contacts } from '../contacts/people/people.table.js';
import { putOnDoNotMail } from '../contacts/standing/do-not-mail.store.js';
import { count } from '../contacts/people/people.store.js';
import { dropTopics } from '../contacts/standing/dropped-topics.store.js';
import { addTopic } from '../contacts/vocabulary/topics.store.js';
import { writtenPeople } from '../delivery/written.store.js';
import { changeOffice, keepMailTakesUtf8 } from '../office/office.store.js';
import { countWritten, forgetWritten, writeStretch } from '../delivery/fixing.store.js';
import { Keys } from '../platform/keys.js';
import { openTestDatabase, type TestDatabase } from '../testing/database.js';
import { aPerson, aWorld, NOW, type TestWorld } from '../testing/people.js';
import { campaigns } from './campaigns.table.js';
import { countReasons, draftPeople, taggedInHouse, type BoundWho } from './who.store.js';

let test: TestDatabase;
let world: TestWorld;
let who: BoundWho;
const ids: Record<string, ContactId> = {};

beforeAll(async () => {
  test = await openTestDatabase();
  const { db } = test.database;
  world = await aWorld(db);
  const keys = await Keys.load(db, NOW);
  const [guest = idOf<TagId>(0), family = idOf<TagId>(0)] = world.tags;
  const add = async (name: string, person: Parameters<typeof aPerson>[3]): Promise<void> => {
    ids[name] = await aPerson(db, world, keys, person);
  };
  await add('plain', { values: { address: 'plain@example.com' }, tags: [guest] });
  await add('customer', {
    values: { address: 'customer@example.com', permission: 'customer' },
    tags: [guest],
  });
  await add('not tagged', { values: { address: 'other@example.com' } });
  await add('left out', { values: { address: 'family@example.com' }, tags: [guest, family] });
  await add('left out and left', {
    values: { address: 'familyleft@example.com' },
    tags: [guest, family],
  });
  await add('no address', { values: { given_name: 'Ada' }, tags: [guest] });
  await add('do not mail', { values: { address: 'left@example.com' }, tags: [guest] });
  await add('dropped topic', {
    values: { address: 'offers@example.com', permission: 'unknown' },
    tags: [guest],
  });
  await add('soft bounces', {
    values: { address: 'soft@example.com', permission: 'unknown' },
    tags: [guest],
  });
  await add('unread bounces', { values: { address: 'refused@example.com' }, tags: [guest] });
  await add('beyond ascii', { values: { address: 'jörg@example.com' }, tags: [guest] });
  await add('domain beyond ascii', { values: { address: 'ada@bücher.example' }, tags: [guest] });
  await add('no permission', {
    values: { address: 'unknown@example.com', permission: 'unknown' },
    tags: [guest],
  });
  await add('twin in the house', { values: { address: 'twin@example.com' }, tags: [guest] });
  await add('twin elsewhere', { values: { address: 'Twin@example.com' }, pool: world.partner });
  await add('twin of an unmailable', {
    values: { address: 'unknown@example.com' },
    pool: world.partner,
  });
  for (const address of ['left@example.com', 'familyleft@example.com'])
    await putOnDoNotMail(db, {
      addressHash: keys.addressHash(address),
      address,
      reason: 'left',
      at: NOW,
    });
  who = {
    to: sql`((${taggedInHouse(guest)}) or (c.pool_id = ${world.partner}))`,
    toEach: [],
    notTo: taggedInHouse(family),
    severalPools: true,
    topic: (await addTopic(db, 'Plant sales', '', NOW))?.id ?? idOf(0),
  };
  await dropTopics(db, keys.addressHash('offers@example.com'), [who.topic ?? idOf(0)], NOW);
  await dropTopics(db, keys.addressHash('left@example.com'), [who.topic ?? idOf(0)], NOW);
  await db
    .update(contacts)
    .set({ softBounces: 3 })
    .where(eq(contacts.id, ids['soft bounces'] ?? idOf(0)));
  await db
    .update(contacts)
    .set({ unreadBounces: 3 })
    .where(eq(contacts.id, ids['unread bounces'] ?? idOf(0)));
  await db.insert(campaigns).values({
    name: 'A campaign',
    status: 'fixing',
    who: { to: [], notTo: [] },
    senderName: '',
    senderAddress: '',
    createdAt: NOW,
    updatedAt: NOW,
  });
}, 60_000);
afterAll(() => test.drop());

const named = async (people: SQL | undefined): Promise<string[]> => {
  const found: string[] = [];
  for (const [name, id] of Object.entries(ids))
    if (people && (await count(test.database.db, sql`c.id = ${id} and ${people}`)) > 0)
      found.push(name);
  return found.sort();
};

const expected: Record<HeldBackReason, string[]> = {
  'left out': ['left out', 'left out and left'],
  'no address': ['no address'],
  'do not mail': ['do not mail'],
  'dropped topic': ['dropped topic'],
  'soft bounces': ['soft bounces'],
  'unread bounces': ['unread bounces'],
  'beyond ascii': ['beyond ascii'],
  'no permission': ['no permission'],
  'same address': ['twin elsewhere'],
};
const receivers = [
  'customer',
  'domain beyond ascii',
  'plain',
  'twin in the house',
  'twin of an unmailable',
];

it('gives everybody one reason, and the sum closes', async () => {
  const tally = tallyOf(await countReasons(test.database.db, who));
  expect(tally).toEqual({
    matched: 15,
    receives: 5,
    heldBack: {
      'left out': 2,
      'no address': 1,
      'do not mail': 1,
      'dropped topic': 1,
      'soft bounces': 1,
      'unread bounces': 1,
      'beyond ascii': 1,
      'no permission': 1,
      'same address': 1,
    },
  });
});

it('opens every line into just those people', async () => {
  for (const reason of heldBackReasons)
    expect(await named(draftPeople(who, partOfReason(reason)))).toEqual(expected[reason]);
  expect(await named(draftPeople(who, 'receives'))).toEqual(receivers);
  expect((await named(draftPeople(who, 'matched'))).length).toBe(15);
  expect(draftPeople(who, 'unheard-of')).toBeUndefined();
});

it('writes in stretches what was counted at once, whatever the stretch', async () => {
  const { db } = test.database;
  for (const limit of [1, 3, 100]) {
    for (let after: ContactId | undefined = idOf<ContactId>(0); after !== undefined;)
      after = await writeStretch(db, idOf(1), who, after, limit);
    expect(tallyOf(await countWritten(db, idOf(1)))).toEqual(tallyOf(await countReasons(db, who)));
    for (const reason of heldBackReasons)
      expect(await named(writtenPeople(idOf(1), partOfReason(reason)))).toEqual(expected[reason]);
    expect(await named(writtenPeople(idOf(1), 'receives'))).toEqual(receivers);
    expect(await forgetWritten(db, idOf(1), 'draft', 100)).toBe(0);
    while ((await forgetWritten(db, idOf(1), 'fixing', 3)) > 0);
    expect(await named(writtenPeople(idOf(1), 'matched'))).toEqual([]);
  }
});

it('mails people of unknown permission only where the office allows it', async () => {
  await changeOffice(test.database.db, 1, { mailUnknown: true });
  const tally = tallyOf(await countReasons(test.database.db, who));
  expect(tally.heldBack['no permission']).toBe(0);
  expect(tally.receives).toBe(5);
  expect(tally.heldBack['same address']).toBe(2);
});

it('holds nobody back for bounces, for a topic, or for letters beyond ASCII, where none of it is meant', async () => {
  const { db } = test.database;
  await changeOffice(db, 2, { softBounceLimit: 0, unreadBounceLimit: 0 });
  await keepMailTakesUtf8(db, true);
  const tally = tallyOf(await countReasons(db, { ...who, topic: null }));
  expect(tally.heldBack).toMatchObject({
    'soft bounces': 0,
    'unread bounces': 0,
    'beyond ascii': 0,
    'dropped topic': 0,
  });
  expect(tally.receives).toBe(9);
});
