// What readers and mail servers did with a letter, as the event log has it.
import type { DeliveryState } from './delivery.js';

export const eventKinds = [
  'opened',
  'clicked',
  'left',
  'bounced',
  'came back',
  'complained',
  'replied',
  'replied by itself',
  'chose topics',
  'changed own data',
] as const;
export type EventKind = (typeof eventKinds)[number];

/** What became of a letter to somebody, as their timeline says it; `sent` is one that arrived, even if it came back later. */
export type LetterState = 'sent' | Exclude<DeliveryState, 'accepted'>;
