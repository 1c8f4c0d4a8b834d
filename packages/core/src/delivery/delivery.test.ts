import fc from 'fast-check';
import type { CampaignId } from '../campaigns/index.js';
import type { ContactId } from '../contacts/index.js';
import {
  deliveryStates,
  deliverySteps,
  GIVE_UP_AFTER,
  leadsOn,
  machineReason,
  packBody,
  pauseAfter,
  readAnswer,
  settled,
  stepOf,
  unpackBody,
  type Answer,
  type DeliveryState,
  type DeliveryStep,
} from './index.js';

describe('a delivery', () => {
  const steps = Object.keys(deliverySteps) as DeliveryStep[];

  it('goes every way there is from waiting to an end, and to no state that is none', () => {
    const reached = new Set<DeliveryState>(['waiting']);
    for (let before = 0; before < reached.size;) {
      before = reached.size;
      for (const step of steps)
        for (const from of [...reached])
          if (leadsOn(step, from)) reached.add(deliverySteps[step].to);
    }
    expect([...reached].sort()).toEqual([...deliveryStates].sort());
  });

  it('is never handed over twice, nor leaves an end by itself', () => {
    expect(deliveryStates.filter((state) => leadsOn('handed over', state))).toEqual([
      'waiting',
      'deferred',
    ]);
    for (const state of ['bounced', 'held back', 'stopped', 'gave up'] as const)
      expect(steps.filter((step) => leadsOn(step, state))).toEqual([]);
    // Accepted, it can only come back; unknown, somebody must say or be seen, or the late word of its own process.
    expect(steps.filter((step) => leadsOn(step, 'accepted'))).toEqual(['bounce notice']);
    expect(steps.filter((step) => leadsOn(step, 'uncertain'))).not.toContain('handed over');
  });

  it.each<[Answer, number, DeliveryState]>([
    [{ kind: 'accepted' }, 0, 'accepted'],
    [{ kind: 'deferred' }, 0, 'deferred'],
    [{ kind: 'deferred' }, GIVE_UP_AFTER, 'gave up'],
    [{ kind: 'bounced', bounce: 'hard' }, 0, 'bounced'],
  ])('by %j after %i ms is %s', (answer, sinceFirst, state) =>
    expect(deliverySteps[stepOf(answer, sinceFirst)].to).toBe(state),
  );

  it('is either to be worked on or settled', () => {
    for (const state of deliveryStates)
      expect(settled.includes(state)).toBe(
        !['waiting', 'deferred', 'handing over'].includes(state),
      );
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
