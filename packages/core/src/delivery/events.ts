// What readers and mail servers did with a letter, as the event log has it.
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
