import fc from 'fast-check';
import { emptyLetter, shippedTemplates } from '../letters/index.js';
import {
  agree,
  backToDraft,
  begin,
  campaignStatuses,
  checkCampaign,
  editable,
  fixed,
  goOn,
  heldBackReasons,
  noneHeldBack,
  parseTally,
  parseWho,
  pause,
  schedule,
  sendNow,
  shownReasons,
  stop,
  stops,
  tallyDifferences,
  tallyOf,
  unschedule,
  wentOut,
  type CampaignSituation,
  type CampaignState,
  type Tally,
} from './index.js';

const now = new Date('2026-03-02T09:00:00Z');
const aTally = (receives: number, more: Partial<Tally> = {}): Tally => ({
  matched: receives,
  heldBack: noneHeldBack,
  receives,
  ...more,
});
const ready = { tally: aTally(10), stops: 0 };

describe('the tally', () => {
  it('always closes: matched less each reason is what receives', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.record({ reason: fc.constantFrom(null, ...heldBackReasons), count: fc.nat(100_000) }),
        ),
        (counts) => {
          const tally = tallyOf(counts);
          expect(
            tally.matched - Object.values(tally.heldBack).reduce((sum, count) => sum + count, 0),
          ).toBe(tally.receives);
          expect(parseTally(JSON.parse(JSON.stringify(tally)))).toEqual(tally);
        },
      ),
    );
  });
  it('shows the line for the same address only when somebody is on it', () => {
    expect(shownReasons(aTally(1))).not.toContain('same address');
    expect(shownReasons(tallyOf([{ reason: 'same address', count: 1 }]))).toContain('same address');
  });
  it('names the lines that differ', () => {
    const seen = tallyOf([
      { reason: null, count: 10 },
      { reason: 'do not mail', count: 2 },
    ]);
    const later = tallyOf([
      { reason: null, count: 9 },
      { reason: 'do not mail', count: 3 },
    ]);
    expect(tallyDifferences(seen, seen)).toEqual([]);
    expect(tallyDifferences(seen, later)).toEqual([
      { line: 'do not mail', seen: 2, now: 3 },
      { line: 'receives', seen: 10, now: 9 },
    ]);
  });
  it.each([
    null,
    {},
    { matched: 1 },
    { matched: -1, heldBack: {}, receives: 0 },
    { matched: 1.5, heldBack: {}, receives: 0 },
    { matched: 1, heldBack: { 'do not mail': 'x' }, receives: 0 },
  ])('is not read from %j', (raw) => expect(parseTally(raw)).toBeUndefined());
});

describe('who', () => {
  it('drops what is named twice', () => {
    expect(
      parseWho({
        to: [
          { kind: 'segment', id: 1 },
          { kind: 'segment', id: 1 },
          { kind: 'tag', id: 1 },
        ],
        notTo: [],
      }),
    ).toMatchObject({
      ok: true,
      value: {
        to: [
          { kind: 'segment', id: 1 },
          { kind: 'tag', id: 1 },
        ],
      },
    });
  });
  it.each([
    null,
    {},
    { to: [], notTo: 'x' },
    { to: [{ kind: 'person', id: 1 }], notTo: [] },
    { to: [{ kind: 'tag', id: 0 }], notTo: [] },
    { to: [{ kind: 'tag', id: 1.5 }], notTo: [] },
  ])('refuses %j', (raw) => expect(parseWho(raw).ok).toBe(false));
});

describe('a campaign’s life', () => {
  const draft: CampaignState = { status: 'draft' };
  it('goes from draft over fixing to sending', () => {
    const fixing = sendNow(draft, ready, aTally(10));
    expect(fixing).toMatchObject({ ok: true, value: { status: 'fixing', wasScheduled: false } });
    if (fixing.ok) expect(fixed(fixing.value, aTally(10), true)).toEqual({ status: 'sending' });
  });
  it('stops “send now” when the tally is another one, and goes on after a yes', () => {
    const state = fixed(
      { status: 'fixing', seen: aTally(10), wasScheduled: false },
      aTally(9),
      false,
    );
    expect(state).toEqual({ status: 'differs', seen: aTally(10), now: aTally(9) });
    expect(agree(state)).toEqual({ ok: true, value: { status: 'sending' } });
    expect(backToDraft(state)).toEqual({ ok: true, value: { status: 'draft' } });
  });
  it('lets a scheduled send go although the tally is another one', () => {
    const scheduled = schedule(draft, ready, aTally(10), new Date('2026-03-03T09:00:00Z'), now);
    if (!scheduled.ok) throw new Error(scheduled.error);
    expect(begin(scheduled.value, now)).toBe(scheduled.value);
    const begun = begin(scheduled.value, new Date('2026-03-03T09:00:00Z'));
    expect(fixed(begun, aTally(9), false)).toEqual({ status: 'sending' });
    expect(unschedule(scheduled.value)).toEqual({ ok: true, value: { status: 'draft' } });
  });
  it('never sends to nobody', () => {
    const state = fixed(
      { status: 'fixing', seen: aTally(10), wasScheduled: true },
      aTally(0),
      false,
    );
    expect(state.status).toBe('differs');
    expect(agree(state)).toEqual({ ok: false, error: 'nobody' });
  });
  it('refuses a time already past, one too far ahead, and a send that checks stop', () => {
    expect(schedule(draft, ready, aTally(10), now, now)).toEqual({
      ok: false,
      error: 'in-the-past',
    });
    expect(schedule(draft, ready, aTally(10), new Date('2036-01-01'), now)).toEqual({
      ok: false,
      error: 'too-far',
    });
    expect(sendNow(draft, { ...ready, stops: 1 }, aTally(10))).toEqual({
      ok: false,
      error: 'checks',
    });
    expect(sendNow(draft, { ...ready, tally: aTally(0) }, aTally(0))).toEqual({
      ok: false,
      error: 'nobody',
    });
    expect(sendNow({ status: 'sent' }, ready, aTally(10))).toEqual({
      ok: false,
      error: 'not-a-draft',
    });
  });
  it('pauses, goes on and stops only while it goes out', () => {
    expect(pause({ status: 'sending' })).toEqual({ ok: true, value: { status: 'paused' } });
    expect(goOn({ status: 'paused' })).toEqual({ ok: true, value: { status: 'sending' } });
    expect(stop({ status: 'paused' })).toEqual({ ok: true, value: { status: 'stopped' } });
    for (const move of [pause, goOn, stop, agree, backToDraft, unschedule])
      expect(move({ status: 'sent' }).ok).toBe(false);
  });
  it('is edited or has results, never both', () => {
    for (const status of campaignStatuses) expect(editable(status) && wentOut(status)).toBe(false);
  });
});

describe('checks', () => {
  const note = shippedTemplates.find(({ key }) => key === 'note');
  const situation: CampaignSituation = {
    letter: {
      content: note?.content ?? emptyLetter('x'),
      officeName: 'Garden',
      postalAddress: '3 Orchard Walk',
      fields: ['given_name'],
    },
    who: { to: [{ kind: 'tag', id: 1 }], notTo: [] },
    tally: aTally(3),
    senderName: 'Garden',
    senderAddress: 'letters@example.com',
    replyTo: '',
    unfinishedSegments: [],
    gone: 0,
  };
  it('let a finished campaign go', () => expect(stops(checkCampaign(situation))).toBe(0));
  it.each<[string, Partial<CampaignSituation>]>([
    ['who', { who: { to: [], notTo: [] } }],
    ['who', { tally: aTally(0) }],
    ['who', { gone: 1 }],
    ['who', { unfinishedSegments: ['Guests'] }],
    ['from', { senderName: ' ' }],
    ['from', { senderAddress: '' }],
    ['from', { senderAddress: 'letters@example.com\r\nBcc: x@example.com' }],
    ['from', { replyTo: 'nobody' }],
    ['letter', { letter: undefined }],
    ['settings', { letter: situation.letter && { ...situation.letter, postalAddress: '' } }],
    ['letter', { letter: situation.letter && { ...situation.letter, fields: [] } }],
  ])('stop and point to %s (%#)', (at, change) => {
    const found = checkCampaign({ ...situation, ...change }).filter(
      ({ level }) => level === 'stop',
    );
    expect(found.map(({ place }) => place?.at)).toContain(at);
  });
});
