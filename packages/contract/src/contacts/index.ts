import type { EventKind, LetterState } from '@palabra/core/delivery';

export type { EventKind, LetterState };
import {
  exportFormats,
  FIELD_LIMITS,
  madeTypes,
  parseScale,
  parseSort,
  parseTagName,
  permissionKinds,
  WORDING_LIMIT,
  SORT_TERMS,
  sinceUnits,
  sortText,
  tagColours,
  type AlikeTags,
  type Band,
  type Choice,
  type DoNotMailReason,
  type PersonalPlace,
  type Field,
  type FieldType,
  type ExportFormat,
  type FieldValue,
  type PermissionKind,
  type RatingExplained,
  type RatingScale,
  type SinceUnit,
  type TagColour,
} from '@palabra/core/contacts';
import { fail, ok, type Result } from '@palabra/core/kernel';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsObject,
  IsOptional,
  IsString,
  Length,
  Matches,
  Max,
  MaxLength,
  Min,
  ValidateNested,
} from 'class-validator';
import type { NoteReply, TaskReply } from '../notes/index.js';
import { PeopleFilter, PeopleSelection } from './selection.js';
import { MAX_ID, Parsed, ParsedInto, WholeNumber, type Moment, type Use } from '../wire/index.js';

export { PeopleFilter, PeopleSelection };

const sort = (value: unknown): Result<string, string> => {
  const terms = typeof value === 'string' ? parseSort(value) : undefined;
  return terms
    ? ok(sortText(terms))
    : fail(`A list is sorted by at most ${SORT_TERMS} fields, such as “town,-came_in”.`);
};
const columns = (value: unknown): Result<string, string> =>
  typeof value === 'string' && /^[a-z0-9_]{1,40}(,[a-z0-9_]{1,40}){0,39}$/.test(value)
    ? ok(value)
    : fail('Columns are at most 40 keys of fields, with commas between them.');

/** A list of people in an order. */
export class SortedFilter extends PeopleFilter {
  /** By name, without it. */
  @IsOptional() @Parsed(sort) sort?: string;
}

export class PeopleQuery extends SortedFilter {
  /** The fields whose values are wanted, by their keys. */
  @IsOptional() @Parsed(columns) columns?: string;
  /** How many come before the first row. */
  @IsOptional() @WholeNumber() @IsInt() @Min(0) @Max(MAX_ID) from?: number;
  @IsOptional() @WholeNumber() @IsInt() @Min(1) @Max(200) limit?: number;
}

export class TaggingRequest {
  @IsObject({ message: 'Say which people are meant.' })
  @ValidateNested()
  @Type(() => PeopleSelection)
  people!: PeopleSelection;
  @IsInt() @Min(1) @Max(MAX_ID) tag!: number;
  @IsBoolean() put!: boolean;
}

/** What is done to many people at once. */
export class DeedRequest {
  @IsObject({ message: 'Say which people are meant.' })
  @ValidateNested()
  @Type(() => PeopleSelection)
  people!: PeopleSelection;
  /** Read against the office's fields by the service. */
  @IsObject({ message: 'Say what is to be done.' }) deed!: object;
}

/** People as a file. */
export class ExportRequest {
  @IsObject({ message: 'Say which people are meant.' })
  @ValidateNested()
  @Type(() => PeopleSelection)
  people!: PeopleSelection;
  @IsIn(exportFormats, { message: 'This kind of file is not made.' }) format!: ExportFormat;
  /** Keys of fields, and `name`, `tags` and `do_not_mail`. */
  @IsArray()
  @ArrayMaxSize(200)
  @IsString({ each: true })
  columns!: string[];
  @IsOptional() @Parsed(sort) sort?: string;
}

const tagName = (value: unknown) => parseTagName(typeof value === 'string' ? value : '');

export class TagRequest {
  @Parsed(tagName) name!: string;
  @IsIn(tagColours, { message: 'This colour is not one of the tags’ colours.' }) colour!: TagColour;
  /** What it is for. */
  @IsOptional() @IsString() @MaxLength(200) purpose?: string;
}

export class TagChangeRequest extends TagRequest {
  @IsInt() version!: number;
}

export class MergeTagRequest {
  /** The tag that stays. */
  @IsInt() @Min(1) @Max(MAX_ID) into!: number;
}

/** Whether two tags that look alike are two. */
export class TellApartRequest {
  @IsInt() @Min(1) @Max(MAX_ID) one!: number;
  @IsInt() @Min(1) @Max(MAX_ID) other!: number;
  @IsBoolean() areTwo!: boolean;
}

class ChoiceRequest {
  /** Of one that is there already. */
  @IsOptional() @IsString() @MaxLength(20) key?: string;
  @IsString() @MaxLength(200) label!: string;
}

class SinceRequest {
  /** The key of the field with the day. */
  @IsString() @MaxLength(40) day!: string;
  @IsIn(sinceUnits, { message: 'It is counted in years or days.' }) unit!: SinceUnit;
}

/** What belongs to the kind of a field. */
class FieldPartsRequest {
  /** In their order. */
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(FIELD_LIMITS.choices, {
    message: `A field has at most ${FIELD_LIMITS.choices} choices.`,
  })
  @ValidateNested({ each: true })
  @Type(() => ChoiceRequest)
  choices?: ChoiceRequest[];
  @IsOptional()
  @Matches(/^[A-Z]{3}$/, { message: 'A currency is three letters, such as EUR.' })
  currency?: string;
  @IsOptional() @IsObject() @ValidateNested() @Type(() => SinceRequest) since?: SinceRequest;
}

/** What a field is made of, apart from its name. */
export class FieldKindRequest extends FieldPartsRequest {
  @IsIn(madeTypes, { message: 'This kind of field is not made.' }) type!: FieldType;
}

export class OwnFieldRequest extends FieldKindRequest {
  @IsString() @Length(1, 60, { message: 'A field needs a name of 1 to 60 signs.' }) label!: string;
}

/** What the office says of a field; its type is changed apart. */
export class FieldRequest extends FieldPartsRequest {
  @IsInt() version!: number;
  @IsString() @Length(1, 60, { message: 'A field needs a name of 1 to 60 signs.' }) label!: string;
  @IsString() @MaxLength(200, { message: 'The help is at most 200 signs.' }) help!: string;
  @IsString() @MaxLength(60, { message: 'A group has a name of at most 60 signs.' }) group!: string;
  @IsBoolean() isRequired!: boolean;
  /** What somebody new has in it, as it is typed; empty for none. */
  @IsString() @MaxLength(FIELD_LIMITS.text) standard!: string;
}

export class FieldTypeRequest extends FieldKindRequest {
  @IsInt() version!: number;
}

export class FieldOrderRequest {
  /** Keys of the office's own fields. */
  @IsArray() @ArrayMaxSize(FIELD_LIMITS.fields) @IsString({ each: true }) keys!: string[];
}

export interface FieldReply {
  readonly field: Field;
  readonly version: number;
}

export const fieldUseKinds = ['segment', 'view', 'letter', 'field'] as const;
export type FieldUseKind = (typeof fieldUseKinds)[number];

/** Where a field is used, and with how many people it is filled. */
export interface FieldUsesReply {
  readonly filled: number;
  readonly uses: readonly (Use & { readonly kind: FieldUseKind })[];
}

/** What a field would hold if it were of another type. */
export interface FieldFitReply {
  /** People whose value fits, and whose does not. */
  readonly fits: number;
  readonly doesNotFit: number;
  /** Values that do not fit, the most frequent first; a part of them. */
  readonly examples: readonly OccurringValue[];
  /** What could be chosen, where the choices are made of what occurs. */
  readonly choices: readonly string[];
}

export class TopicRequest {
  @IsString() @Length(1, 60, { message: 'A topic needs a name of 1 to 60 signs.' }) name!: string;
  @IsString() @MaxLength(200) description!: string;
}

export interface TopicReply {
  readonly id: number;
  readonly name: string;
  readonly description: string;
}

export class NewContactRequest {
  /** Text per field key, as typed. */
  @IsObject() values!: Record<string, string>;
  @IsIn(permissionKinds) permission!: PermissionKind;
  @IsString() @MaxLength(200) source!: string;
  /** What they agreed to, word for word. */
  @IsOptional() @IsString() @MaxLength(WORDING_LIMIT) wording?: string;
}

export class ContactRequest {
  @IsInt() version!: number;
  /** Text per field key, as typed; an empty text clears the field. */
  @IsObject() values!: Record<string, string>;
}

export class PermissionRequest {
  @IsInt() version!: number;
  @IsIn(permissionKinds) permission!: PermissionKind;
  @IsString() @MaxLength(200) source!: string;
  /** What they agreed to, word for word; left out, what is there stays. */
  @IsOptional() @IsString() @MaxLength(WORDING_LIMIT) wording?: string;
}

/** What would go if somebody were erased. */
export interface ErasingReply {
  /** The same person may stand in several pools. */
  readonly people: readonly { readonly id: number; readonly name: string; readonly pool: string }[];
  /** Present and former ones. */
  readonly addresses: readonly string[];
  readonly places: readonly { readonly place: PersonalPlace; readonly count: number }[];
  /** Files that were made since they came in, and hold them still. */
  readonly backups: readonly string[];
  /** Whether a PostgreSQL server keeps the data, whose backups are not known here. */
  readonly isServer: boolean;
}

/** What became of somebody who is not there any more. */
export interface ErasureReply {
  readonly at: Moment;
  /** Null where the bin was emptied. */
  readonly by: string | null;
  readonly isAsked: boolean;
  /** False while files of imports are gone through. */
  readonly isDone: boolean;
  readonly backups: readonly string[];
}

/** What somebody agreed to at a time. */
export interface PermissionLine {
  readonly kind: PermissionKind;
  /** When it was written down. */
  readonly at: Moment;
  /** When they agreed, where it is known. */
  readonly agreedAt: Moment | null;
  readonly source: string | null;
  readonly wording: string | null;
  /** By which change, and who made it. */
  readonly what: string | null;
  readonly by: string | null;
}

export class DoNotMailRequest {
  @IsBoolean() put!: boolean;
  @IsString() @MaxLength(300) note!: string;
}

export interface TagReply {
  readonly id: number;
  readonly name: string;
  /** What it is for. */
  readonly purpose: string;
  readonly colour: TagColour;
  readonly kind: 'office' | 'automatic';
}

export class GazetteerQuery {
  @IsString() @Length(1, 100) q!: string;
}

/** A town or a postcode of the gazetteer; degrees, WGS 84. */
export interface GazetteerPlace {
  readonly id: number;
  readonly name: string;
  readonly region: string;
  readonly lat: number;
  readonly lon: number;
}

/** What the gazetteer holds. */
export interface GazetteerReply {
  readonly towns: number;
  readonly postcodes: number;
  /** People with a town or postcode that it does not know, or without either. */
  readonly withoutPosition: number;
  /** How far looking up where everybody lives is, behind another file; null when that is done. */
  readonly placing: { readonly done: number; readonly of: number } | null;
}

/** What became of a file of places. */
export interface GazetteerLoaded extends GazetteerReply {
  readonly read: number;
  readonly refused: number;
}

export const tagUseKinds = ['segment', 'draft', 'view', 'campaign'] as const;
export type TagUseKind = (typeof tagUseKinds)[number];

/** What names a tag; a campaign that waits to go out, too. */
export interface TagUse extends Use {
  readonly kind: TagUseKind;
  readonly waits: boolean;
}

export interface TagLine extends TagReply {
  readonly version: number;
  /** Of those whom who asks may see; null for an automatic one, of which it is asked for by itself. */
  readonly people: number | null;
  readonly uses: readonly TagUse[];
}

export interface TagsReply {
  readonly tags: readonly TagLine[];
  /** Pairs that may be one. */
  readonly alike: readonly AlikeTags[];
}

/** On how many people a tag was at the end of each of the last thirteen months, the last of them now; and when it was put on somebody last. */
export interface TagCourse {
  readonly tag: number;
  readonly months: readonly number[];
  readonly lastPutOn: Moment | null;
}

export interface CountedTag extends TagReply {
  readonly count: number;
}

export interface PersonRow {
  readonly id: number;
  readonly givenName: string;
  readonly familyName: string;
  readonly address: string | null;
  readonly town: string | null;
  readonly tags: readonly number[];
  /** Tags that nobody puts on by hand. */
  readonly automatic: readonly number[];
  readonly doNotMail: DoNotMailReason | null;
  readonly lastResponse: Moment | null;
  readonly version: number;
  /** Of the columns that were asked for. */
  readonly values: Readonly<Record<string, FieldValue>>;
}

/** What stands in a field, and with how many. */
export interface OccurringValue {
  readonly value: string;
  readonly count: number;
}

export interface PeoplePage {
  readonly rows: readonly PersonRow[];
}

export interface PeopleSummary {
  /** What the set is called, e.g. “opened February newsletter”; null for a plain pool. */
  readonly title: string | null;
  readonly total: number;
  /** People of colleagues, whom a member does not see: said of segments and campaigns as they are, never of what the asker narrows. */
  readonly colleagues: number;
  /** People whom the set's number counts and who were deleted since. */
  readonly deleted: number;
  readonly noAddress: number;
  readonly doNotMail: number;
  readonly noPermission: number;
  readonly mayBeMailed: number;
  readonly tags: readonly { readonly id: number; readonly count: number }[];
}

export interface CountReply {
  readonly count: number;
}

export interface WhichReply {
  readonly ids: readonly number[];
}

export class BinQuery {
  @IsOptional() @IsString() @MaxLength(200) q?: string;
  @IsOptional() @WholeNumber() @IsInt() @Min(0) @Max(MAX_ID) from?: number;
  @IsOptional() @WholeNumber() @IsInt() @Min(1) @Max(200) limit?: number;
}

export interface BinRow {
  readonly id: number;
  readonly name: string;
  readonly address: string | null;
  readonly deletedAt: Moment;
  /** They can be brought back until then. */
  readonly until: Moment;
  readonly what: string | null;
  readonly by: string | null;
}

export interface BinPage {
  readonly total: number;
  readonly rows: readonly BinRow[];
}

export interface FieldLine {
  readonly field: Field;
  readonly value: FieldValue;
}

export interface PersonReply {
  readonly id: number;
  readonly version: number;
  readonly givenName: string;
  readonly familyName: string;
  readonly address: string | null;
  readonly fields: readonly FieldLine[];
  readonly tags: readonly number[];
  readonly pool: string;
  readonly owner: { readonly id: number; readonly name: string };
  /** Colleagues who see them as well, by their key. */
  readonly sharedWith: readonly number[];
  /** Whether who asks may say whose they are, and who sees them. */
  readonly isOwn: boolean;
  readonly permission: {
    readonly kind: PermissionKind;
    readonly at: Moment | null;
    readonly source: string | null;
    readonly wording: string | null;
  };
  readonly doNotMail: {
    readonly reason: DoNotMailReason;
    readonly at: Moment;
    readonly note: string | null;
    readonly mayTakeOff: boolean;
  } | null;
  /** Topics this person does not want. */
  readonly droppedTopics: readonly number[];
  /** Letters that came back softly in a row. */
  readonly softBounces: number;
  /** Letters refused for good in a row, for reasons nobody could read. */
  readonly unreadBounces: number;
  /** Letters that arrived and did not come back, those that were opened, those that were clicked in. */
  readonly counts: {
    readonly delivered: number;
    readonly opened: number;
    readonly clicked: number;
  };
  readonly createdAt: Moment;
}

export class RatingScaleRequest {
  @IsInt() version!: number;
  @ParsedInto(parseScale) scale!: RatingScale;
}

/** A scale that is only thought of. */
export class RatingPreviewRequest {
  @ParsedInto(parseScale) scale!: RatingScale;
  /** The last person counted, from the answer before. */
  @IsOptional() @IsInt() @Min(0) @Max(MAX_ID) after?: number;
}

export interface RatingScaleReply {
  readonly scale: RatingScale;
  readonly standard: RatingScale;
  readonly version: number;
  /** How far a count of everybody is, where one is going on. */
  readonly counting: { readonly done: number; readonly of: number } | null;
  /** As they were counted last. */
  readonly bands: readonly { readonly band: Band; readonly count: number }[];
  /** Who left or complained, and has none. */
  readonly ended: number;
  /** When it was checked last that what is kept of everybody's letters is what happened, and of how many it was not. */
  readonly check: {
    readonly at: Moment | null;
    readonly isUnderWay: boolean;
    readonly wrong: number;
  };
}

/** Of the people counted with this answer. */
export interface RatingPreviewReply {
  readonly bands: readonly { readonly band: Band; readonly now: number; readonly then: number }[];
  /** Null after the last of all. */
  readonly after: number | null;
}

export interface PersonRatingReply extends RatingExplained {
  readonly band: Band | null;
  /** How and when it ended. */
  readonly ended: { readonly how: 'left' | 'complained'; readonly at: Moment } | null;
  /** The highest of the last ninety days. */
  readonly wasHighest: number | null;
  /** A rating a week over eighteen months, the last of them now; null where there was none. */
  readonly course: readonly (number | null)[];
}

export interface MovedPerson {
  readonly id: number;
  readonly givenName: string;
  readonly familyName: string;
  readonly address: string | null;
  readonly was: number;
  readonly is: number;
}

/** How many of the asker's people, and those who moved farthest. */
export interface MovedPeople {
  readonly count: number;
  readonly people: readonly MovedPerson[];
}

export interface MovedReply {
  readonly rose: MovedPeople;
  readonly fading: MovedPeople;
}

export interface PlaceReply {
  readonly position: number;
  readonly total: number;
  readonly previous: number | null;
  readonly next: number | null;
}

/** What of a timeline is wanted. */
export const timelineParts = ['letters', 'notes', 'changes'] as const;
export type TimelinePart = (typeof timelineParts)[number];

export class TimelineQuery {
  /** Where the page before ended, or a moment to go back to. */
  @IsOptional() @IsString() @MaxLength(60) before?: string;
  /** Everything, without it. */
  @IsOptional()
  @IsIn(timelineParts, { message: 'This part of a timeline is not known.' })
  part?: TimelinePart;
}

export interface LetterHappening {
  readonly kind: EventKind;
  readonly at: Moment;
  /** The link that was followed, or the beginning of a reply. */
  readonly detail: string | null;
  /** Why it is taken for a machine’s. */
  readonly machine: string | null;
}

export type TimelineEntry = { readonly key: string; readonly at: Moment } &
  /** A letter, with all that was done with it; `at` is when the last of it was. */
  (
    | {
        readonly kind: 'letter';
        readonly campaign: { readonly id: number; readonly name: string };
        readonly state: LetterState;
        /** When it went out. */
        readonly sentAt: Moment | null;
        /** What the server said, or why it was held back. */
        readonly detail: string | null;
        /** Latest first, at most fifty. */
        readonly happened: readonly LetterHappening[];
        /** How many there are beside those. */
        readonly further: number;
      }
    | { readonly kind: 'note'; readonly note: NoteReply }
    | { readonly kind: 'task'; readonly task: TaskReply }
    | { readonly kind: 'came in'; readonly source: string | null }
    | {
        readonly kind: 'changed';
        readonly what: string;
        readonly who: string | null;
        /** The fields that changed; from what to what, as long as that is kept. */
        readonly fields: readonly {
          readonly label: string;
          readonly from: string | null;
          readonly to: string | null;
        }[];
        readonly tags: readonly { readonly name: string; readonly put: boolean }[];
      }
  );

export interface TimelinePage {
  readonly entries: readonly TimelineEntry[];
  readonly before: Moment | null;
}

export class ChangesQuery {
  @IsOptional() @WholeNumber() @IsInt() @Min(1) @Max(MAX_ID) before?: number;
}

export type ChangeKind =
  | 'by hand'
  | 'tagging'
  | 'import'
  | 'reader'
  | 'undo'
  | 'system'
  | 'deletion'
  | 'export'
  | 'erasing';

export interface ChangeReply {
  readonly id: number;
  readonly kind: ChangeKind;
  readonly what: string;
  /** Who did it; null for readers and the system, and where nobody asked. */
  readonly by: string | null;
  /** How many people so far. */
  readonly count: number;
  /** The one whom it was about, where there was one, and who asks may see them. */
  readonly person: string | null;
  readonly at: Moment;
  readonly isDone: boolean;
  readonly isUndone: boolean;
  readonly canUndo: boolean;
  /** Whether it can be ended where it is. */
  readonly canStop: boolean;
  /** People who were meant and were left as they are, and why. */
  readonly leftAlone: number;
  readonly whyLeft: string;
}

export interface ChangesPage {
  readonly changes: readonly ChangeReply[];
  readonly before: number | null;
}

export interface VocabularyReply {
  readonly topics: readonly TopicReply[];
  readonly tags: readonly TagReply[];
  readonly fields: readonly Field[];
  readonly pools: readonly { readonly id: number; readonly name: string; readonly kind: string }[];
  readonly owners: readonly Choice[];
}
