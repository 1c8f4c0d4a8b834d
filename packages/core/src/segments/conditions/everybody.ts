// Everybody in the pool: said in words, because a rule that asks nothing is nobody.
import { ok } from '../../kernel/index.js';
import { everybody as all } from '../fragment.js';
import type { ConditionKind } from './kind.js';

export interface EverybodyCondition {
  readonly kind: 'everybody';
}

export const everybody: ConditionKind<EverybodyCondition, never> = {
  needs: () => [],
  parse: () => ok({ kind: 'everybody' }),
  finished: () => true,
  weight: () => 1,
  compile: () => all,
  holds: () => true,
  saw: () => 'is in the pool',
  words: () => [{ text: 'who are ' }, { text: 'in the pool', strong: true }],
};
