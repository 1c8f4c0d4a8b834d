// Long work of the office: what kinds there are, and how often it is tried.

/** Each kind has a queue of its own. */
export const workKinds = [
  'fixing',
  'sending',
  'change',
  'import',
  'looking',
  'mail',
  'rating',
  'placing',
  'keying',
  'erasing',
  'upkeep',
] as const;
export type WorkKind = (typeof workKinds)[number];

const SECOND = 1000;
const MINUTE = 60 * SECOND;
/** Pauses after one failure, two, and so on, in milliseconds; the next one is the last. */
const PAUSES = [SECOND, 5 * SECOND, 30 * SECOND, 2 * MINUTE, 10 * MINUTE] as const;

/** How long work that has failed so often in a row is left alone, in milliseconds; undefined when it is given up. */
export const pauseAfterFailures = (failures: number): number | undefined =>
  PAUSES[Math.max(failures, 1) - 1];

/** So often in a row is no accident: somebody should know, although it is still tried again. */
export const WORTH_SAYING = 3;
