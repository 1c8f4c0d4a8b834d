export {
  compile,
  emptyRule,
  finished,
  groupWords,
  holds,
  isGroup,
  parseRule,
  readback,
  trace,
  unfinished,
  weightOf,
  type Condition,
  type Group,
  type GroupWord,
  type Person,
  type Phrase,
  type Rule,
  type RuleContext,
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
} from './field-condition.js';
export { tagOperators, type TagCondition, type TagOperator } from './tag-condition.js';
export { type Fragment, type Piece, type Reference } from './fragment.js';
import type { Id } from '../kernel/index.js';
export type SegmentId = Id<'Segment'>;
