export {
  compile,
  emptyRule,
  factsOf,
  finished,
  groupWords,
  holds,
  isGroup,
  parseRule,
  readback,
  trace,
  unfinished,
  weightOf,
  type Group,
  type GroupWord,
  type Rule,
  type RuleNode,
  type Trace,
} from './rule.js';
export { moveNode, nodeAt, parsePath, pathText, stepNode, type Path } from './edit.js';
export {
  fieldOperators,
  operandOf,
  operatorsFor,
  type FieldCondition,
  type FieldOperator,
  type Operand,
} from './conditions/field.js';
export { tagOperators, type TagCondition, type TagOperator } from './conditions/tag.js';
export {
  conditionNames,
  type Condition,
  type ConditionName,
  type ConditionOf,
  type Person,
} from './conditions/index.js';
export { type FactName, type Facts, type Phrase, type RuleContext } from './conditions/kind.js';
export { type Fragment, type Piece, type Reference } from './fragment.js';
import type { Id } from '../kernel/index.js';
export type SegmentId = Id<'Segment'>;
