import fc from 'fast-check';
import { emptyLetter, shippedTemplates } from '../letters/index.js';
import {
  campaignStatuses,
  campaignSteps,
  checkCampaign,
  decide,
  editable,
  heldBackReasons,
  isOver,
  noneHeldBack,
  parseTally,
  parseWho,
  shownReasons,
  stops,
  tallyDifferences,
  tallyOf,
  underWay,
  wentOut,
  type CampaignOrder,
  type CampaignRefusal,
  type CampaignSituation,
  type CampaignState,
  type CampaignStep,
  type PlainStep,
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
  const sendAt = new Date('2026-03-03T09:00:00Z');
  const after = (state: CampaignState, order: CampaignOrder): CampaignState => {
    const decided = decide(state, order);
    if (!decided.ok) throw new Error(decided.error);
    return decided.value;
  };
  const refused = (state: CampaignState, order: CampaignOrder): unknown => {
    const decided = decide(state, order);
    return decided.ok ? undefined : decided.error;
  };
  const sendNow: CampaignOrder = { step: 'send now', readiness: ready, seen: aTally(10) };
  const schedule: CampaignOrder = { ...sendNow, step: 'schedule', sendAt, now };

  it('goes from draft over fixing to sending', () => {
    const fixing = after(draft, sendNow);
    expect(fixing).toMatchObject({ status: 'fixing', wasScheduled: false });
    expect(after(fixing, { step: 'fixed', tally: aTally(10) })).toEqual({ status: 'sending' });
  });
  it('stops “send now” when the tally is another one, and goes on after a yes', () => {
    const state = after(after(draft, sendNow), { step: 'fixed', tally: aTally(9) });
    expect(state).toEqual({ status: 'differs', seen: aTally(10), now: aTally(9) });
    expect(after(state, { step: 'agree' })).toEqual({ status: 'sending' });
    expect(after(state, { step: 'back to draft' })).toEqual(draft);
  });
  it('lets a scheduled send go although the tally is another one, not before its time', () => {
    const scheduled = after(draft, schedule);
    expect(refused(scheduled, { step: 'begin', now })).toBe('too-early');
    const begun = after(scheduled, { step: 'begin', now: sendAt });
    expect(after(begun, { step: 'fixed', tally: aTally(9) })).toEqual({ status: 'sending' });
    expect(after(scheduled, { step: 'unschedule' })).toEqual(draft);
  });
  it('never sends to nobody', () => {
    const begun = after(after(draft, schedule), { step: 'begin', now: sendAt });
    const state = after(begun, { step: 'fixed', tally: aTally(0) });
    expect(state.status).toBe('differs');
    expect(refused(state, { step: 'agree' })).toBe('nobody');
  });
  it.each<[CampaignRefusal, CampaignOrder]>([
    ['in-the-past', { ...schedule, sendAt: now }],
    ['too-far', { ...schedule, sendAt: new Date('2036-01-01') }],
    ['checks', { ...sendNow, readiness: { ...ready, stops: 1 } }],
    ['nobody', { ...sendNow, readiness: { ...ready, tally: aTally(0) } }],
    ['checks', { ...schedule, readiness: { ...ready, stops: 1 } }],
    ['not-paused', { step: 'go on' }],
  ])('refuses a draft: %s', (reason, order) => expect(refused(draft, order)).toBe(reason));

  const seen = aTally(10);
  const everyState: readonly CampaignState[] = [
    draft,
    { status: 'scheduled', sendAt, seen },
    { status: 'fixing', seen, wasScheduled: false },
    { status: 'fixing', seen, wasScheduled: true },
    { status: 'differs', seen, now: aTally(9) },
    { status: 'sending' },
    { status: 'paused' },
    { status: 'stopped' },
    { status: 'sent' },
  ];
  const { 'send now': _, schedule: __, begin: ___, fixed: ____, ...plain } = campaignSteps;
  const everyOrder: readonly CampaignOrder[] = [
    sendNow,
    schedule,
    { step: 'begin', now: sendAt },
    { step: 'fixed', tally: aTally(10) },
    { step: 'fixed', tally: aTally(9) },
    ...(Object.keys(plain) as PlainStep[]).map((step) => ({ step })),
  ];
  it('takes each step from where the table says and to where it says, and no other', () => {
    const taken = new Map<CampaignStep, Set<string>>();
    for (const state of everyState)
      for (const order of everyOrder) {
        const { from, to, otherwise } = campaignSteps[order.step];
        const decided = decide(state, order);
        if (!(from as readonly string[]).includes(state.status)) {
          expect(decided).toEqual({ ok: false, error: otherwise });
          continue;
        }
        if (!decided.ok) throw new Error(`${order.step} from ${state.status}: ${decided.error}`);
        expect(to).toContain(decided.value.status);
        taken.set(order.step, (taken.get(order.step) ?? new Set()).add(decided.value.status));
      }
    for (const [step, { to }] of Object.entries(campaignSteps))
      expect([...(taken.get(step as CampaignStep) ?? [])].sort()).toEqual([...to].sort());
  });
  it('is edited, under way or over: one of them, and has results unless it is edited or waits', () => {
    for (const status of campaignStatuses) {
      expect([editable, underWay, isOver].filter((is) => is(status))).toHaveLength(1);
      if (wentOut(status)) expect(editable(status)).toBe(false);
      if (isOver(status)) expect(wentOut(status)).toBe(true);
    }
  });
});

describe('checks', () => {
  const note = shippedTemplates.find(({ key }) => key === 'note');
  const situation: CampaignSituation = {
    letter: {
      content: note?.content ?? emptyLetter('x'),
      officeName: 'Garden',
      postalAddress: '3 Orchard Walk',
      fields: [{ key: 'given_name', label: 'given name' }],
    },
    gotAlready: 0,
    lacking: [],
    goesOut: '2026-03-02',
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
