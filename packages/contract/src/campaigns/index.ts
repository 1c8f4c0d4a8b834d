import {
  parseTally,
  parseWho,
  type CampaignStatus,
  type Tally,
  type TallyDifference,
  type Who,
  type WhoRef,
} from '@palabra/core/campaigns';
import type { CheckResult, Line } from '@palabra/core/letters';

import { Type } from 'class-transformer';
import {
  IsBoolean,
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
import { PeopleSelection } from '../contacts/index.js';
import { MAX_ID, ParsedInto, type Moment } from '../wire/index.js';

export class NewCampaignRequest {
  @IsString()
  @Length(1, 120, { message: 'A campaign needs a name of 1 to 120 signs.' })
  name!: string;
  @IsOptional() @IsInt() @Min(1) @Max(MAX_ID) segment?: number;
  @IsOptional() @IsInt() @Min(1) @Max(MAX_ID) letter?: number;
  /** Takes over who, letter and sender of another campaign. */
  @IsOptional() @IsInt() @Min(1) @Max(MAX_ID) copyOf?: number;
  /** With a copy of its letter, instead of the letter itself. */
  @IsOptional() @IsBoolean() copiesLetter?: boolean;
}

/** Some people to write to: chosen one by one, or everybody in a list as it is now narrowed. */
export class ChosenRequest {
  @IsObject({ message: 'Say which people are meant.' })
  @ValidateNested()
  @Type(() => PeopleSelection)
  people!: PeopleSelection;
}

export class CampaignRequest {
  @IsInt() version!: number;
  @IsString()
  @Length(1, 120, { message: 'A campaign needs a name of 1 to 120 signs.' })
  name!: string;
  @ParsedInto(parseWho) who!: Who;
  @IsOptional() @IsInt() @Min(1) @Max(MAX_ID) letterId!: number | null;
  @IsOptional() @IsInt() @Min(1) @Max(MAX_ID) topicId?: number | null;
  @IsString() @MaxLength(120) senderName!: string;
  @IsString() @MaxLength(254) senderAddress!: string;
  @IsString() @MaxLength(254) replyTo!: string;
  @IsOptional() @IsISO8601({ strict: true }, { message: 'The time can’t be read.' }) sendAt!:
    string | null;
}

const tally = (value: unknown) => {
  const read = parseTally(value);
  return read
    ? { ok: true as const, value: read }
    : { ok: false as const, error: 'Say which tally you saw.' };
};

export class SendRequest {
  @IsInt() version!: number;
  /** The tally that was on the screen; a different one stops the send. */
  @ParsedInto(tally) seen!: Tally;
}

export interface CampaignLine {
  readonly id: number;
  readonly name: string;
  readonly status: CampaignStatus;
  readonly subject: Line;
  readonly sendAt: Moment | null;
  readonly startedAt: Moment | null;
  readonly updatedAt: Moment;
  readonly receives: number | null;
}

/** How many people each entry under “who” stands for, and how many are in more than one to whom it goes. */
export interface WhoCountsReply {
  readonly counts: Readonly<Record<string, number>>;
  readonly inSeveral: number;
}

/** An entry under “who” as it was when the recipients were fixed: what became of it later changes nothing here. */
export interface WhoUsed extends WhoRef {
  readonly isLeftOut: boolean;
  readonly name: string;
  /** Its rule in plain words; null of what has none. */
  readonly said: string | null;
}

export interface CampaignReply {
  readonly id: number;
  readonly version: number;
  readonly name: string;
  readonly status: CampaignStatus;
  readonly who: Who;
  /** Names and counts of what is named under “who”, by `segment.4` or `tag.2`. */
  readonly names: Readonly<Record<string, { readonly name: string; readonly gone: boolean }>>;
  readonly letterId: number | null;
  readonly topicId: number | null;
  readonly senderName: string;
  readonly senderAddress: string;
  readonly replyTo: string;
  readonly sendAt: Moment | null;
  readonly startedAt: Moment | null;
  readonly finishedAt: Moment | null;
  readonly trouble: string | null;
  readonly differences: readonly TallyDifference[];
  /** The written tally, once recipients are fixed. */
  readonly tally: Tally | null;
  /** Null until its recipients are fixed. */
  readonly whoUsed: readonly WhoUsed[] | null;
  /** The tally that was on the screen when it was ordered. */
  readonly ordered: Tally | null;
}

export interface TallyReply {
  readonly tally: Tally;
  readonly checks: readonly CheckResult[];
}
