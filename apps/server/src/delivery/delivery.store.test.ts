// Taking letters in hand and settling them, on a real database: who gets a letter is decided here.
import type { CampaignId } from '@palabra/core/campaigns';
import type { ContactId, TopicId } from '@palabra/core/contacts';
import { idOf } from '@palabra/core/kernel';
import type { DeliveryState } from '@palabra/core/delivery';
import { sql } from 'drizzle-orm';
import { campaigns } from '../campaigns/campaigns.table.js';
import { putOnDoNotMail } from '../contacts/standing/do-not-mail.store.js';
import { dropTopics } from '../contacts/standing/dropped-topics.store.js';
import { addTopic } from '../contacts/vocabulary/topics.store.js';
import { execute } from '../platform/database.js';
import { Keys } from '../platform/keys.js';
import { openTestDatabase, type TestDatabase } from '../testing/database.js';
import { countRecent, wrongFacts } from '../testing/facts.js';
import { aPerson, aWorld, NOW, type TestWorld } from '../testing/people.js';
import {
  advance,
  campaignsToWorkOn,
  nextDue,
  putBack,
  settle,
  settleDead,
  settleUncertain,
} from './delivery.store.js';
import { recountContacts } from './person-facts.store.js';
import { deliveries } from './delivery.table.js';

const ME = '00000000-0000-4000-8000-000000000001';
const OTHER = '00000000-0000-4000-8000-000000000002';
const later = (minutes: number): Date => new Date(NOW.getTime() + minutes * 60_000);

let test: TestDatabase;
let world: TestWorld;
let keys: Keys;
let topic: TopicId;
let serial = 0;

beforeAll(async () => {
  test = await openTestDatabase();
  world = await aWorld(test.database.db);
  keys = await Keys.load(test.database.db, NOW);
  topic = (await addTopic(test.database.db, 'Plant sales', '', NOW))?.id ?? idOf(0);
}, 60_000);
afterAll(() => test.drop());

async function aCampaign(
  status: 'sending' | 'paused' | 'stopped' | 'draft' = 'sending',
): Promise<CampaignId> {
  const [row] = await test.database.db
    .insert(campaigns)
    .values({
      name: 'A campaign',
      status,
      topicId: topic,
      who: { to: [], notTo: [] },
      senderName: '',
      senderAddress: '',
      createdAt: NOW,
      updatedAt: NOW,
    })
    .returning({ id: campaigns.id });
  return row?.id ?? idOf(0);
}

/** A contact with a letter of that campaign. */
async function aLetter(
  campaign: CampaignId,
  given: Partial<typeof deliveries.$inferInsert> = {},
): Promise<ContactId> {
  const address = `person${serial++}@example.com`;
  const contactId = await aPerson(test.database.db, world, keys, { values: { address } });
  await test.database.db.insert(deliveries).values({
    campaignId: campaign,
    contactId,
    state: 'waiting',
    address,
    addressHash: keys.addressHash(address),
    ...given,
  });
  await recountContacts(test.database.db, [contactId]);
  await countRecent(test.database.db);
  return contactId;
}

const letter = async (campaign: CampaignId, contactId: ContactId) => {
  const { rows } = await execute<{
    state: DeliveryState;
    attempts: number;
    answer: string | null;
    worker: string | null;
    delivered_count: number;
    soft_bounces: number;
    address: string;
    address_hash: Buffer;
  }>(
    test.database.db,
    sql`select d.state, d.attempts, d.answer, d.worker, c.delivered_count, c.soft_bounces, d.address, d.address_hash from deliveries d join contacts c on c.id = d.contact_id where d.campaign_id = ${campaign} and d.contact_id = ${contactId}`,
  );
  const [row] = rows;
  if (!row) throw new Error('no letter');
  return row;
};
const take = (campaign: CampaignId, ids: readonly ContactId[], worker = ME) =>
  advance(test.database, campaign, worker, [], ids, NOW);
const accept = (campaign: CampaignId, ids: readonly ContactId[], worker = ME) =>
  advance(
    test.database,
    campaign,
    worker,
    ids.map((contactId) => ({ contactId, at: later(1), answer: '250 taken' })),
    [],
    later(1),
  );

describe('taking letters in hand', () => {
  it('takes those that wait, once, and says which', async () => {
    const campaign = await aCampaign();
    const [one, two, three] = [
      await aLetter(campaign),
      await aLetter(campaign),
      await aLetter(campaign),
    ];
    expect(await take(campaign, [one, two])).toEqual(new Set([one, two]));
    expect(await take(campaign, [two, three], OTHER)).toEqual(new Set([three]));
    expect(await letter(campaign, two)).toMatchObject({
      state: 'handing over',
      attempts: 1,
      worker: ME,
    });
    expect(await take(campaign, [])).toEqual(new Set());
  });

  it.each(['paused', 'stopped', 'draft'] as const)(
    'takes nothing of a campaign that is %s',
    async (status) => {
      const campaign = await aCampaign(status);
      const one = await aLetter(campaign);
      expect(await take(campaign, [one])).toEqual(new Set());
      expect(await letter(campaign, one)).toMatchObject({
        state: 'waiting',
        attempts: 0,
        worker: null,
      });
    },
  );

  it.each<DeliveryState>([
    'handing over',
    'accepted',
    'bounced',
    'held back',
    'stopped',
    'gave up',
    'uncertain',
  ])('leaves a letter alone that is %s', async (state) => {
    const campaign = await aCampaign();
    const one = await aLetter(campaign, { state });
    expect(await take(campaign, [one])).toEqual(new Set());
    expect((await letter(campaign, one)).state).toBe(state);
  });

  it('holds back who came onto do not mail or dropped the topic meanwhile, beside those who may get it', async () => {
    const campaign = await aCampaign();
    const [left, dropped, fine] = [
      await aLetter(campaign),
      await aLetter(campaign, { state: 'deferred', attempts: 2 }),
      await aLetter(campaign),
    ];
    await putOnDoNotMail(test.database.db, {
      addressHash: (await letter(campaign, left)).address_hash,
      address: (await letter(campaign, left)).address,
      reason: 'left',
      at: NOW,
    });
    await dropTopics(
      test.database.db,
      (await letter(campaign, dropped)).address_hash,
      [topic],
      NOW,
    );
    expect(await take(campaign, [left, dropped, fine])).toEqual(new Set([fine]));
    expect(await letter(campaign, left)).toMatchObject({
      state: 'held back',
      answer: 'on do not mail: left',
      attempts: 0,
    });
    expect(await letter(campaign, dropped)).toMatchObject({
      state: 'held back',
      answer: 'dropped this topic',
      attempts: 2,
    });
  });

  it('holds back who was deleted meanwhile, or is not there at all', async () => {
    const campaign = await aCampaign();
    const [deleted, fine] = [await aLetter(campaign), await aLetter(campaign)];
    await test.database.db.execute(
      sql`update contacts set deleted_at = ${NOW} where id = ${deleted}`,
    );
    const nobody = idOf<ContactId>(9_000_000);
    await test.database.db.insert(deliveries).values({
      campaignId: campaign,
      contactId: nobody,
      state: 'waiting',
      address: 'x@example.com',
      addressHash: keys.addressHash('x@example.com'),
    });
    expect(await take(campaign, [deleted, nobody, fine])).toEqual(new Set([fine]));
    expect(await letter(campaign, deleted)).toMatchObject({
      state: 'held back',
      answer: 'deleted',
      attempts: 0,
    });
    expect(
      (await nextDue(test.database.db, campaign, NOW, 10)).map(({ contact_id }) => contact_id),
    ).toEqual([]);
  });

  it('puts back what did not go out, and only what it holds itself', async () => {
    const campaign = await aCampaign();
    const [one, two] = [await aLetter(campaign), await aLetter(campaign)];
    await take(campaign, [one]);
    await take(campaign, [two], OTHER);
    await putBack(test.database.db, campaign, [one, two], ME);
    expect(await letter(campaign, one)).toMatchObject({
      state: 'waiting',
      attempts: 0,
      worker: null,
    });
    expect(await letter(campaign, two)).toMatchObject({ state: 'handing over', worker: OTHER });
  });
});

describe('settling letters', () => {
  it('counts an accepted letter once, however often it is said, and takes the next in the same step', async () => {
    const campaign = await aCampaign();
    const [one, two, three] = [
      await aLetter(campaign),
      await aLetter(campaign),
      await aLetter(campaign),
    ];
    await take(campaign, [one, two]);
    const accepted = [one, two].map((contactId) => ({
      contactId,
      at: later(1),
      answer: '250 taken',
    }));
    expect(await advance(test.database, campaign, ME, accepted, [three], later(1))).toEqual(
      new Set([three]),
    );
    expect(await advance(test.database, campaign, ME, accepted, [], later(2))).toEqual(new Set());
    for (const id of [one, two])
      expect(await letter(campaign, id)).toMatchObject({
        state: 'accepted',
        answer: '250 taken',
        delivered_count: 1,
        worker: null,
      });
    expect(await letter(campaign, three)).toMatchObject({
      state: 'handing over',
      delivered_count: 0,
    });
  });

  it('does not take another’s word', async () => {
    const campaign = await aCampaign();
    const one = await aLetter(campaign);
    await take(campaign, [one], OTHER);
    await accept(campaign, [one]);
    expect(
      await settle(test.database.db, campaign, one, ME, { step: 'refused', answer: 'no' }),
    ).toBe(false);
    expect(await letter(campaign, one)).toMatchObject({
      state: 'handing over',
      delivered_count: 0,
    });
  });

  it('ends a row of soft bounces, as a rebuild would', async () => {
    const campaign = await aCampaign();
    const one = await aLetter(campaign, {
      state: 'bounced',
      bounce: 'soft',
      firstTriedAt: later(-60),
      bouncedAt: later(-60),
    });
    await test.database.db.execute(sql`update contacts set soft_bounces = 1 where id = ${one}`);
    const next = await aCampaign();
    const { address, address_hash } = await letter(campaign, one);
    await test.database.db.insert(deliveries).values({
      campaignId: next,
      contactId: one,
      state: 'waiting',
      address,
      addressHash: address_hash,
    });
    await take(next, [one]);
    await accept(next, [one]);
    expect(await letter(next, one)).toMatchObject({ state: 'accepted', soft_bounces: 0 });
    expect(await wrongFacts(test.database.db)).toEqual([]);
  });

  it('makes uncertain what a dead process held, which that process may still settle', async () => {
    const campaign = await aCampaign();
    const [mine, theirs] = [await aLetter(campaign), await aLetter(campaign)];
    await take(campaign, [mine]);
    await take(campaign, [theirs], OTHER);
    expect(
      await settleDead(
        test.database.db,
        campaign,
        (worker) => sql`select 1 where ${worker} = ${ME}::uuid`,
      ),
    ).toBe(1);
    expect(await letter(campaign, mine)).toMatchObject({ state: 'handing over' });
    expect(await letter(campaign, theirs)).toMatchObject({ state: 'uncertain', worker: OTHER });
    await accept(campaign, [theirs], OTHER);
    expect(await letter(campaign, theirs)).toMatchObject({ state: 'accepted', delivered_count: 1 });
  });

  it('lets the coordinator settle what is uncertain', async () => {
    const campaign = await aCampaign();
    const lost = { state: 'uncertain', firstTriedAt: NOW } as const;
    const [one, two] = [await aLetter(campaign, lost), await aLetter(campaign, lost)];
    expect(await settleUncertain(test.database.db, campaign, 'count as sent', later(9), 1)).toEqual(
      [{ contactId: one, acceptedAt: NOW }],
    );
    expect(await settleUncertain(test.database.db, campaign, 'send again', later(9), 5)).toEqual([
      { contactId: two, acceptedAt: null },
    ]);
    expect(await settleUncertain(test.database.db, campaign, 'send again', later(9), 5)).toEqual(
      [],
    );
    expect((await letter(campaign, two)).state).toBe('waiting');
  });
});

describe('what is due', () => {
  it('comes first tries first, then those whose time has come', async () => {
    const campaign = await aCampaign();
    const first = await aLetter(campaign);
    const again = await aLetter(campaign, { state: 'deferred', attempts: 1, nextAt: later(-1) });
    const sooner = await aLetter(campaign, { state: 'deferred', attempts: 1, nextAt: later(-5) });
    const notYet = await aLetter(campaign, { state: 'deferred', attempts: 1, nextAt: later(5) });
    const last = await aLetter(campaign);
    await aLetter(campaign, { state: 'accepted' });
    const due = async (now: Date, limit = 10) =>
      (await nextDue(test.database.db, campaign, now, limit)).map(({ contact_id }) => contact_id);
    expect(await due(NOW)).toEqual([first, last, sooner, again]);
    expect(await due(NOW, 3)).toEqual([first, last, sooner]);
    expect(await due(later(6))).toEqual([first, last, sooner, again, notYet]);
  });

  it('names campaigns that have something to do, or nothing more', async () => {
    const [open, waitsForTime, over, stopped, quiet] = [
      await aCampaign(),
      await aCampaign(),
      await aCampaign(),
      await aCampaign('stopped'),
      await aCampaign('paused'),
    ];
    await aLetter(open);
    await aLetter(waitsForTime, { state: 'deferred', nextAt: later(60) });
    await aLetter(over, { state: 'accepted' });
    await aLetter(stopped);
    await aLetter(quiet);
    const toDo = await campaignsToWorkOn(test.database.db, NOW);
    expect(toDo).toEqual(expect.arrayContaining([open, over, stopped]));
    expect(toDo).not.toContain(waitsForTime);
    expect(toDo).not.toContain(quiet);
    expect(await campaignsToWorkOn(test.database.db, later(61))).toContain(waitsForTime);
  });
});
