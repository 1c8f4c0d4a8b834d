// What becomes of one letter to one contact: the only truth about who got what.
import { fail, ok, unreachable, type Result } from '../kernel/index.js';
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

export type DeliveryEvent =
  | { readonly kind: 'handed over' }
  | {
      readonly kind: 'answered';
      readonly answer: Answer;
      readonly attempts: number;
      readonly sinceFirst: number;
    }
  /** The connection went before the server had read the whole message: it cannot have been accepted. */
  | { readonly kind: 'not taken' }
  /** The connection or the process went when the whole message may have been read. */
  | { readonly kind: 'lost' }
  | { readonly kind: 'do not mail' }
  | { readonly kind: 'stop' }
  | { readonly kind: 'bounce notice' }
  /** An open, a click or a reply by a person: the letter is there. */
  | { readonly kind: 'seen' }
  | { readonly kind: 'count as sent' }
  | { readonly kind: 'send again' };

/** Pauses between tries, in milliseconds; the last one repeats. */
const PAUSES = [60_000, 5 * 60_000, 15 * 60_000, 3_600_000, 4 * 3_600_000];
export const GIVE_UP_AFTER = 3 * 24 * 3_600_000;

/** How long to wait before the try after `attempts` tries, in milliseconds of reader time. */
export const pauseAfter = (attempts: number): number =>
  PAUSES[Math.min(Math.max(attempts, 1), PAUSES.length) - 1] ?? 60_000;

/** The state after an event; refuses what can't happen, so that a late or doubled event changes nothing. */
export function next(
  state: DeliveryState,
  event: DeliveryEvent,
): Result<DeliveryState, 'no-such-step'> {
  const from = (...states: DeliveryState[]): boolean => states.includes(state);
  const step = (allowed: boolean, to: DeliveryState): Result<DeliveryState, 'no-such-step'> =>
    allowed ? ok(to) : fail('no-such-step');
  switch (event.kind) {
    case 'handed over':
      return step(from('waiting', 'deferred'), 'handing over');
    case 'answered': {
      const { kind } = event.answer;
      if (kind === 'accepted') return step(from('handing over'), 'accepted');
      if (kind === 'bounced') return step(from('handing over'), 'bounced');
      return step(from('handing over'), event.sinceFirst >= GIVE_UP_AFTER ? 'gave up' : 'deferred');
    }
    case 'not taken':
      return step(from('handing over'), 'waiting');
    case 'lost':
      return step(from('handing over'), 'uncertain');
    case 'do not mail':
      return step(from('waiting', 'deferred', 'handing over'), 'held back');
    case 'stop':
      return step(from('waiting', 'deferred'), 'stopped');
    case 'bounce notice':
      return step(from('accepted', 'uncertain'), 'bounced');
    case 'seen':
    case 'count as sent':
      return step(from('uncertain'), 'accepted');
    case 'send again':
      return step(from('uncertain'), 'waiting');
    default:
      return unreachable(event);
  }
}

/** Sent is every letter that was tried. */
export const tried: readonly DeliveryState[] = [
  'handing over',
  'accepted',
  'deferred',
  'bounced',
  'gave up',
  'uncertain',
];
/** Nothing more will happen by itself. */
export const settled: readonly DeliveryState[] = [
  'accepted',
  'bounced',
  'held back',
  'stopped',
  'gave up',
  'uncertain',
];
