// Whose rating rose or fell: today against its lowest or highest of the last days.
import { extremes, FADING_WITHIN } from '../../contacts/index.js';
import { fail, ok, type Result } from '../../kernel/index.js';
import type { ConditionKind } from './kind.js';

export const ratingMoves = ['rose', 'fell'] as const;
export type RatingMove = (typeof ratingMoves)[number];

export interface RatingCondition {
  readonly kind: 'rating';
  readonly op: RatingMove;
  /** In points; absent while it is typed. */
  readonly by?: number;
  /** In days. */
  readonly within?: number;
}

/** A course is kept so long. */
export const MOVED_WITHIN = FADING_WITHIN;

const read = (raw: unknown, most: number): number | null | undefined =>
  raw === undefined || raw === null
    ? undefined
    : typeof raw === 'number' && Number.isInteger(raw) && raw >= 1 && raw <= most
      ? raw
      : null;

export const rating: ConditionKind<RatingCondition, 'ratingCourse'> = {
  needs: () => ['ratingCourse'],

  parse(raw): Result<RatingCondition, string> {
    const op = ratingMoves.find((one) => one === raw['op']);
    if (!op) return fail('this way of asking for a rating is not known.');
    const by = read(raw['by'], 100);
    if (by === null) return fail('a rating rises or falls by 1 to 100 points.');
    const within = read(raw['within'], MOVED_WITHIN);
    if (within === null)
      return fail(`how a rating went is known for the last 1 to ${MOVED_WITHIN} days.`);
    return ok({
      kind: 'rating',
      op,
      ...(by === undefined ? {} : { by }),
      ...(within === undefined ? {} : { within }),
    });
  },

  finished: ({ by, within }) => by !== undefined && within !== undefined,

  weight: () => 2,

  compile: ({ op, by = 0, within = 0 }, { today }) => [
    { ref: { of: 'rating move', way: op, by, days: within, today } },
  ],

  holds({ op, by = 0, within = 0 }, { ratingCourse }) {
    const now = ratingCourse[0] ?? null;
    const { high, low } = extremes(ratingCourse.slice(0, within + 1));
    if (now === null || high === null || low === null) return false;
    return op === 'rose' ? now - low >= by : high - now >= by;
  },

  saw({ within = 0 }, { ratingCourse }) {
    const { high, low } = extremes(ratingCourse.slice(0, within + 1));
    return high === null || low === null
      ? 'no rating in that time'
      : `rated ${ratingCourse[0] ?? 'not at all'} now, ${low} to ${high} in that time`;
  },

  words: ({ op, by, within }) => [
    { text: `whose rating ${op} by ` },
    { text: `${by ?? '…'} or more`, strong: true },
    { text: ' within ' },
    { text: `the last ${within ?? '…'} ${within === 1 ? 'day' : 'days'}`, strong: true },
  ],
};
