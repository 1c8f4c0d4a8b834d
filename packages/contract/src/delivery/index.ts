import type { CampaignStatus } from '@palabra/core/campaigns';
import type { BounceKind, Evidence, ReturnedKind } from '@palabra/core/delivery';
import { IsIn, IsInt, IsOptional, Max, Min } from 'class-validator';
import { MAX_ID, WholeNumber, type Moment } from '../wire/index.js';

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
