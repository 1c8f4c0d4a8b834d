// Every kind of condition. A new one is a file beside this, named in the two lists here; the compiler names the rest.
import type { Result } from '../../kernel/index.js';
import { fail } from '../../kernel/index.js';
import { field, type FieldCondition } from './field.js';
import type { ConditionKind, FactName, Facts, RuleContext } from './kind.js';
import { tag, type TagCondition } from './tag.js';

export type Condition = FieldCondition | TagCondition;
export type ConditionName = Condition['kind'];
export type ConditionOf<K extends ConditionName> = Extract<Condition, { readonly kind: K }>;

const conditions = { field, tag } satisfies {
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
export function factsFor(condition: Condition, person: Person): Facts {
  const missing = kindOf(condition).needs.find((fact) => person[fact] === undefined);
  if (missing) throw new Error(`the fact “${missing}” was not loaded`);
  return person as Facts;
}

export function parseCondition(
  raw: Record<string, unknown>,
  context: RuleContext,
): Result<Condition, string> {
  const name = conditionNames.find((kind) => kind === raw['kind']);
  return name ? conditions[name].parse(raw, context) : fail('this kind of condition is not known.');
}
