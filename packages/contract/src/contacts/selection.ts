// Which people are meant: a filter, or some of those it finds.
import { standings, type Standing } from '@palabra/core/contacts';
import {
  ArrayMaxSize,
  IsArray,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
} from 'class-validator';
import { MAX_ID, WholeNumber } from '../wire/index.js';

/** Which people: a pool or a named set, narrowed by a search and tags. */
export class PeopleFilter {
  /** A named set of people such as `segment.4` or `campaign.12.opened`. */
  @IsOptional()
  @IsString()
  @Matches(/^[a-z]{1,20}\.[1-9]\d{0,8}(\.[a-z0-9-]{1,40})?$/, {
    message: 'This set of people is not known.',
  })
  of?: string;
  @IsOptional() @IsString() @MaxLength(200) q?: string;
  @IsOptional() @WholeNumber() @IsInt() @Min(1) @Max(MAX_ID) tag?: number;
  @IsOptional() @WholeNumber() @IsInt() @Min(1) @Max(MAX_ID) pool?: number;
  /** Only those on one line of the sum of who may be mailed. */
  @IsOptional()
  @IsIn(standings, { message: 'This way of narrowing is not known.' })
  standing?: Standing;
  /** A rule that was kept to narrow lists by. */
  @IsOptional()
  @Matches(/^[0-9a-f]{24}$/, { message: 'This filter is not known.' })
  filter?: string;
}

export class PeopleSelection extends PeopleFilter {
  /** Single people; without it, everybody in the filter is meant. */
  @IsOptional() @IsArray() @ArrayMaxSize(10_000) @IsInt({ each: true }) ids?: number[];
  /** Everybody in the filter but these. */
  @IsOptional() @IsArray() @ArrayMaxSize(10_000) @IsInt({ each: true }) except?: number[];
}
