import type {
  Arrangement,
  Rule,
  SegmentKind,
  SegmentSharing,
  Sifted,
  Trace,
} from '@palabra/core/segments';
import { segmentSharings } from '@palabra/core/segments';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsISO8601,
  IsObject,
  IsOptional,
  IsString,
  Length,
  Max,
  MaxLength,
  Min,
  ValidateNested,
} from 'class-validator';
import { PeopleSelection, type PersonRow } from '../contacts/index.js';
import { MAX_ID, type Moment, type Use } from '../wire/index.js';

const POOLS = 50;

/** Whom a live segment sifts, and how. */
export class RuleOfPools {
  @IsArray()
  @ArrayMaxSize(POOLS)
  @IsInt({ each: true })
  @Min(1, { each: true })
  @Max(MAX_ID, { each: true })
  /** None: any pool. */
  pools!: number[];
  /** Read against the office's fields and tags by the service. */
  @IsObject() rule!: object;
}

export class NewSegmentRequest {
  @IsString()
  @Length(1, 120, { message: 'A segment needs a name of 1 to 120 signs.' })
  name!: string;
  @IsOptional() @IsString() @MaxLength(500) description?: string;
  /** The house pool, where it is left out. */
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(POOLS)
  @IsInt({ each: true })
  @Min(1, { each: true })
  @Max(MAX_ID, { each: true })
  pools?: number[];
  /** In force from the start; without one it is begun with a draft. */
  @IsOptional() @IsObject() rule?: object;
  /** Instead of a rule: a fixed segment of these people, as they are now. */
  @IsOptional()
  @IsObject({ message: 'Say which people are meant.' })
  @ValidateNested()
  @Type(() => PeopleSelection)
  people?: PeopleSelection;
}

export class SegmentRequest {
  @IsInt() version!: number;
  @IsString()
  @Length(1, 120, { message: 'A segment needs a name of 1 to 120 signs.' })
  name!: string;
  @IsString() @MaxLength(500) description!: string;
  @IsArray()
  @ArrayMaxSize(20)
  @IsString({ each: true })
  @Length(1, 40, { each: true })
  labels!: string[];
  @IsIn(segmentSharings) sharing!: SegmentSharing;
  @IsArray() @ArrayMaxSize(200) @IsInt({ each: true }) sharedWith!: number[];
  /** Beside the rule in force; null throws it away, and left out it stays as it is. */
  @IsOptional()
  @IsObject({ message: 'Say which rule of which pools is meant.' })
  @ValidateNested()
  @Type(() => RuleOfPools)
  draft?: RuleOfPools | null;
}

/** Names the version that is meant. */
export class SegmentStepRequest {
  @IsInt() version!: number;
}

export class SiftRequest extends RuleOfPools {}

/** People put into a fixed segment, or taken out of it. */
export class MembersRequest {
  @IsObject({ message: 'Say which people are meant.' })
  @ValidateNested()
  @Type(() => PeopleSelection)
  people!: PeopleSelection;
}

/** Names by its moment what was done to a list. */
export class MembersUndoRequest {
  @IsISO8601({ strict: true }, { message: 'A moment such as 2026-03-02T09:00:00.000Z is wanted.' })
  at!: string;
}

/** People put into a fixed segment by their addresses, which are looked for in a text or a file. */
export class AddressesRequest {
  @IsString()
  @MaxLength(5_000_000, { message: 'The text is too long. Take at most five million signs.' })
  text!: string;
}

/** What several segments are put together to. */
export class CombineRequest {
  @IsString()
  @Length(1, 120, { message: 'A segment needs a name of 1 to 120 signs.' })
  name!: string;
  @IsArray() @ArrayMinSize(2) @ArrayMaxSize(20) @IsInt({ each: true }) segments!: number[];
  @IsIn(['together', 'both', 'without']) how!: 'together' | 'both' | 'without';
}

export class CompareRequest {
  @IsArray()
  @ArrayMinSize(2, { message: 'Two to four segments are compared.' })
  @ArrayMaxSize(4, { message: 'Two to four segments are compared.' })
  @IsInt({ each: true })
  segments!: number[];
}

/** A segment as it was written to a file. */
export class SegmentFileRequest {
  @IsObject({ message: 'The file holds no segment.' }) segment!: object;
}

export class FilterRequest {
  @IsObject({ message: 'A filter is a rule.' }) rule!: object;
}

export interface FilterReply {
  readonly key: string;
  readonly rule: Rule;
}

export class NewViewRequest {
  @IsString()
  @Length(1, 80, { message: 'A view needs a name of 1 to 80 signs.' })
  name!: string;
  @IsBoolean() sharedWithAll!: boolean;
  @IsArray() @ArrayMaxSize(200) @IsInt({ each: true }) sharedWith!: number[];
  /** Read by the service. */
  @IsObject() arrangement!: object;
  @IsOptional() @IsObject() rule?: object;
}

export class ViewRequest extends NewViewRequest {
  @IsInt() version!: number;
}

export interface ViewLine {
  readonly id: number;
  readonly name: string;
  readonly version: number;
  readonly isMine: boolean;
  readonly owner: string;
  readonly sharedWithAll: boolean;
  readonly sharedWith: readonly number[];
  /** The asker begins with it. */
  readonly isStart: boolean;
  readonly arrangement: Arrangement;
  /** The filter of its rule; null where it has none. */
  readonly filter: string | null;
}

export class WhyRequest extends SiftRequest {
  @IsInt() @Min(1) @Max(MAX_ID) contact!: number;
}

/** What a rule names beside fields, tags and topics. */
export interface RuleWordsReply {
  /** That went out, the latest first. */
  readonly campaigns: readonly {
    readonly id: number;
    readonly name: string;
    readonly at: Moment;
  }[];
  readonly segments: readonly {
    readonly id: number;
    readonly name: string;
    readonly kind: SegmentKind;
    readonly pools: readonly number[];
  }[];
}

/** A campaign that goes to a segment, or leaves it out. */
export interface SegmentUse extends Use {
  /** It is still to go out: it will use the rule that is in force then. */
  readonly waits: boolean;
}

export interface SegmentLine {
  readonly id: number;
  readonly name: string;
  readonly description: string;
  readonly labels: readonly string[];
  readonly kind: SegmentKind;
  readonly pools: readonly string[];
  readonly owner: string | null;
  readonly isMine: boolean;
  readonly sharing: SegmentSharing;
  readonly mayChange: boolean;
  readonly hasDraft: boolean;
  readonly updatedAt: Moment;
  readonly uses: readonly SegmentUse[];
  /** Other segments whose rule asks for it. */
  readonly askedBy: readonly Use[];
  /** When a campaign that names it went out last. */
  readonly lastUsedAt: Moment | null;
  /** Nothing used it for a year. */
  readonly isIdle: boolean;
}

export interface RuleInForce {
  readonly pools: readonly number[];
  readonly rule: Rule;
}

export interface SegmentReply extends SegmentLine {
  readonly version: number;
  readonly poolIds: readonly number[];
  readonly rule: Rule;
  /** Null of one whose rule was never used. */
  readonly inForceSince: Moment | null;
  readonly inForceBy: string | null;
  readonly draft: RuleInForce | null;
  /** With whom it is shared is for those who may change it. */
  readonly sharedWith: readonly number[];
}

/** What using the draft would change. */
export interface DraftDifference {
  readonly now: number;
  readonly comes: number;
  readonly goes: number;
  /** Waiting campaigns that name the segment, or one that asks for it. */
  readonly campaigns: readonly SegmentUse[];
  /** Why the draft can't be used as it stands; empty where it can. */
  readonly blocks: readonly string[];
}

/** A rule that was in force before. */
export interface OlderRule extends RuleInForce {
  readonly version: number;
  readonly since: Moment | null;
  readonly by: string | null;
  readonly until: Moment;
  readonly replacedBy: string | null;
}

/** All of it about people whom the asker may see. */
export interface SiftReply {
  readonly count: number;
  readonly people: readonly PersonRow[];
}

export type StrainReply = Sifted;

export interface WhyReply {
  readonly holds: boolean;
  readonly trace: Trace;
}

export interface MembersReply {
  readonly changed: number;
  readonly version: number;
  /** When it was done; it is taken back by that. */
  readonly at: Moment;
}

export interface AddressesReply extends MembersReply {
  readonly found: number;
  /** The first of the addresses that nobody in the pools has, and how many they are. */
  readonly unknown: readonly string[];
  readonly unknownCount: number;
}

/** How many people are in just these segments, by a bit for each in the order asked for. */
export interface CompareReply {
  readonly sizes: readonly number[];
  readonly parts: readonly { readonly inThese: number; readonly count: number }[];
}

/** How many people there were on a day of the office, `YYYY-MM-DD`. */
export interface SizeOnDay {
  readonly day: string;
  readonly size: number;
}
