// The office's own mails, such as a confirmation: each is handed over once, and what becomes of it is known.
import type { Answer } from './answer.js';

export const outboxStates = [
  'waiting',
  'handing over',
  'sent',
  'refused',
  'gave up',
  'uncertain',
  'left',
] as const;
export type OutboxState = (typeof outboxStates)[number];

interface Step {
  readonly from: readonly OutboxState[];
  readonly to: OutboxState;
}

/** Every move of such a mail; the statements read it, too. */
export const outboxSteps = {
  'handed over': { from: ['waiting'], to: 'handing over' },
  accepted: { from: ['handing over'], to: 'sent' },
  refused: { from: ['handing over'], to: 'refused' },
  'put off': { from: ['handing over'], to: 'waiting' },
  'given up': { from: ['handing over'], to: 'gave up' },
  /** The connection, or the process, went while it may have been taken: it is never sent again by itself. */
  lost: { from: ['handing over'], to: 'uncertain' },
  'send again': { from: ['uncertain', 'gave up'], to: 'waiting' },
  leave: { from: ['waiting', 'uncertain', 'gave up'], to: 'left' },
} as const satisfies Readonly<Record<string, Step>>;
export type OutboxStep = keyof typeof outboxSteps;

const MINUTE = 60_000;
/** Pauses after the first try, the second, and so on, in milliseconds; after the last it is given up. */
const PAUSES = [1, 5, 15, 60, 240, 720].map((minutes) => minutes * MINUTE);

export type HandedOver =
  | { readonly kind: 'answered'; readonly answer: Answer }
  /** The server can't have it. */
  | { readonly kind: 'not taken' }
  /** It may have it. */
  | { readonly kind: 'lost' };

/** What handing over was, at the so-manieth try; `pause` until the next one, in milliseconds of reader time. */
export function afterHandingOver(
  end: HandedOver,
  tries: number,
): { readonly step: OutboxStep; readonly pause?: number } {
  if (end.kind === 'lost') return { step: 'lost' };
  if (end.kind === 'answered' && end.answer.kind === 'accepted') return { step: 'accepted' };
  if (end.kind === 'answered' && end.answer.kind === 'bounced') return { step: 'refused' };
  const pause = PAUSES[Math.max(tries, 1) - 1];
  return pause === undefined ? { step: 'given up' } : { step: 'put off', pause };
}
