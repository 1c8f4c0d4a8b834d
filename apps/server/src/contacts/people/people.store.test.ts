// Lists of people: whatever the filter, the pages together are the list, and the sums are its sums.
import { idOf } from '@palabra/core/kernel';
import { searchKey, type ContactId, type PoolId } from '@palabra/core/contacts';
import type { UserId } from '@palabra/core/office';
import fc from 'fast-check';
import { sql, type SQL } from 'drizzle-orm';
import { execute } from '../../platform/database.js';
import { Keys } from '../../platform/keys.js';
import { openTestDatabase, type TestDatabase } from '../../testing/database.js';
import { aPerson, aWorld, NOW, type TestWorld } from '../../testing/people.js';
import { putOnDoNotMail } from '../standing/do-not-mail.store.js';
import { scope } from './scope.store.js';
import * as store from './people.store.js';
import { heldBackOf, lettersOf } from '../../delivery/timeline.store.js';
import { cameIn, changesOf, timeline } from './timeline.store.js';

let test: TestDatabase;
let world: TestWorld;
const people: {
  id: ContactId;
  given: string;
  family: string;
  address: string | null;
  tags: number[];
  owner: number;
  permission: string;
}[] = [];
const names = [
  'Ada',
  'Åse',
  'Élodie',
  'Zoë',
  'Ødegaard',
  'de la Cruz',
  'O’Brien',
  'نور',
  '李',
  'Łukasz',
  '',
  '%',
  '_',
  'ada',
];

beforeAll(async () => {
  test = await openTestDatabase();
  const { db } = test.database;
  world = await aWorld(db);
  const keys = await Keys.load(db, NOW);
  for (let at = 0; at < 120; at++) {
    const given = names[at % names.length] ?? '';
    const family = names[(at * 5 + 3) % names.length] ?? '';
    const address =
      at % 9 === 0 ? null : `person${at}@${at % 2 ? 'example.com' : 'bücher.example'}`;
    const permission = at % 7 === 0 ? 'unknown' : 'asked';
    const tags = world.tags.filter((_, one) => (at >> one) % 2 === 1);
    const owner = world.owners[at % 2] ?? idOf<UserId>(1);
    const id = await aPerson(db, world, keys, {
      values: { given_name: given || null, family_name: family || null, address, permission },
      tags,
      owner,
    });
    people.push({ id, given, family, address, tags, owner, permission });
  }
  for (const at of [1, 2, 50]) {
    const { rows } = await execute<{ address_hash: Buffer }>(
      db,
      sql`select address_hash from contacts where id = ${people[at]?.id}`,
    );
    if (rows[0])
      await putOnDoNotMail(db, {
        addressHash: rows[0].address_hash,
        address: null,
        reason: 'left',
        at: NOW,
      });
  }
}, 90_000);
afterAll(() => test.drop());

const everybody = (): SQL => store.allOf(store.living, store.inPool(world.house));
const cursorOf = (line: store.PersonLine): store.Cursor => ({ key: line.search_key, id: line.id });

async function walk(among: SQL, limit: number, pool?: PoolId): Promise<number[]> {
  const ids: number[] = [];
  for (;;) {
    const page = await store.page(test.database.db, among, limit, { from: ids.length, pool });
    ids.push(...page.map(({ id }) => id));
    if (page.length < limit) return ids;
  }
}

it('gives everybody once, in one order, whatever the size of a page', async () => {
  const whole = await walk(everybody(), 200);
  expect([...whole].sort((a, b) => a - b)).toEqual(people.map(({ id }) => id));
  for (const limit of [1, 7, 50]) {
    expect(await walk(everybody(), limit)).toEqual(whole);
    expect(await walk(everybody(), limit, world.house)).toEqual(whole);
  }
});

it('knows the place of everybody', async () => {
  const { db } = test.database;
  const whole = await store.page(db, everybody(), 200);
  await fc.assert(
    fc.asyncProperty(fc.nat(119), fc.integer({ min: 1, max: 30 }), async (at, limit) => {
      const edge = whole[at];
      if (!edge) return;
      const page = await store.page(db, everybody(), limit, { from: at });
      expect(page.map(({ id }) => id)).toEqual(whole.slice(at, at + limit).map(({ id }) => id));
      expect(await store.countBefore(db, everybody(), cursorOf(edge))).toBe(at);
      const place = await store.placeOf(db, everybody(), cursorOf(edge));
      expect(place).toEqual({
        before: at,
        previous: whole[at - 1]?.id ?? null,
        next: whole[at + 1]?.id ?? null,
      });
    }),
    { numRuns: 25 },
  );
});

it('finds the same people, rare or frequent, near the edge or far from it, whether it knows their pool or not', async () => {
  const { db } = test.database;
  await db.execute(sql`insert into contacts (pool_id, owner_id, search_key, given_name, family_name, town, created_at, updated_at)
    select ${world.partner}, ${world.owners[0]}, 'name ' || lpad((n * 7919 % 5000)::text, 4, '0'), '', '', 'Town ' || n % 50, now(), now() from generate_series(1, 5000) n`);
  const among = (town: string, least: number): SQL =>
    store.allOf(
      store.living,
      store.inPool(world.partner),
      sql`c.town like ${town} and c.search_key >= ${`name ${String(least).padStart(4, '0')}`}`,
    );
  await fc.assert(
    fc.asyncProperty(
      fc.constantFrom('Town 1', 'Town 1%', 'Town %', 'Nowhere'),
      fc.constantFrom(0, 1000, 3500, 4990),
      fc.oneof(fc.constant(0), fc.nat(4999)),
      async (town, least, from) => {
        const given = among(town, least);
        const plain = await store.page(db, given, 40, { from });
        expect(
          (await store.page(db, given, 40, { from, pool: world.partner })).map(({ id }) => id),
        ).toEqual(plain.map(({ id }) => id));
        const whole = await store.page(db, given, 5000, { pool: world.partner });
        expect(plain.map(({ id }) => id)).toEqual(whole.slice(from, from + 40).map(({ id }) => id));
        expect(whole.map(({ search_key }) => search_key)).toEqual(
          [...whole.map(({ search_key }) => search_key)].sort(),
        );
        if (from === 0)
          expect((await store.weighedPage(db, given, 40)).map(({ id }) => id)).toEqual(
            plain.map(({ id }) => id),
          );
      },
    ),
    { numRuns: 40 },
  );
  await db.execute(sql`delete from contacts where pool_id = ${world.partner}`);
}, 60_000);

it('finds whoever carries every word, in whatever writing, and takes signs as signs', async () => {
  const searched = fc.oneof(
    fc.constantFrom(
      ...names.filter(Boolean),
      'ase',
      'ELODIE',
      'oder',
      'person1',
      'example.com',
      '%',
      '_',
      '\\',
      "'",
      'ada zoe',
      '  ada   ',
    ),
    fc.string({ maxLength: 4 }),
  );
  await fc.assert(
    fc.asyncProperty(searched, async (text) => {
      const words = searchKey(text.replace(/[,;]/g, ' ')).split(' ').filter(Boolean);
      const found = new Set(
        await walk(store.allOf(everybody(), ...store.matchesSearch(text, [])), 200),
      );
      for (const { id, given, family, address } of people) {
        const name = searchKey(`${family} ${given}`);
        const carries = words.every(
          (word) =>
            (word.length >= 3
              ? name.includes(word)
              : name.split(' ').some((part) => part.startsWith(word)) || name.startsWith(word)) ||
            (address ?? '').includes(word),
        );
        if (carries && words.every((word) => word.length >= 3))
          expect({ text, id, found: found.has(id) }).toEqual({ text, id, found: true });
        if (
          !words.every(
            (word) =>
              name.includes(word) ||
              (address ?? '').includes(word) ||
              /[^ -~]/.test(address ?? '') ||
              word.includes('xn--'),
          )
        )
          expect({ text, id, found: found.has(id) && !address?.includes('bücher') }).toEqual({
            text,
            id,
            found: false,
          });
      }
    }),
    { numRuns: 60 },
  );
});

it('sums up who may be mailed: every line opens into just so many, and the sum closes', async () => {
  const { db } = test.database;
  const sums = await store.mailable(db, everybody());
  expect(sums.total).toBe(people.length);
  const opened = await Promise.all(
    (['no address', 'do not mail', 'no permission', 'may be mailed'] as const).map(
      async (standing) =>
        [
          standing,
          await store.count(db, store.allOf(everybody(), store.standsAs(standing))),
        ] as const,
    ),
  );
  expect(Object.fromEntries(opened)).toEqual({
    'no address': sums.no_address,
    'do not mail': sums.do_not_mail,
    'no permission': sums.no_permission,
    'may be mailed': sums.total - sums.no_address - sums.do_not_mail - sums.no_permission,
  });
  expect(sums.no_address).toBe(people.filter(({ address }) => address === null).length);
});

it('counts tags among them as they are', async () => {
  const found = await store.tagsAmong(test.database.db, everybody());
  expect(Object.fromEntries(found.map(({ id, count }) => [id, count]))).toEqual(
    Object.fromEntries(
      world.tags.map((tag) => [tag, people.filter(({ tags }) => tags.includes(tag)).length]),
    ),
  );
});

it('shows a member the own people, and a manager everybody', async () => {
  const { db } = test.database;
  const owner = world.owners[0] ?? 1;
  const seen = (role: 'member' | 'manager' | 'coordinator') =>
    store.count(db, store.allOf(everybody(), scope({ userId: owner as UserId, role })));
  expect(await seen('member')).toBe(people.filter((one) => one.owner === owner).length);
  expect(await seen('manager')).toBe(people.length);
  expect(await seen('coordinator')).toBe(people.length);
});

it('pages through a timeline without losing what happened at the same moment', async () => {
  const { db } = test.database;
  const id = people[3]?.id ?? idOf<ContactId>(1);
  // Forty letters, four at a time; with the first, something was done sixty times, and what came last is when it stands.
  await execute(
    db,
    sql`insert into campaigns (name, who, sender_name, sender_address, created_at, updated_at) select 'C' || g, '{}', '', '', ${NOW}, ${NOW} from generate_series(1, 41) g`,
  );
  await execute(
    db,
    sql`insert into deliveries (campaign_id, contact_id, state, address_hash, accepted_at) select g, ${id}, 'accepted', '\\x00', ${NOW}::timestamptz + (g / 4) * interval '1 hour' from generate_series(1, 41) g`,
  );
  await execute(
    db,
    sql`insert into events (kind, at, contact_id, campaign_id, machine) select 'opened', ${NOW}::timestamptz + g * interval '1 day', ${id}, 1, g = 60 from generate_series(1, 60) g`,
  );
  const asker = { userId: idOf<UserId>(1), role: 'coordinator' } as const;
  const sources = [changesOf, cameIn, lettersOf, heldBackOf];
  const whole = await timeline(db, sources, id, undefined, 500, asker);
  expect(whole).toHaveLength(42);
  const { done, further } = whole[0]?.more as {
    done: { machine: string | null }[];
    further: number;
  };
  expect(whole[0]).toMatchObject({ campaign: 'C1', state: 'sent' });
  expect([done.length, further]).toEqual([50, 10]);
  expect(done.map(({ machine }) => machine !== null).indexOf(true)).toBe(0);
  for (const limit of [1, 3, 10]) {
    const keys: string[] = [];
    for (let before: { at: Date; key: string } | undefined; ;) {
      const page = await timeline(db, sources, id, before, limit, asker);
      keys.push(...page.map(({ key }) => key));
      const last = page.at(-1);
      if (!last || page.length < limit) break;
      before = last;
    }
    expect(keys).toEqual(whole.map(({ key }) => key));
  }
});
