// A campaign's life: draft, scheduled, fixing its recipients, sending, and the ways it ends.
import { fail, ok, type Result } from '../kernel/index.js';
import { tallyDifferences, type Tally } from './tally.js';

export const campaignStatuses = [
  'draft',
  'scheduled',
  'fixing',
  'differs',
  'sending',
  'paused',
  'stopped',
  'sent',
] as const;
export type CampaignStatus = (typeof campaignStatuses)[number];

export type CampaignState =
  | { readonly status: 'draft' }
  | { readonly status: 'scheduled'; readonly sendAt: Date; readonly seen: Tally }
  /** Recipients are being written; `seen` is the tally the sender agreed to. */
  | { readonly status: 'fixing'; readonly seen: Tally; readonly wasScheduled: boolean }
  /** The written tally is not the one agreed to, so nothing has gone out yet. */
  | { readonly status: 'differs'; readonly seen: Tally; readonly now: Tally }
  | { readonly status: 'sending' | 'paused' | 'stopped' | 'sent' };

export const campaignRefusals = [
  'in-the-past',
  'too-far',
  'too-early',
  'nobody',
  'checks',
  'not-a-draft',
  'not-sending',
  'not-paused',
  'not-scheduled',
  'not-fixing',
  'not-sent',
  'no-difference',
] as const;
export type CampaignRefusal = (typeof campaignRefusals)[number];

export interface Readiness {
  readonly tally: Tally;
  /** Checks that stop the send. */
  readonly stops: number;
}

interface Step {
  readonly from: readonly CampaignStatus[];
  readonly to: readonly CampaignStatus[];
  /** What is said where it can't be taken. */
  readonly otherwise: CampaignRefusal;
}

/** Every step of a campaign's life there is; core, the service and its statements read it, and nothing else moves one. */
export const campaignSteps = {
  'send now': { from: ['draft'], to: ['fixing'], otherwise: 'not-a-draft' },
  schedule: { from: ['draft'], to: ['scheduled'], otherwise: 'not-a-draft' },
  unschedule: { from: ['scheduled'], to: ['draft'], otherwise: 'not-scheduled' },
  /** The hour has come. */
  begin: { from: ['scheduled'], to: ['fixing'], otherwise: 'not-scheduled' },
  /** The recipients are written. */
  fixed: { from: ['fixing'], to: ['sending', 'differs'], otherwise: 'not-fixing' },
  /** Recipients that can't be written down: nothing has gone out, so the sheet can be changed again. */
  'leave fixing': { from: ['fixing'], to: ['draft'], otherwise: 'not-fixing' },
  agree: { from: ['differs'], to: ['sending'], otherwise: 'no-difference' },
  'back to draft': { from: ['differs'], to: ['draft'], otherwise: 'no-difference' },
  pause: { from: ['sending'], to: ['paused'], otherwise: 'not-sending' },
  'go on': { from: ['paused'], to: ['sending'], otherwise: 'not-paused' },
  stop: { from: ['sending', 'paused'], to: ['stopped'], otherwise: 'not-sending' },
  /** Every letter is settled. */
  finish: { from: ['sending'], to: ['sent'], otherwise: 'not-sending' },
  /** After a break of continuity somebody said that its letters count as sent. */
  'count as sent': { from: ['sending', 'paused'], to: ['sent'], otherwise: 'not-sending' },
  /** Letters that nobody knows about are to go out again. */
  'take up again': { from: ['sent'], to: ['sending'], otherwise: 'not-sent' },
} as const satisfies Readonly<Record<string, Step>>;
export type CampaignStep = keyof typeof campaignSteps;

/** Steps that need nothing to be decided, only the right moment. */
export type PlainStep = Exclude<CampaignStep, 'send now' | 'schedule' | 'begin' | 'fixed'>;

export type CampaignOrder =
  | { readonly step: 'send now'; readonly readiness: Readiness; readonly seen: Tally }
  | {
      readonly step: 'schedule';
      readonly readiness: Readiness;
      readonly seen: Tally;
      readonly sendAt: Date;
      readonly now: Date;
    }
  | { readonly step: 'begin'; readonly now: Date }
  /** `tally`: counted from the written rows. */
  | { readonly step: 'fixed'; readonly tally: Tally }
  | { readonly step: PlainStep };

export const leadsFrom = (step: CampaignStep, status: CampaignStatus): boolean =>
  (campaignSteps[step].from as readonly CampaignStatus[]).includes(status);

type Decided = Result<CampaignState, CampaignRefusal>;

/** What a campaign becomes by an order, or why it stays what it is. */
export function decide(state: CampaignState, order: CampaignOrder): Decided {
  const { step } = order;
  if (!leadsFrom(step, state.status)) return fail(campaignSteps[step].otherwise);
  switch (step) {
    case 'send now': {
      const refusal = unready(order.readiness);
      return refusal
        ? fail(refusal)
        : ok({ status: 'fixing', seen: order.seen, wasScheduled: false });
    }
    case 'schedule':
      return schedule(order);
    case 'begin':
      return state.status === 'scheduled' && state.sendAt.getTime() <= order.now.getTime()
        ? ok({ status: 'fixing', seen: state.seen, wasScheduled: true })
        : fail('too-early');
    case 'fixed':
      return fixed(state, order.tally);
    case 'agree':
      return state.status === 'differs' && state.now.receives === 0
        ? fail('nobody')
        : ok({ status: 'sending' });
    default:
      // All others lead to one place, whatever was before.
      return ok({ status: campaignSteps[step].to[0] });
  }
}

const unready = ({ tally, stops }: Readiness): CampaignRefusal | undefined => {
  if (tally.receives === 0) return 'nobody';
  return stops > 0 ? 'checks' : undefined;
};

const A_YEAR = 366 * 24 * 3600_000;

function schedule(order: Extract<CampaignOrder, { step: 'schedule' }>): Decided {
  const { readiness, seen, sendAt, now } = order;
  const refusal = unready(readiness);
  if (refusal) return fail(refusal);
  if (sendAt.getTime() <= now.getTime()) return fail('in-the-past');
  return sendAt.getTime() - now.getTime() > A_YEAR
    ? fail('too-far')
    : ok({ status: 'scheduled', sendAt, seen });
}

/** “Send now” stops when the tally is another one than was agreed to; a scheduled send goes and says so. */
function fixed(state: CampaignState, now: Tally): Decided {
  if (state.status !== 'fixing') return fail('not-fixing');
  const { seen, wasScheduled } = state;
  const goes = wasScheduled || tallyDifferences(seen, now).length === 0;
  return ok(goes && now.receives > 0 ? { status: 'sending' } : { status: 'differs', seen, now });
}

/** How far a campaign is: the sheet can be changed; it goes on by itself or waits for a word; it is over. */
const stageOf = {
  draft: 'sheet',
  scheduled: 'before',
  fixing: 'before',
  differs: 'before',
  sending: 'out',
  paused: 'out',
  stopped: 'over',
  sent: 'over',
} as const satisfies Readonly<Record<CampaignStatus, 'sheet' | 'before' | 'out' | 'over'>>;

/** Everything that may still be changed on the sheet. */
export const editable = (status: CampaignStatus): boolean => stageOf[status] === 'sheet';
/** Something of it is still to go out. */
export const underWay = (status: CampaignStatus): boolean =>
  stageOf[status] === 'before' || stageOf[status] === 'out';
/** A campaign that has left the house, at least in part: it has results. */
export const wentOut = (status: CampaignStatus): boolean =>
  stageOf[status] === 'out' || stageOf[status] === 'over';
/** Nothing more goes out. */
export const isOver = (status: CampaignStatus): boolean => stageOf[status] === 'over';
