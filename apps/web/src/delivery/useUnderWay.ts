// A campaign on its way: where it stands, live while something moves.
import type { CampaignReply } from '@palabra/contract/campaigns';
import type { ProgressReply } from '@palabra/contract/delivery';
import type { CampaignStatus } from '@palabra/core/campaigns';
import { useDispatch } from 'react-redux';
import { server } from '../api/server';
import { useStream } from '../api/stream';
import { useProgressQuery } from './delivery.api';

const moving: readonly CampaignStatus[] = ['scheduled', 'fixing', 'sending', 'paused'];
const settled: readonly CampaignStatus[] = ['sent', 'stopped', 'differs', 'draft'];

export interface UnderWay {
  readonly status: CampaignStatus;
  readonly progress: ProgressReply | undefined;
  readonly trouble: string | null;
  readonly isMoving: boolean;
}

export function useUnderWay(campaign: CampaignReply): UnderWay {
  const dispatch = useDispatch();
  const isMoving = moving.includes(campaign.status);
  const live = useStream<ProgressReply>(
    isMoving ? `/campaigns/${campaign.id}/live` : undefined,
    (next, before) => {
      if (settled.includes(next.status))
        dispatch(server.util.invalidateTags(['Campaign', 'Result', 'People', 'Person', 'Letter']));
      else if (before && before.status !== next.status)
        dispatch(server.util.invalidateTags(['Campaign', 'Result']));
    },
  );
  const still = useProgressQuery(campaign.id, { refetchOnMountOrArgChange: true });
  return {
    status: isMoving ? (live?.status ?? campaign.status) : campaign.status,
    progress: isMoving ? (live ?? still.data) : still.data,
    trouble: live?.trouble ?? campaign.trouble,
    isMoving,
  };
}
