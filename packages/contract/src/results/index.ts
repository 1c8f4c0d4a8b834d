import type { CampaignStatus, Tally } from '@palabra/core/campaigns';
import type { ResultCounts } from '@palabra/core/results';
import type { Moment } from '../wire/index.js';

export interface ResultLine {
  readonly id: number;
  readonly name: string;
  readonly subject: string;
  readonly startedAt: Moment;
  readonly status: CampaignStatus;
  readonly sent: number;
  readonly delivered: number;
  /** Of what came back later, too, where somebody had opened it: what opens, clicks and leaves are shares of. */
  readonly arrived: number;
  readonly opened: number;
  readonly clicked: number;
  readonly bounced: number;
  readonly left: number;
}

export interface ResultPoint {
  readonly at: Moment;
  readonly opened: number;
  readonly clicked: number;
  readonly machines: number;
}

export interface ResultLink {
  readonly link: number;
  readonly label: string;
  readonly url: string;
  readonly people: number;
  /** People for whom a machine followed it. */
  readonly machines: number;
}

export interface ResultReply {
  readonly id: number;
  readonly name: string;
  readonly subject: string;
  readonly status: CampaignStatus;
  readonly startedAt: Moment | null;
  readonly finishedAt: Moment | null;
  readonly tally: Tally;
  readonly counts: ResultCounts;
  /** The same of the people the asker looks after; null for who sees everybody. */
  readonly yours: ResultCounts | null;
  readonly links: readonly ResultLink[];
  readonly step: 'minute' | 'hour';
  readonly points: readonly ResultPoint[];
}

/** What happened with people since yesterday. */
export interface SinceReply {
  readonly from: Moment;
  readonly cameIn: number;
  readonly left: number;
  readonly hardBounces: number;
}
