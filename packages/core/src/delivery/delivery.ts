// What becomes of one letter to one contact: the only truth about who got what.
import type { Answer } from './answer.js';

export const deliveryStates = [
  'waiting',
  'handing over',
  'accepted',
  'deferred',
  'bounced',
  'held back',
  'stopped',
  'gave up',
  'uncertain',
] as const;
export type DeliveryState = (typeof deliveryStates)[number];

/** Pauses between tries, in milliseconds; the last one repeats. */
const PAUSES = [60_000, 5 * 60_000, 15 * 60_000, 3_600_000, 4 * 3_600_000];
export const GIVE_UP_AFTER = 3 * 24 * 3_600_000;

/** How long to wait before the try after `attempts` tries, in milliseconds of reader time. */
export const pauseAfter = (attempts: number): number =>
  PAUSES[Math.min(Math.max(attempts, 1), PAUSES.length) - 1] ?? 60_000;

interface Step {
  readonly from: readonly DeliveryState[];
  readonly to: DeliveryState;
}

/** Every move of a delivery there is; core and the statements both read it, and nothing else moves one. */
export const deliverySteps = {
  'handed over': { from: ['waiting', 'deferred'], to: 'handing over' },
  // An answer that comes late, from a process that was taken for dead, still settles its letter.
  accepted: { from: ['handing over', 'uncertain'], to: 'accepted' },
  refused: { from: ['handing over', 'uncertain'], to: 'bounced' },
  'put off': { from: ['handing over', 'uncertain'], to: 'deferred' },
  'given up': { from: ['handing over', 'uncertain'], to: 'gave up' },
  'not taken': { from: ['handing over', 'uncertain'], to: 'waiting' },
  lost: { from: ['handing over', 'uncertain'], to: 'uncertain' },
  'worker gone': { from: ['handing over'], to: 'uncertain' },
  'do not mail': { from: ['waiting', 'deferred'], to: 'held back' },
  stop: { from: ['waiting', 'deferred'], to: 'stopped' },
  'bounce notice': { from: ['accepted', 'uncertain'], to: 'bounced' },
  seen: { from: ['uncertain'], to: 'accepted' },
  'count as sent': { from: ['uncertain'], to: 'accepted' },
  /** After a break of continuity: what was still to go out may have gone. */
  'count all as sent': {
    from: ['waiting', 'deferred', 'handing over', 'uncertain'],
    to: 'accepted',
  },
  'send again': { from: ['uncertain'], to: 'waiting' },
} as const satisfies Readonly<Record<string, Step>>;
export type DeliveryStep = keyof typeof deliverySteps;

/** The step that an answer of a mail server is. `sinceFirst`: since the first try, in milliseconds of reader time. */
export function stepOf(answer: Answer, sinceFirst: number): DeliveryStep {
  if (answer.kind === 'accepted') return 'accepted';
  if (answer.kind === 'bounced') return 'refused';
  return sinceFirst >= GIVE_UP_AFTER ? 'given up' : 'put off';
}

/** Whether a step leads on from a state: a late or doubled one changes nothing. */
export const leadsOn = (step: DeliveryStep, from: DeliveryState): boolean =>
  (deliverySteps[step].from as readonly DeliveryState[]).includes(from);

/** To be handed over, now or later. */
export const due: readonly DeliveryState[] = deliverySteps['handed over'].from;
/** Sent is every letter that was tried. */
export const tried: readonly DeliveryState[] = [
  'handing over',
  'accepted',
  'deferred',
  'bounced',
  'gave up',
  'uncertain',
];
/** Still to be worked on. */
export const unsettled: readonly DeliveryState[] = [...due, 'handing over'];
/** Nothing more will happen by itself. */
export const settled: readonly DeliveryState[] = deliveryStates.filter(
  (state) => !unsettled.includes(state),
);
