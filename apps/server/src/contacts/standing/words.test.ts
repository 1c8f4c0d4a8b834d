// Whoever left, or was put on do not mail, stays there until the right one takes the word back: however addresses, further
// addresses and owners are moved about, by whomever, and undone again.
import type { ContactId } from '@palabra/core/contacts';
import { idOf } from '@palabra/core/kernel';
import fc from 'fast-check';
import { sql } from 'drizzle-orm';
import { execute } from '../../platform/database.js';
import { Keys } from '../../platform/keys.js';
import { startTestServer, type TestServer } from '../../testing/server.js';
import {
  doNotMailEntry,
  mayTakeOff,
  putOnDoNotMail,
  putPersonOnDoNotMail,
  takeOffDoNotMail,
} from './do-not-mail.store.js';

const ADDRESSES = ['a', 'b', 'c', 'd', 'e', 'f'].map((name) => `${name}@example.com`);
const PEOPLE = 4;

let server: TestServer;
let keys: Keys;
/** Sessions: two members and the coordinator. */
let sessions: readonly string[];
let people: number[] = [];
beforeAll(async () => {
  server = await startTestServer();
  keys = await Keys.load(server.database.db, new Date());
  for (const name of ['Milo', 'Nika'])
    await server.account({ name, address: `${name.toLowerCase()}@example.com`, role: 'member' });
  sessions = [
    await server.signIn('milo@example.com'),
    await server.signIn('nika@example.com'),
    server.coordinator,
  ];
}, 60_000);
afterAll(() => server.stop());

type Step =
  | {
      readonly do: 'address';
      readonly who: number;
      readonly person: number;
      readonly address: number;
    }
  | {
      readonly do: 'further';
      readonly who: number;
      readonly person: number;
      readonly address: number;
    }
  | { readonly do: 'put' | 'take'; readonly who: number; readonly person: number }
  | { readonly do: 'owner'; readonly person: number; readonly owner: number }
  | { readonly do: 'leave'; readonly person: number; readonly address: number }
  | { readonly do: 'come back'; readonly address: number }
  | { readonly do: 'undo'; readonly who: number; readonly back: number };

const who = fc.nat({ max: 2 });
const person = fc.nat({ max: PEOPLE - 1 });
const address = fc.nat({ max: ADDRESSES.length - 1 });
const steps = fc.array(
  fc.oneof<fc.Arbitrary<Step>[]>(
    fc.record({ do: fc.constant('address' as const), who, person, address }),
    fc.record({ do: fc.constant('further' as const), who, person, address }),
    fc.record({ do: fc.constantFrom('put' as const, 'take' as const), who, person }),
    fc.record({ do: fc.constantFrom('put' as const, 'take' as const), who, person }),
    fc.record({ do: fc.constant('owner' as const), person, owner: fc.nat({ max: 1 }) }),
    fc.record({ do: fc.constant('leave' as const), person, address }),
    fc.record({ do: fc.constant('come back' as const), address }),
    fc.record({ do: fc.constant('undo' as const), who, back: fc.nat({ max: 5 }) }),
  ),
  { minLength: 8, maxLength: 30 },
);

const hashOf = (at: number): Buffer => keys.addressHash(ADDRESSES[at] ?? '');
const call = (session: number, method: string, path: string, data?: object) =>
  server.call(method, path, data, { cookie: sessions[session] ?? '' });

async function begin(): Promise<void> {
  const { db } = server.database;
  for (const table of ['do_not_mail', 'came_back', 'contacts'])
    await execute(db, sql.raw(`delete from ${table}`));
  people = [];
  for (let at = 0; at < PEOPLE; at++) {
    const { body } = await call(at % 2, 'POST', '/api/people', {
      values: { address: ADDRESSES[at], given_name: `P${at}` },
      permission: 'asked',
      source: 'x',
      wording: '',
    });
    people.push(body.id as number);
  }
}

const rowOf = async (at: number): Promise<{ version: number; address: number }> => {
  const { body } = await call(2, 'GET', `/api/people/${people[at]}`);
  const values = (body.values ?? {}) as Record<string, string>;
  return {
    version: body.version as number,
    address: ADDRESSES.indexOf(values['address'] ?? ''),
  };
};
const patch = async (session: number, at: number, values: object): Promise<void> => {
  const { version } = await rowOf(at);
  await call(session, 'PATCH', `/api/people/${people[at]}`, { version, values });
};

/** Words that hold, by address: of the reader, or of somebody of the office. */
type Words = Map<number, Set<'reader' | number>>;

async function take(step: Step, words: Words): Promise<void> {
  const { db } = server.database;
  const say = (at: number, word: 'reader' | number): void =>
    void words.set(at, new Set([...(words.get(at) ?? []), word]));
  switch (step.do) {
    case 'address':
      return patch(step.who, step.person, { address: ADDRESSES[step.address] });
    case 'further':
      return patch(step.who, step.person, { more_addresses: ADDRESSES[step.address] });
    case 'owner': {
      const { body } = await call(2, 'GET', '/api/accounts');
      const names = ['milo@example.com', 'nika@example.com'];
      const found = (body as unknown as { id: number; address: string }[]).find(
        (one) => one.address === names[step.owner],
      );
      return patch(2, step.person, { owner: String(found?.id ?? '') });
    }
    case 'put': {
      const { address: at } = await rowOf(step.person);
      const was = at < 0 ? undefined : await doNotMailEntry(db, hashOf(at));
      const { status } = await call(
        step.who,
        'POST',
        `/api/people/${people[step.person]}/do-not-mail`,
        { put: true, note: '' },
      );
      if (status < 300 && at >= 0 && !was) say(at, step.who);
      return;
    }
    case 'take': {
      const { status } = await call(
        step.who,
        'POST',
        `/api/people/${people[step.person]}/do-not-mail`,
        { put: false, note: '' },
      );
      // Their own words go, and a coordinator speaks for everybody of the office.
      if (status < 300)
        for (const said of words.values())
          for (const word of said)
            if (word === step.who || (step.who === 2 && word !== 'reader')) said.delete(word);
      return;
    }
    case 'leave':
      await putPersonOnDoNotMail(db, idOf<ContactId>(people[step.person] ?? 0), {
        addressHash: hashOf(step.address),
        address: ADDRESSES[step.address] ?? '',
        reason: 'left',
        at: new Date(),
      });
      return say(step.address, 'reader');
    case 'come back': {
      const entry = await doNotMailEntry(db, hashOf(step.address));
      if (entry?.reason !== 'left') return;
      await takeOffDoNotMail(db, hashOf(step.address), new Date());
      words.get(step.address)?.delete('reader');
      return;
    }
    case 'undo': {
      const { body } = await call(step.who, 'GET', '/api/changes');
      const found = (body.changes as { id: number }[])[step.back];
      if (found) {
        const { status } = await call(step.who, 'POST', `/api/changes/${found.id}/undo`, {});
        // It may have been one that put somebody there, of their own or anybody's.
        if (status < 300)
          for (const said of words.values())
            for (const word of said)
              if (word === step.who || (step.who === 2 && word !== 'reader')) said.delete(word);
      }
      return;
    }
  }
}

it('never makes anybody mailable without the word of whoever said no', async () => {
  await fc.assert(
    fc.asyncProperty(steps, async (taken) => {
      await begin();
      const words: Words = new Map();
      for (const step of taken) {
        await take(step, words);
        for (const [at, said] of words) {
          if (said.size === 0) continue;
          const entry = await doNotMailEntry(server.database.db, hashOf(at));
          expect([at, [...said], entry?.reason ?? 'mailable']).not.toContain('mailable');
          if (said.has('reader')) expect(entry?.reason).toBe('left');
        }
      }
    }),
    { numRuns: 12 },
  );
}, 240_000);

describe('a word that was spread', () => {
  const on = async (at: number): Promise<string | undefined> =>
    (await doNotMailEntry(server.database.db, hashOf(at)))?.reason;

  it('of a colleague is not lifted by one’s own on another address of the same person', async () => {
    await begin();
    // The first and the third are Milo's; the word on the third is the coordinator's.
    await take({ do: 'put', who: 2, person: 2 }, new Map());
    await take({ do: 'put', who: 0, person: 0 }, new Map());
    await patch(0, 2, { address: '' });
    await patch(0, 0, { more_addresses: ADDRESSES[2] });
    await take({ do: 'take', who: 0, person: 0 }, new Map());
    expect(await on(2)).toBe('by hand');
  });

  it('of two colleagues stays where both said it, whoever of them takes it back', async () => {
    await begin();
    const { db } = server.database;
    const word = (at: number, userId: number) =>
      putOnDoNotMail(db, {
        addressHash: hashOf(at),
        address: ADDRESSES[at] ?? '',
        reason: 'by hand',
        at: new Date(),
        userId: idOf(userId),
      });
    await word(0, 1);
    await word(4, 2);
    // The first word reaches the fifth address, where the other one stands already.
    await patch(0, 0, { more_addresses: ADDRESSES[4] });
    await takeOffDoNotMail(db, hashOf(0), new Date());
    expect(await on(4)).toBe('by hand');
    await begin();
    await word(0, 1);
    await patch(0, 0, { more_addresses: ADDRESSES[4] });
    await word(5, 2);
    await patch(0, 0, { more_addresses: `${ADDRESSES[4]}\n${ADDRESSES[5]}` });
    // Neither of the two takes it back alone by now, wherever it stands; a coordinator does.
    for (const at of [0, 4, 5]) {
      const entry = await doNotMailEntry(db, hashOf(at));
      for (const userId of [1, 2])
        expect(entry && mayTakeOff(entry, { userId: idOf(userId), role: 'member' })).toBe(false);
    }
  });

  it('of a reader goes for the address where they come back, and not for the one that it came from', async () => {
    await begin();
    await take({ do: 'leave', person: 0, address: 0 }, new Map());
    await patch(0, 0, { address: ADDRESSES[4] });
    expect([await on(0), await on(4)]).toEqual(['left', 'left']);
    await take({ do: 'come back', address: 4 }, new Map());
    expect([await on(0), await on(4)]).toEqual(['left', undefined]);
    // What is older does not reach them again.
    await patch(0, 0, { more_addresses: ADDRESSES[0] });
    expect([await on(0), await on(4)]).toEqual(['left', undefined]);
  });

  it('by an older letter reaches the address that they have now', async () => {
    await begin();
    await patch(0, 0, { address: ADDRESSES[5] });
    await take({ do: 'leave', person: 0, address: 0 }, new Map());
    expect([await on(0), await on(5)]).toEqual(['left', 'left']);
  });

  it('leaves what stood beneath it', async () => {
    await begin();
    await take({ do: 'put', who: 0, person: 0 }, new Map());
    await take({ do: 'leave', person: 0, address: 0 }, new Map());
    expect(await on(0)).toBe('left');
    await take({ do: 'come back', address: 0 }, new Map());
    expect(await on(0)).toBe('by hand');
  });
});
