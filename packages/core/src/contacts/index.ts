export {
  displayName,
  listName,
  nameKey,
  oneLine,
  searchKey,
  tagKey,
  type PersonName,
} from './text.js';
export {
  addressProblems,
  asciiForm,
  envelopeAddress,
  isBeyondAscii,
  maskedAddress,
  parseAddress,
  parsePlainAddress,
  type Address,
  type AddressProblem,
} from './address.js';
export {
  TEXT_LIMIT,
  builtInFields,
  builtInKeys,
  fieldTypes,
  formatFieldValue,
  readerValue,
  isBuiltIn,
  ownId,
  ownKey,
  parseDay,
  parseFieldValue,
  permissionKinds,
  permissionValues,
  permissionWords,
  textKeys,
  type BuiltInKey,
  type Choice,
  type Field,
  type FieldType,
  type FieldValue,
  type PermissionKind,
  type PermissionTerms,
  type TextKey,
} from './fields.js';
export { TAG_NAME_LIMIT, parseTagName, tagColours, type TagColour, type TagId } from './tags.js';
export {
  doNotMailReasons,
  doNotMailWords,
  poolKinds,
  standings,
  type DoNotMailReason,
  type PoolKind,
  type Standing,
} from './mail.js';
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
export type PoolId = Id<'Pool'>;
export type TopicId = Id<'Topic'>;
export type ChangeSetId = Id<'ChangeSet'>;
export { parseSort, SORT_TERMS, sortText, type SortTerm } from './sort.js';
export { deedWords, fieldsForMany, parseDeed, type Deed, type DeedName } from './deeds.js';
export { exportFormatNames, exportFormats, vcard, type ExportFormat } from './vcard.js';
