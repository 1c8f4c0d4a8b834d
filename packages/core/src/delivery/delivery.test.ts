import fc from 'fast-check';
import type { CampaignId } from '../campaigns/index.js';
import type { ContactId } from '../contacts/index.js';
import {
  deliveryStates,
  GIVE_UP_AFTER,
  machineReason,
  next,
  packBody,
  pauseAfter,
  readAnswer,
  settled,
  unpackBody,
  type DeliveryEvent,
  type DeliveryState,
} from './index.js';

const accepted: DeliveryEvent = {
  kind: 'answered',
  answer: { kind: 'accepted' },
  attempts: 1,
  sinceFirst: 0,
};
const deferred = (sinceFirst: number): DeliveryEvent => ({
  kind: 'answered',
  answer: { kind: 'deferred' },
  attempts: 1,
  sinceFirst,
});
const bounced: DeliveryEvent = {
  kind: 'answered',
  answer: { kind: 'bounced', bounce: 'hard' },
  attempts: 1,
  sinceFirst: 0,
};

describe('a delivery', () => {
  it.each<[DeliveryState, DeliveryEvent, DeliveryState]>([
    ['waiting', { kind: 'handed over' }, 'handing over'],
    ['deferred', { kind: 'handed over' }, 'handing over'],
    ['handing over', accepted, 'accepted'],
    ['handing over', deferred(0), 'deferred'],
    ['handing over', deferred(GIVE_UP_AFTER), 'gave up'],
    ['handing over', bounced, 'bounced'],
    ['handing over', { kind: 'not taken' }, 'waiting'],
    ['handing over', { kind: 'lost' }, 'uncertain'],
    ['handing over', { kind: 'do not mail' }, 'held back'],
    ['waiting', { kind: 'stop' }, 'stopped'],
    ['accepted', { kind: 'bounce notice' }, 'bounced'],
    ['uncertain', { kind: 'seen' }, 'accepted'],
    ['uncertain', { kind: 'count as sent' }, 'accepted'],
    ['uncertain', { kind: 'send again' }, 'waiting'],
  ])('from %s by %j to %s', (from, event, to) =>
    expect(next(from, event)).toEqual({ ok: true, value: to }),
  );

  it('is never handed over twice, nor out of a settled state by itself', () => {
    for (const state of deliveryStates.filter((one) => one !== 'waiting' && one !== 'deferred'))
      expect(next(state, { kind: 'handed over' }).ok).toBe(false);
    for (const state of settled.filter((one) => one !== 'uncertain' && one !== 'accepted')) {
      for (const event of [
        accepted,
        bounced,
        { kind: 'lost' },
        { kind: 'stop' },
        { kind: 'seen' },
      ] satisfies DeliveryEvent[])
        expect(next(state, event).ok).toBe(false);
    }
  });

  it('waits longer after each try, up to a limit', () => {
    const pauses = [1, 2, 3, 4, 5, 6, 50].map(pauseAfter);
    expect(pauses).toEqual([...pauses].sort((a, b) => a - b));
    expect(pauseAfter(50)).toBe(pauseAfter(5));
  });
});

describe('a mail server’s answer', () => {
  it.each([
    [250, '250 2.0.0 OK', { kind: 'accepted' }],
    [421, '421 4.3.2 shutting down', { kind: 'deferred' }],
    [452, '452 4.2.2 mailbox full', { kind: 'deferred' }],
    [550, '550 5.1.1 no such user', { kind: 'bounced', bounce: 'hard' }],
    [550, '550 5.1.10 null mx', { kind: 'bounced', bounce: 'hard' }],
    [550, '550 5.2.1 disabled', { kind: 'bounced', bounce: 'hard' }],
    [552, '552 5.2.2 over quota', { kind: 'bounced', bounce: 'soft' }],
    [554, '554 5.7.1 blocked by policy', { kind: 'bounced', bounce: 'policy' }],
    [554, '554 5.1.12 something else', { kind: 'bounced', bounce: 'other' }],
    [550, '550 User unknown in virtual mailbox table', { kind: 'bounced', bounce: 'hard' }],
    [550, '550 The recipient does not exist', { kind: 'bounced', bounce: 'hard' }],
    [550, '550 rejected because of your reputation', { kind: 'bounced', bounce: 'policy' }],
  ])('%i %s', (code, text, answer) => expect(readAnswer(code, text)).toEqual(answer));
});

describe('what a token carries', () => {
  it('comes back as it was', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 2 ** 31 - 1 }),
        fc.integer({ min: 1, max: 2 ** 31 - 1 }),
        fc.integer({ min: 0, max: 9999 }),
        (campaign, contact, link) => {
          const body = { campaign: campaign as CampaignId, contact: contact as ContactId, link };
          expect(unpackBody(packBody(body))).toEqual(body);
        },
      ),
    );
  });
  it('is refused when anything is missing, too much or absurd', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 30 }), (bytes) => {
        const body = unpackBody(bytes);
        if (body) expect(packBody(body).length).toBeLessThanOrEqual(bytes.length);
      }),
    );
    for (const bytes of [
      [],
      [1],
      [1, 1],
      [0, 1, 0],
      [1, 0, 0],
      [1, 1, 0, 0],
      [1, 1, 0x80],
      [255, 255, 255, 255, 255, 255, 1, 1, 0],
    ])
      expect(unpackBody(Uint8Array.from(bytes))).toBeUndefined();
  });
});

describe('machines', () => {
  const person = { method: 'GET', knownAgent: false, purpose: '', agent: 'Lantern/4.2' };
  it.each([
    [{}, undefined],
    [{ method: 'HEAD' }, 'asked for the header only'],
    [{ knownAgent: true }, 'a known robot'],
    [{ purpose: 'prefetch;prerender' }, 'fetched ahead'],
    [{ agent: '' }, 'named no program'],
  ])('%j', (change, reason) => expect(machineReason({ ...person, ...change })).toBe(reason));
});
