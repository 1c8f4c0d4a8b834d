// Hits of one delivery: which of them a person can have made.
import fc from 'fast-check';
import {
  AT_ONCE,
  labelHits,
  machineReason,
  TOO_SOON,
  type DeliverySeen,
  type ReaderHit,
} from './index.js';

const start = Date.UTC(2026, 2, 10, 12);
const after = (ms: number): Date => new Date(start + ms);
const seen: DeliverySeen = { acceptedAt: after(0), isUnderWay: false, hiddenLinks: [] };
const click = (ms: number, link: number, why: string | null = null): ReaderHit => ({
  kind: 'clicked',
  at: after(ms),
  link,
  why,
});
const open = (ms: number, why: string | null = null): ReaderHit => ({
  kind: 'opened',
  at: after(ms),
  link: null,
  why,
});
const label = (
  hits: readonly ReaderHit[],
  before: readonly ReaderHit[] = [],
  more: Partial<DeliverySeen> = {},
  pace = 1,
) => labelHits(hits, before, { ...seen, ...more }, pace);

const soon = 'within seconds of delivery';
const several = 'several links within a second';
const hidden = 'followed a link that no person can see';

describe('by timing', () => {
  it.each<[string, readonly ReaderHit[], readonly (string | null)[]]>([
    ['a person who takes time', [open(60_000), click(70_000, 1)], [null, null]],
    ['an open at once', [open(500)], [soon]],
    ['just too soon', [open(TOO_SOON - 1)], [soon]],
    ['just late enough', [open(TOO_SOON)], [null]],
    [
      'every link at once',
      [click(60_000, 0), click(60_200, 1), click(60_400, 2)],
      [several, several, several],
    ],
    [
      'the same link twice, as impatient people do',
      [click(60_000, 1), click(60_300, 1)],
      [null, null],
    ],
    ['two links a while apart', [click(60_000, 0), click(60_001 + AT_ONCE, 1)], [null, null]],
    [
      'an open beside a scanner’s clicks is judged by itself',
      [open(60_000), click(60_000, 0), click(60_010, 1)],
      [null, several, several],
    ],
    ['what the request shows comes first', [click(100, 1, 'a known robot')], ['a known robot']],
  ])('%s', (_, hits, why) => expect(label(hits).why).toEqual(why));

  it('knows a scanner by what it did just before, and says so of that, too', () => {
    expect(label([click(60_400, 2)], [click(60_000, 1)])).toEqual({
      why: [several],
      relabel: [{ at: 0, why: several }],
    });
    expect(label([click(60_400, 2)], [click(60_000, 1, 'a known robot')])).toEqual({
      why: [several],
      relabel: [],
    });
    expect(label([click(60_400, 1)], [click(60_000, 1)])).toEqual({ why: [null], relabel: [] });
  });

  it('takes whoever follows a hidden link for a machine, with everything it does in that second', () => {
    expect(
      label([click(60_000, 5), click(60_100, 5)], [click(59_900, 1)], { hiddenLinks: [5] }),
    ).toEqual({ why: [hidden, hidden], relabel: [{ at: 0, why: hidden }] });
  });

  it('takes what comes while the letter is handed over for a machine, and doubts nothing when nothing is known', () => {
    expect(label([open(0)], [], { acceptedAt: null, isUnderWay: true }).why).toEqual([soon]);
    expect(label([open(0)], [], { acceptedAt: null }).why).toEqual([null]);
  });

  it('follows the pace of the readers', () =>
    expect(label([open(100)], [], {}, 60).why).toEqual([null]));
});

it('answers for every hit, and never makes a machine’s a person’s', () => {
  const hit = fc
    .record({
      ms: fc.nat(100_000),
      link: fc.nat(3),
      isOpen: fc.boolean(),
      why: fc.constantFrom(null, 'a known robot'),
    })
    .map(({ ms, link, isOpen, why }) => (isOpen ? open(ms, why) : click(ms, link, why)));
  fc.assert(
    fc.property(
      fc.array(hit, { maxLength: 8 }),
      fc.array(hit, { maxLength: 4 }),
      (hits, before) => {
        const { why, relabel } = label(hits, before);
        expect(why).toHaveLength(hits.length);
        hits.forEach((one, at) => one.why !== null && expect(why[at]).toBe(one.why));
        for (const { at } of relabel) expect(before[at]?.why).toBeNull();
      },
    ),
  );
});

it.each([
  ['picture proxy', 'ImageProxy/1.0', 'a mail scanner or proxy'],
  ['scanner', 'acme link-checker 2', 'a mail scanner or proxy'],
  ['gateway', 'Mail-Gateway/3', 'a mail scanner or proxy'],
  ['a mail program', 'Mozilla/5.0 (X11) Lantern/4.2', undefined],
])('knows a %s by its name', (_, agent, reason) =>
  expect(machineReason({ method: 'GET', knownAgent: false, purpose: '', agent })).toBe(reason),
);
