import {
  parseTally,
  parseWho,
  type CampaignStatus,
  type Tally,
  type TallyDifference,
  type Who,
} from '@palabra/core/campaigns';
import type { BounceKind, Evidence, ReturnedKind } from '@palabra/core/delivery';
import type { CheckResult } from '@palabra/core/letters';

import {
  IsIn,
  IsInt,
  IsISO8601,
  IsOptional,
  IsString,
  Length,
  Max,
  MaxLength,
  Min,
} from 'class-validator';
import { MAX_ID, ParsedInto, WholeNumber, type Moment } from '../wire/index.js';

export class NewCampaignRequest {
  @IsString()
  @Length(1, 120, { message: 'A campaign needs a name of 1 to 120 signs.' })
  name!: string;
  @IsOptional() @IsInt() @Min(1) @Max(MAX_ID) segment?: number;
  @IsOptional() @IsInt() @Min(1) @Max(MAX_ID) letter?: number;
  /** Takes over who, letter and sender of another campaign. */
  @IsOptional() @IsInt() @Min(1) @Max(MAX_ID) copyOf?: number;
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

export class SettleRequest {
  @IsIn(['count as sent', 'send again']) how!: 'count as sent' | 'send again';
}

export class ReturnedQuery {
  /** Only what nobody has seen to yet. */
  @IsOptional() @IsIn(['yes', 'no']) open?: 'yes' | 'no';
  @IsOptional() @WholeNumber() @IsInt() @Min(1) @Max(MAX_ID) before?: number;
}

const sortable = ['bounce', 'complaint', 'reply', 'auto-reply', 'leave', 'nothing'] as const;

export class SortReturnedRequest {
  /** What the message is; `nothing` has to do with no letter. */
  @IsIn(sortable, { message: 'Say what this message is.' }) kind!: (typeof sortable)[number];
  @IsOptional() @IsIn(['hard', 'soft', 'policy', 'other']) bounce?: BounceKind;
  /** Whose it is, where that is not known or not right. */
  @IsOptional() @IsInt() @Min(1) @Max(MAX_ID) contact?: number;
}

export interface ReturnedReply {
  readonly id: number;
  readonly at: Moment;
  readonly kind: ReturnedKind;
  readonly bounce: BounceKind | null;
  readonly evidence: Evidence | null;
  readonly sender: string;
  readonly subject: string;
  readonly excerpt: string;
  readonly diagnosis: string | null;
  /** Waits for somebody. */
  readonly isOpen: boolean;
  readonly campaign: { readonly id: number; readonly name: string } | undefined;
  readonly person:
    | {
        readonly id: number;
        readonly givenName: string;
        readonly familyName: string;
        readonly address: string | null;
      }
    | undefined;
}

export interface ReturnedPage {
  readonly mails: readonly ReturnedReply[];
  /** How many wait for somebody. */
  readonly open: number;
  readonly before: number | null;
}

export interface CampaignLine {
  readonly id: number;
  readonly name: string;
  readonly status: CampaignStatus;
  readonly subject: string;
  readonly sendAt: Moment | null;
  readonly startedAt: Moment | null;
  readonly updatedAt: Moment;
  readonly receives: number | null;
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
}

export interface TallyReply {
  readonly tally: Tally;
  readonly checks: readonly CheckResult[];
}

export interface ProgressReply {
  readonly status: CampaignStatus;
  readonly trouble: string | null;
  readonly fixing: { readonly done: number; readonly of: number } | null;
  readonly waiting: number;
  readonly accepted: number;
  readonly deferred: number;
  readonly bounced: number;
  readonly gaveUp: number;
  readonly uncertain: number;
  readonly stopped: number;
  readonly heldBack: number;
  readonly total: number;
}

export interface ProofReply {
  readonly to: string;
}

export type StandbyWord = 'go-on' | 'count-as-sent' | 'stop';

/** Why nothing leaves the office: its data was restored or copied, or the clock went back. */
export interface StandbyReply {
  readonly reason: 'restored' | 'copied' | 'clock';
  /** Up to when the data knows what happened. */
  readonly asOf: Moment;
  readonly since: Moment;
  /** Campaigns that were going out or planned then. */
  readonly campaigns: readonly {
    readonly id: number;
    readonly name: string;
    readonly status: CampaignStatus;
    readonly sendAt: Moment | null;
    /** Letters of which it is known what became of them. */
    readonly done: number;
    /** Letters that were still to go out, and may have gone out since. */
    readonly open: number;
    readonly isDecided: boolean;
  }[];
  /** Mails of the office itself that were still to be sent. */
  readonly mails: number;
}
