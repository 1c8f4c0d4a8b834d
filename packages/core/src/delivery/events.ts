// What readers and mail servers did with a letter, as the event log has it.
import { deliveryStates, type DeliveryState } from './delivery.js';

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

/** What became of a letter to somebody, and what they did with it; `sent` is one that arrived, even if it came back later. */
export type LetterKind = 'sent' | Exclude<DeliveryState, 'accepted'> | EventKind;

const letterKinds: ReadonlySet<string> = new Set(
  [...deliveryStates, ...eventKinds, 'sent'].filter((kind) => kind !== 'accepted'),
);
export const isLetterKind = (kind: string): kind is LetterKind => letterKinds.has(kind);
