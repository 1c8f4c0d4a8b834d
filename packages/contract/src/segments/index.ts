import type { Arrangement, Rule, Trace } from '@palabra/core/segments';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsInt,
  IsObject,
  IsOptional,
  IsString,
  Length,
  Max,
  MaxLength,
  Min,
} from 'class-validator';
import type { PersonRow } from '../contacts/index.js';
import { MAX_ID, type Moment, type Use } from '../wire/index.js';

export class NewSegmentRequest {
  @IsString()
  @Length(1, 120, { message: 'A segment needs a name of 1 to 120 signs.' })
  name!: string;
  @IsOptional() @IsString() @MaxLength(500) description?: string;
  @IsInt() @Min(1) @Max(MAX_ID) pool!: number;
  /** Read against the office's fields and tags by the service. */
  @IsObject() rule!: object;
}

export class SegmentRequest extends NewSegmentRequest {
  @IsInt() version!: number;
  @IsString() @MaxLength(500) override description!: string;
}

export class SiftRequest {
  @IsInt() @Min(1) @Max(MAX_ID) pool!: number;
  @IsObject() rule!: object;
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

export interface SegmentLine {
  readonly id: number;
  readonly name: string;
  readonly description: string;
  readonly pool: string;
  readonly updatedAt: Moment;
  /** Campaigns that go to it, or leave it out. */
  readonly uses: readonly Use[];
}

export interface SegmentReply extends SegmentLine {
  readonly poolId: number;
  readonly version: number;
  readonly rule: Rule;
}

/** All of it about people whom the asker may see. */
export interface SiftReply {
  readonly count: number;
  readonly everybody: number;
  readonly people: readonly PersonRow[];
}

export interface StrainReply {
  /** How many each condition holds for by itself, by its path. */
  readonly alone: Readonly<Record<string, number>>;
  /** Left after each part of the outermost group, where that is “all of”. */
  readonly left: readonly number[];
}

export interface WhyReply {
  readonly holds: boolean;
  readonly trace: Trace;
}
