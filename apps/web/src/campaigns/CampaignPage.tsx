// A campaign is one sheet: who, what, from whom, when. Under way, the same address shows how it goes.
import type { CampaignReply } from '@palabra/contract/campaigns';
import { useParams } from 'react-router';
import { problemOf } from '../app/api';
import { Lost } from '../app/Lost';
import { Page } from '../ui/Page';
import { Ghost, Wrong } from '../ui/states';
import { useCampaignQuery } from './campaigns.api';
import { CampaignSheet } from './CampaignSheet';
import { CampaignUnderWay } from './CampaignUnderWay';

export function CampaignPage() {
  const id = Number(useParams()['id']);
  const campaign = useCampaignQuery(id, {
    skip: !Number.isInteger(id),
    refetchOnMountOrArgChange: true,
  });
  if (campaign.isError)
    return problemOf(campaign.error).status === 404 ? (
      <Lost />
    ) : (
      <Wrong error={campaign.error} again={() => void campaign.refetch()} />
    );
  const data: CampaignReply | undefined = campaign.data?.id === id ? campaign.data : undefined;
  if (!data) {
    return (
      <Page title="…" margin={<Ghost lines={8} />}>
        <Ghost lines={8} />
      </Page>
    );
  }
  return data.status === 'draft' ? (
    <CampaignSheet key={data.id} campaign={data} refetch={() => void campaign.refetch()} />
  ) : (
    <CampaignUnderWay key={data.id} campaign={data} />
  );
}
