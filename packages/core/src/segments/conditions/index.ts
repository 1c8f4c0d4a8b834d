// Every kind of condition. A new one is a file beside this, named in the two lists here; the compiler names the rest.
import type { Result } from '../../kernel/index.js';
import { fail, ok } from '../../kernel/index.js';
import { doNotMail, type DoNotMailCondition } from './do-not-mail.js';
import { everybody, type EverybodyCondition } from './everybody.js';
import { field, type FieldCondition } from './field/index.js';
import type { ConditionKind, FactName, Facts, RuleContext } from './kind.js';
import { letter } from './letter.js';
import type { LetterCondition } from './letter-condition.js';
import { place, type PlaceCondition } from './place.js';
import { rating, type RatingCondition } from './rating.js';
import { segment, type SegmentCondition } from './segment.js';
import { since, type SinceCondition } from './since.js';
import { standing, type StandingCondition } from './standing.js';
import { tag, type TagCondition } from './tag.js';
import { topic, type TopicCondition } from './topic.js';

/** What every condition may carry: switched off, it is kept and not asked. */
interface Kept {
  readonly off?: true;
}
export type Condition = Kept &
  (
    | FieldCondition
    | TagCondition
    | StandingCondition
    | DoNotMailCondition
    | TopicCondition
    | RatingCondition
    | LetterCondition
    | SinceCondition
    | PlaceCondition
    | SegmentCondition
    | EverybodyCondition
  );
export type ConditionName = Condition['kind'];
export type ConditionOf<K extends ConditionName> = Extract<Condition, { readonly kind: K }>;

const conditions = {
  tag,
  field,
  standing,
  'do not mail': doNotMail,
  topic,
  rating,
  letter,
  since,
  place,
  segment,
  everybody,
} satisfies {
  readonly [K in ConditionName]: ConditionKind<ConditionOf<K>, FactName>;
};

export const conditionNames = Object.keys(conditions) as readonly ConditionName[];

/** What is loaded of one person: at least what the conditions of a rule need. */
export type Person = Partial<Facts>;

/** A kind as it is used when only its condition is known: the facts it needs are looked for when it is asked. */
export type AnyKind = ConditionKind<Condition, FactName>;

/** The one place that pairs a condition with its kind; each is only ever given conditions of its own. */
export const kindOf = ({ kind }: Condition): AnyKind => conditions[kind] as unknown as AnyKind;

/** Throws when a fact that the condition needs was not loaded: that would decide about somebody without looking. */
export function factsFor(condition: Condition, person: Person, context: RuleContext): Facts {
  const missing = kindOf(condition)
    .needs(condition, context)
    .find((fact) => person[fact] === undefined);
  if (missing) throw new Error(`the fact “${missing}” was not loaded`);
  return person as Facts;
}

export function parseCondition(
  raw: Record<string, unknown>,
  context: RuleContext,
): Result<Condition, string> {
  const name = conditionNames.find((kind) => kind === raw['kind']);
  if (!name) return fail('this kind of condition is not known.');
  const parsed: Result<Condition, string> = conditions[name].parse(raw, context);
  return parsed.ok && raw['off'] === true ? ok({ ...parsed.value, off: true }) : parsed;
}
