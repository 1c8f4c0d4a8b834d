// A campaign's life: draft, scheduled, fixing its recipients, sending, and the ways it ends.
import { fail, ok, type Result } from '../kernel/index.js';
import type { Tally } from './tally.js';

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

export type CampaignRefusal =
  | 'in-the-past'
  | 'nobody'
  | 'checks'
  | 'not-a-draft'
  | 'not-sending'
  | 'not-paused'
  | 'over'
  | 'not-scheduled'
  | 'no-difference'
  | 'too-far';

export interface Readiness {
  readonly tally: Tally;
  /** Checks that stop the send. */
  readonly stops: number;
}

const ready = (state: CampaignState, { tally, stops }: Readiness): CampaignRefusal | undefined => {
  if (state.status !== 'draft') return 'not-a-draft';
  if (tally.receives === 0) return 'nobody';
  return stops > 0 ? 'checks' : undefined;
};

export function sendNow(
  state: CampaignState,
  readiness: Readiness,
  seen: Tally,
): Result<CampaignState, CampaignRefusal> {
  const refusal = ready(state, readiness);
  return refusal ? fail(refusal) : ok({ status: 'fixing', seen, wasScheduled: false });
}

const A_YEAR = 366 * 24 * 3600_000;

export function schedule(
  state: CampaignState,
  readiness: Readiness,
  seen: Tally,
  sendAt: Date,
  now: Date,
): Result<CampaignState, CampaignRefusal> {
  const refusal = ready(state, readiness);
  if (refusal) return fail(refusal);
  if (sendAt.getTime() <= now.getTime()) return fail('in-the-past');
  return sendAt.getTime() - now.getTime() > A_YEAR
    ? fail('too-far')
    : ok({ status: 'scheduled', sendAt, seen });
}

export const unschedule = (state: CampaignState): Result<CampaignState, CampaignRefusal> =>
  state.status === 'scheduled' ? ok({ status: 'draft' }) : fail('not-scheduled');

/** The hour has come: from scheduled to fixing. */
export const begin = (state: CampaignState, now: Date): CampaignState =>
  state.status === 'scheduled' && state.sendAt.getTime() <= now.getTime()
    ? { status: 'fixing', seen: state.seen, wasScheduled: true }
    : state;

/** The recipients are written. “Send now” stops when the tally is another one; a scheduled send goes and says so. */
export function fixed(state: CampaignState, now: Tally, same: boolean): CampaignState {
  if (state.status !== 'fixing') return state;
  if (now.receives === 0) return { status: 'differs', seen: state.seen, now };
  return same || state.wasScheduled
    ? { status: 'sending' }
    : { status: 'differs', seen: state.seen, now };
}

export const agree = (state: CampaignState): Result<CampaignState, CampaignRefusal> => {
  if (state.status !== 'differs') return fail('no-difference');
  return state.now.receives === 0 ? fail('nobody') : ok({ status: 'sending' });
};

export const backToDraft = (state: CampaignState): Result<CampaignState, CampaignRefusal> =>
  state.status === 'differs' ? ok({ status: 'draft' }) : fail('no-difference');

/** Recipients that can't be written down: nothing has gone out, so the sheet can be changed again. */
export const leaveFixing = (state: CampaignState): CampaignState =>
  state.status === 'fixing' ? { status: 'draft' } : state;

export const pause = (state: CampaignState): Result<CampaignState, CampaignRefusal> =>
  state.status === 'sending' ? ok({ status: 'paused' }) : fail('not-sending');
export const goOn = (state: CampaignState): Result<CampaignState, CampaignRefusal> =>
  state.status === 'paused' ? ok({ status: 'sending' }) : fail('not-paused');
export const stop = (state: CampaignState): Result<CampaignState, CampaignRefusal> =>
  state.status === 'sending' || state.status === 'paused'
    ? ok({ status: 'stopped' })
    : fail('not-sending');

/** Everything that may still be changed on the sheet. */
export const editable = (status: CampaignStatus): boolean => status === 'draft';
/** A campaign that has left the house, at least in part: it has results. */
export const wentOut = (status: CampaignStatus): boolean =>
  status === 'sending' || status === 'paused' || status === 'stopped' || status === 'sent';
