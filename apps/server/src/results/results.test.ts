// Every number of a result opens into just so many people, whatever came back.
import type { ContactId } from '@palabra/core/contacts';
import { idOf } from '@palabra/core/kernel';
import type { CampaignId } from '@palabra/core/campaigns';
import type { BounceKind, DeliveryState } from '@palabra/core/delivery';
import { figures, resultNumbers, type ResultNumber } from '@palabra/core/results';
import { sql } from 'drizzle-orm';
import fc from 'fast-check';
import { campaigns } from '../campaigns/campaigns.table.js';
import { writtenPeople } from '../delivery/written.store.js';
import {
  allOf,
  countLiving,
  countPeople,
  gone,
  living,
  peoplePage,
  scope,
} from '../contacts/index.js';
import { putOnDoNotMail } from '../contacts/standing/do-not-mail.store.js';
import { deliveries, events } from '../delivery/delivery.table.js';
import { Keys } from '../platform/keys.js';
import { openTestDatabase, type TestDatabase } from '../testing/database.js';
import { aPerson, aWorld, NOW, type TestWorld } from '../testing/people.js';
import * as store from './results.store.js';

const PEOPLE = 10;
const HOUR = 3600_000;
const later = (hours: number): Date => new Date(NOW.getTime() + hours * HOUR);

let test: TestDatabase;
let world: TestWorld;
let keys: Keys;
let people: ContactId[];
/** Every third is the second owner's. */
const ownerOf = (one: number) => world.owners[one % 3 === 0 ? 1 : 0] ?? idOf(0);
beforeAll(async () => {
  test = await openTestDatabase();
  world = await aWorld(test.database.db);
  keys = await Keys.load(test.database.db, NOW);
  people = [];
  for (let one = 0; one < PEOPLE; one++)
    people.push(
      await aPerson(test.database.db, world, keys, {
        values: { address: `person${one}@example.com` },
        owner: ownerOf(one),
      }),
    );
  await test.database.db.execute(
    sql`update contacts set deleted_at = ${NOW} where id = ${people[3]}`,
  );
}, 60_000);
afterAll(() => test.drop());

async function aCampaign(status: 'sent' | 'sending' = 'sent'): Promise<store.Counted> {
  const [row] = await test.database.db
    .insert(campaigns)
    .values({
      name: 'A campaign',
      status,
      startedAt: NOW,
      fixedAt: NOW,
      who: { to: [], notTo: [] },
      senderName: '',
      senderAddress: '',
      createdAt: NOW,
      updatedAt: NOW,
    })
    .returning({ id: campaigns.id });
  return { id: row?.id ?? idOf(0), status, factsVersion: 1 };
}

const hash = (one: number): Buffer => keys.addressHash(`person${one}@example.com`);
const maybe = <T>(arbitrary: fc.Arbitrary<T>): fc.Arbitrary<T | null> =>
  fc.option(arbitrary, { freq: 2 });
const moment = fc.integer({ min: 0, max: 100 }).map(later);
const aLetter = fc
  .record({
    state: fc.constantFrom<DeliveryState>(
      'waiting',
      'handing over',
      'accepted',
      'deferred',
      'bounced',
      'gave up',
      'uncertain',
      'stopped',
      'held back',
    ),
    bounce: fc.constantFrom<BounceKind | null>('hard', 'soft', 'policy', 'other', null),
    leftAt: maybe(moment),
    complainedAt: maybe(moment),
    repliedAt: maybe(moment),
    firstOpenedAt: maybe(moment),
    firstClickedAt: maybe(moment),
    machineOpens: fc.nat(2),
    machineClicks: fc.nat(2),
  })
  .map((letter) => ({ ...letter, bounce: letter.state === 'bounced' ? letter.bounce : null }));

type Letter = typeof aLetter extends fc.Arbitrary<infer L> ? L : never;

/** What each number means, spelled once more and apart from the statements. */
const means: { readonly [K in ResultNumber]: (letter: Letter) => boolean } = {
  sent: ({ state }) => !['waiting', 'held back', 'stopped'].includes(state),
  accepted: ({ state }) => state === 'accepted',
  arrived: ({ state, firstOpenedAt, firstClickedAt, leftAt }) =>
    state === 'accepted' || [firstOpenedAt, firstClickedAt, leftAt].some((at) => at !== null),
  bounced: ({ state }) => state === 'bounced',
  bouncedHard: ({ bounce }) => bounce === 'hard',
  bouncedSoft: ({ bounce }) => bounce === 'soft',
  bouncedOther: ({ state, bounce }) =>
    state === 'bounced' && bounce !== 'hard' && bounce !== 'soft',
  complained: ({ complainedAt }) => complainedAt !== null,
  replied: ({ repliedAt }) => repliedAt !== null,
  gaveUp: ({ state }) => state === 'gave up',
  deferred: ({ state }) => state === 'deferred',
  uncertain: ({ state }) => state === 'uncertain',
  stopped: ({ state }) => state === 'stopped',
  heldBackLate: ({ state }) => state === 'held back',
  waiting: ({ state }) => state === 'waiting' || state === 'handing over',
  opened: ({ firstOpenedAt }) => firstOpenedAt !== null,
  notOpened: ({ state, firstOpenedAt }) => state === 'accepted' && firstOpenedAt === null,
  clicked: ({ firstClickedAt }) => firstClickedAt !== null,
  left: ({ leftAt }) => leftAt !== null,
  machineOpened: ({ machineOpens }) => machineOpens > 0,
  machineClicked: ({ machineClicks }) => machineClicks > 0,
};
const numbers = Object.keys(resultNumbers) as ResultNumber[];

async function behind(campaign: CampaignId, part: string): Promise<number> {
  const among = writtenPeople(campaign, part);
  if (!among) throw new Error(`no people behind ${part}`);
  const { db } = test.database;
  return (await countLiving(db, among)) + (await countPeople(db, allOf(gone, among)));
}

it('opens every count into as many people, those deleted since among them', async () => {
  await fc.assert(
    fc.asyncProperty(fc.array(aLetter, { maxLength: PEOPLE }), async (letters) => {
      const { id } = await aCampaign();
      if (letters.length > 0)
        await test.database.db.insert(deliveries).values(
          letters.map((letter, one) => ({
            ...letter,
            campaignId: id,
            contactId: people[one] ?? idOf(0),
            addressHash: hash(one),
          })),
        );
      const counts = await store.resultCounts(test.database.db, id);
      const mine = allOf(living, scope({ userId: ownerOf(0), role: 'member' }));
      const yours = await store.resultCounts(test.database.db, id, mine);
      for (const number of numbers) {
        const expected = letters.filter(means[number]).length;
        const { part } = resultNumbers[number];
        expect({ number, count: counts[number], people: await behind(id, part) }).toEqual({
          number,
          count: expected,
          people: expected,
        });
        const theirs = writtenPeople(id, part);
        expect(yours[number]).toBe(
          theirs && (await countPeople(test.database.db, allOf(mine, theirs))),
        );
      }
      expect(await behind(id, 'receives')).toBe(letters.length);
      for (const { count, of } of Object.values(figures(counts)))
        expect(count).toBeLessThanOrEqual(of);
      const points = await store.overTime(
        test.database.db,
        id,
        'hour',
        'Europe/Lisbon',
        later(1000),
      );
      expect(points.reduce((sum, { opened }) => sum + opened, 0)).toBe(counts.opened);
      expect(points.reduce((sum, { clicked }) => sum + clicked, 0)).toBe(counts.clicked);
      expect(points.map(({ at }) => at.getTime())).toEqual(
        points.map(({ at }) => at.getTime()).toSorted((a, b) => a - b),
      );
    }),
    { numRuns: 25 },
  );
}, 60_000);

it('counts people behind each link once, and machines apart', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.array(fc.record({ contact: fc.nat(PEOPLE - 1), link: fc.nat(3), machine: fc.boolean() }), {
        maxLength: 30,
      }),
      async (clicks) => {
        const { id } = await aCampaign();
        if (clicks.length > 0)
          await test.database.db.insert(events).values(
            clicks.map(({ contact, link, machine }, at) => ({
              kind: 'clicked' as const,
              at: later(at),
              campaignId: id,
              contactId: people[contact] ?? idOf(0),
              link,
              machine,
            })),
          );
        const byLink = await store.clicksByLink(test.database.db, id);
        for (const link of [0, 1, 2, 3]) {
          const whose = (machine: boolean): number =>
            new Set(
              clicks
                .filter((click) => click.link === link && click.machine === machine)
                .map(({ contact }) => contact),
            ).size;
          expect(byLink[link] ?? { people: 0, machines: 0 }).toEqual({
            people: whose(false),
            machines: whose(true),
          });
          expect(await behind(id, `link-${link}`)).toBe(whose(false));
        }
      },
    ),
    { numRuns: 15 },
  );
}, 60_000);

it.each(['link-', 'link-x', 'link-99999', "link-1'", 'nothing-such', ''])(
  'knows no people behind “%s”',
  (part) => {
    expect(writtenPeople(idOf(1), part)).toBeUndefined();
  },
);

describe('kept counts', () => {
  const deliver = (campaign: CampaignId, one: number) =>
    test.database.db.insert(deliveries).values({
      campaignId: campaign,
      contactId: people[one] ?? idOf(0),
      state: 'accepted',
      addressHash: hash(one),
    });
  it('are used until something happens, then counted again', async () => {
    const campaign = await aCampaign();
    await deliver(campaign.id, 0);
    expect((await store.countsOf(test.database.db, campaign)).accepted).toBe(1);
    await deliver(campaign.id, 1);
    expect((await store.countsOf(test.database.db, campaign)).accepted).toBe(1);
    expect(
      (await store.countsOf(test.database.db, { ...campaign, factsVersion: 2 })).accepted,
    ).toBe(2);
  });

  it('are not kept while a campaign goes out', async () => {
    const campaign = await aCampaign('sending');
    await deliver(campaign.id, 0);
    expect((await store.countsOf(test.database.db, campaign)).accepted).toBe(1);
    await deliver(campaign.id, 1);
    expect((await store.countsOf(test.database.db, campaign)).accepted).toBe(2);
  });

  it('keep the course and the links beside them, and lose them with the counts', async () => {
    const campaign = await aCampaign();
    const detail = (people_: number) => async () => ({
      links: { 0: { people: people_, machines: 0 } },
      points: [],
    });
    await store.countsOf(test.database.db, campaign);
    expect((await store.detailOf(test.database.db, campaign, detail(1))).links[0]?.people).toBe(1);
    expect((await store.detailOf(test.database.db, campaign, detail(2))).links[0]?.people).toBe(1);
    const next = { ...campaign, factsVersion: 2 };
    await store.countsOf(test.database.db, next);
    expect((await store.detailOf(test.database.db, next, detail(3))).links[0]?.people).toBe(3);
  });
});

it('says of the last days what the lists behind it hold, an address in two pools counted as the two people it is', async () => {
  const { db } = test.database;
  const [inHouse, atPartner] = [
    await aPerson(db, world, keys, {
      values: { address: 'twice@example.com' },
      createdAt: later(2),
    }),
    await aPerson(db, world, keys, {
      values: { address: 'twice@example.com' },
      pool: world.partner,
      createdAt: later(3),
    }),
  ];
  await putOnDoNotMail(db, {
    addressHash: keys.addressHash('twice@example.com'),
    address: 'twice@example.com',
    reason: 'left',
    at: later(4),
  });
  await putOnDoNotMail(db, {
    addressHash: keys.addressHash('gone@example.com'),
    address: 'gone@example.com',
    reason: 'hard bounce',
    at: later(4),
  });
  expect(await store.since(db, later(1), sql`true`)).toEqual({
    came_in: 2,
    left_count: 2,
    hard_bounces: 0,
  });
  for (const among of [store.cameInSince(later(1)), store.onDoNotMailSince(later(1), 'left')]) {
    expect(
      (await peoplePage(db, allOf(living, among), 10)).map(({ id }) => id).sort((a, b) => a - b),
    ).toEqual([inHouse, atPartner]);
  }
  expect(await store.since(db, later(5), sql`true`)).toEqual({
    came_in: 0,
    left_count: 0,
    hard_bounces: 0,
  });
});
