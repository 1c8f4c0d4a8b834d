export {
  beginning,
  KEYS_VERSION,
  displayName,
  listName,
  manyLines,
  nameKey,
  oneLine,
  shortLine,
  searchKey,
  tagKey,
  type PersonName,
} from './text.js';
export {
  addressProblems,
  asciiForm,
  shownAddressKey,
  envelopeAddress,
  isBeyondAscii,
  maskedAddress,
  parseAddress,
  parsePlainAddress,
  type Address,
  type AddressProblem,
} from './address.js';
export {
  FIELD_LIMITS,
  fieldTypes,
  sinceUnits,
  type Choice,
  type Dialling,
  type Field,
  type FieldType,
  type FieldValue,
  type SinceUnit,
} from './fields/field.js';
export {
  belongingKeys,
  builtInFields,
  builtInKeys,
  filledKeys,
  isBelonging,
  isBuiltIn,
  isMoment,
  moments,
  namedKeys,
  permissionKinds,
  permissionValues,
  permissionWords,
  WORDING_LIMIT,
  type BuiltInKey,
  type BuiltInWords,
  type MomentKey,
  type NamedKey,
  type PermissionKind,
  type PermissionTerms,
} from './fields/built-in.js';
export {
  fitting,
  formatFieldValue,
  isText,
  madeTypes,
  ownId,
  ownKey,
  readerValue,
  textKey,
} from './fields/index.js';
export {
  fieldProblem,
  refitted,
  typesFor,
  writtenChoices,
  type WrittenChoice,
} from './fields/definition.js';
export { diallingOf } from './fields/dialling.js';
export { parseFieldValue } from './fields/reading.js';
export { dayOrders, hasDayOrder, isEitherDay, parseDay, type DayOrder } from './fields/day-text.js';
export { joinKeys, offered, splitKeys } from './fields/choices.js';
export { since } from './fields/days.js';
export { atHome, lines, phoneDigits } from './fields/reach.js';
export {
  ANSWERED_LATELY,
  automaticTag,
  automaticTags,
  NEVER_ANSWERED_AFTER,
  NEW_FOR,
  type AutomaticTag,
} from './automatic.js';
export {
  bandOf,
  bands,
  explainRating,
  extremes,
  FADING_BY,
  FADING_WITHIN,
  HALF_LIFE,
  parseScale,
  RATED_FROM,
  RISEN_BY,
  ratedResponses,
  rating,
  ratingCourse,
  standardScale,
  type Band,
  type RatedLetter,
  type RatedResponse,
  type RatingExplained,
  type RatingPart,
  type RatingScale,
} from './rating.js';
export { movesOf, said, type LoggedChange, type Move } from './undoing.js';
export { alikeTags, type AlikeTags } from './alike.js';
export { TAG_NAME_LIMIT, parseTagName, tagColours, type TagColour, type TagId } from './tags.js';
export {
  doNotMailReasons,
  doNotMailWords,
  poolKinds,
  standings,
  type DoNotMailReason,
  type PoolId,
  type PoolKind,
  type Standing,
} from './mail.js';
export {
  addressKeysIn,
  ERASED,
  personalPlaceNames,
  personalPlaces,
  withoutAddresses,
  withoutAddressesIn,
  type PersonalPlace,
} from './erasing.js';
export {
  happeningKinds,
  happeningsOf,
  markedTag,
  tagMark,
  type Happening,
  type HappeningKind,
} from './happenings.js';
export {
  parsePeopleRef,
  peopleKinds,
  searchWords,
  type PeopleKind,
  type PeopleName,
  type PeopleParts,
  type PeopleRef,
} from './people.js';
import type { Id } from '../kernel/index.js';
export type ContactId = Id<'Contact'>;
export type TopicId = Id<'Topic'>;
export type ChangeSetId = Id<'ChangeSet'>;
export { parseSort, SORT_TERMS, sortText, type SortTerm } from './sort.js';
export {
  deedWords,
  fieldOfDeed,
  isForOwners,
  whyLeft,
  fieldsForMany,
  parseDeed,
  type Deed,
  type DeedContext,
  type DeedName,
} from './deeds.js';
export { exportFormatNames, exportFormats, vcard, type ExportFormat } from './vcard.js';

export {
  gazetteerLine,
  placeKinds,
  postcodeKey,
  type GazetteerEntry,
  type PlaceKind,
} from './gazetteer.js';
