export {
  compile,
  compileRule,
  emptyRule,
  factsOf,
  finds,
  finished,
  groupWords,
  holds,
  findsAnybody,
  isActive,
  isGroup,
  parseRule,
  RULE_LIMITS,
  trace,
  unfinished,
  tooHeavy,
  weightOf,
  type Group,
  type GroupWord,
  type Rule,
  type RuleNode,
  type Trace,
} from './rule.js';
export { readback } from './readback.js';
export { KeySet } from './key-set.js';
export {
  changedAt,
  differsByMuch,
  found,
  leavesOf,
  leftAfter,
  sift,
  switchedOff,
  type Sifted,
  type Step,
  type WhatIf,
} from './sifting.js';
export {
  changesSegment,
  seesSegment,
  segmentSharings,
  type SegmentSharing,
  type SharedSegment,
} from './sharing.js';
export {
  readSegmentFile,
  SEGMENT_FILE_VERSION,
  segmentFile,
  type FileWords,
  type SegmentFile,
} from './file.js';
export { circleOf, reader, segmentDepth, segmentsIn, segmentsNamed } from './others.js';
export {
  copyNode,
  moveNode,
  negated,
  nodeAt,
  parsePath,
  pathText,
  putNode,
  stepNode,
  type Path,
} from './edit.js';
export {
  operandOf,
  operatorsFor,
  type FieldCondition,
  type FieldOperator,
} from './conditions/field/index.js';
export { withoutTag } from './tags.js';
export { monthName } from './conditions/field/date.js';
export {
  OPERAND_LIMITS,
  spanUnits,
  type OperandName,
  type Operands,
  type OperandValue,
  type Span,
  type SpanUnit,
} from './conditions/field/operand.js';
export { mayAskWhen, tagOperators, type TagCondition, type TagOperator } from './conditions/tag.js';
export {
  MOVED_WITHIN,
  ratingMoves,
  type RatingCondition,
  type RatingMove,
} from './conditions/rating.js';
export { type StandingCondition } from './conditions/standing.js';
export { type DoNotMailCondition } from './conditions/do-not-mail.js';
export { type EverybodyCondition } from './conditions/everybody.js';
export { topicOperators, type TopicCondition, type TopicOperator } from './conditions/topic.js';
export {
  conditionNames,
  type Condition,
  type ConditionName,
  type ConditionOf,
  type Person,
} from './conditions/index.js';
export {
  segmentKinds,
  type CampaignInRule,
  type FactName,
  type Facts,
  type LetterFact,
  type Phrase,
  type Position,
  type ReadSegment,
  type RuleContext,
  type SegmentInRule,
  type SegmentKind,
} from './conditions/kind.js';
export {
  isRecent,
  letterDeeds,
  type KeptDeed,
  type LetterDeed,
  type RecentDeed,
} from './conditions/letter-deeds.js';
export {
  letterScopes,
  LETTERS_LAST,
  lettersWhose,
  mayCountMachines,
  type HowMany,
  type LetterCondition,
  type LetterScope,
  type LettersOf,
  type LettersWhose,
} from './conditions/letter-condition.js';
export { sinceDeeds, type SinceCondition, type SinceDeed } from './conditions/since.js';
export {
  apartBy,
  FARTHEST_KM,
  placeOperators,
  type NamedPlace,
  type PlaceCondition,
  type PlaceOperator,
} from './conditions/place.js';
export {
  DEEPEST,
  isOfPools,
  segmentOperators,
  type SegmentCondition,
  type SegmentOperator,
} from './conditions/segment.js';
export { queryOf, type Fragment, type Piece, type Reference } from './fragment.js';
import type { Id } from '../kernel/index.js';
export type SegmentId = Id<'Segment'>;
/** What a kept rule is called: a digest of what it says, so that only who knows one can ask for it. */
export type FilterKey = string;
export type ViewId = Id<'View'>;
export { emptyArrangement, parseArrangement, type Arrangement } from './arrangement.js';
