// Who is in another segment, by its rule in force or by its list.
import { fail, ok, type Result } from '../../kernel/index.js';
import { join, negate, type Fragment } from '../fragment.js';
import type {
  ConditionKind,
  FactName,
  Facts,
  ReadSegment,
  RuleContext,
  SegmentInRule,
} from './kind.js';

export const segmentOperators = ['is in', 'is not in'] as const;
export type SegmentOperator = (typeof segmentOperators)[number];

export interface SegmentCondition {
  readonly kind: 'segment';
  readonly op: SegmentOperator;
  /** Absent until one is chosen. */
  readonly segment?: number;
}

interface Asked {
  readonly other: SegmentInRule;
  /** Of a live one. */
  readonly live?: ReadSegment;
}

/** Segments ask for others so many deep at the most. */
export const DEEPEST = 20;

interface Reading {
  readonly asked: Map<number, Asked | undefined>;
  /** How many are just being read, one for another. */
  depth: number;
}

/** What was read once is kept as long as the words it was read against, however many segments ask for it on the way. */
const known = new WeakMap<RuleContext, Reading>();

/** The other segment; undefined where it is gone, or its rule can't be used as it stands. */
function askedOf({ segment: id }: SegmentCondition, context: RuleContext): Asked | undefined {
  if (id === undefined) return undefined;
  const reading = known.get(context) ?? { asked: new Map<number, Asked | undefined>(), depth: 0 };
  known.set(context, reading);
  if (!reading.asked.has(id)) {
    // Who asks for it while it is read goes in a circle, and finds nothing.
    reading.asked.set(id, undefined);
    reading.depth++;
    try {
      if (reading.depth <= DEEPEST) reading.asked.set(id, look(id, context));
    } finally {
      reading.depth--;
    }
  }
  return reading.asked.get(id);
}

function look(id: number, context: RuleContext): Asked | undefined {
  const other = context.segments.find((one) => one.id === id);
  if (!other?.read) return other && { other };
  const live = other.read(context);
  return live && { other, live };
}

export const segment: ConditionKind<SegmentCondition, FactName> = {
  needs(condition, context) {
    return ['pool', 'listedIn', 'values', ...(askedOf(condition, context)?.live?.needs ?? [])];
  },

  parse(raw, context): Result<SegmentCondition, string> {
    const op = segmentOperators.find((one) => one === raw['op']);
    if (!op) return fail('this way of asking for a segment is not known.');
    const { segment: id } = raw;
    if (id === undefined || id === null) return ok({ kind: 'segment', op });
    const other = context.segments.find((one) => one.id === id);
    return other
      ? ok({ kind: 'segment', op, segment: other.id })
      : fail('its segment is gone, or asks for this one itself. Choose another.');
  },

  finished: (condition, context) => askedOf(condition, context) !== undefined,
  lost: (condition, context) =>
    condition.segment !== undefined && askedOf(condition, context) === undefined,

  reaches: (condition, context) => askedOf(condition, context)?.live?.reached ?? 0,

  weight(condition, context) {
    return 1 + (askedOf(condition, context)?.live?.weight ?? 0);
  },

  compile(condition, context) {
    const asked = askedOf(condition, context);
    if (!asked) return ['false'];
    const { other, live } = asked;
    const parts: Fragment[] = [
      // Who is listed may be of any pool.
      ...(other.kind === 'live'
        ? [[{ ref: { of: 'in pools', pools: other.pools } } as const]]
        : []),
      live?.people ?? [{ ref: { of: 'listed in', segment: other.id } }],
      ...(other.seenBy === undefined
        ? []
        : [[{ ref: { of: 'seen by', user: other.seenBy } } as const]]),
    ];
    const whole = join(parts, ' and ');
    return condition.op === 'is in' ? whole : negate(whole);
  },

  holds(condition, facts, context) {
    const asked = askedOf(condition, context);
    return asked !== undefined && isIn(asked, facts) === (condition.op === 'is in');
  },

  saw(condition, facts, context) {
    const asked = askedOf(condition, context);
    if (!asked) return 'the segment is gone';
    return isIn(asked, facts) ? `is in ${asked.other.name}` : `is not in ${asked.other.name}`;
  },

  words({ op, segment: id }, { segments }) {
    return [
      { text: op === 'is in' ? 'who are in ' : 'who are not in ' },
      {
        text:
          id === undefined
            ? '…'
            : (segments.find((one) => one.id === id)?.name ??
              'a segment that is gone, or a colleague’s own'),
        strong: true,
      },
    ];
  },
};

function isIn({ other, live }: Asked, facts: Facts): boolean {
  if (other.kind === 'live' && !isOfPools(facts.pool, other.pools)) return false;
  if (other.seenBy !== undefined && !isSeenBy(other.seenBy, facts)) return false;
  return live ? live.finds(facts) : facts.listedIn.has(other.id);
}

/** Whether a pool is one of those that a segment sifts; of a segment that names none, any is. */
export const isOfPools = (pool: number, pools: readonly number[]): boolean =>
  pools.length === 0 || pools.includes(pool);

const isSeenBy = (user: number, { values }: Facts): boolean =>
  values['owner'] === String(user) ||
  String(values['shared_with'] ?? '')
    .split(',')
    .includes(String(user));
