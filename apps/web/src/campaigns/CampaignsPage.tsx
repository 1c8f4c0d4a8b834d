import { Button } from '@mantine/core';
import type { CampaignLine } from '@palabra/contract/campaigns';
import { wentOut } from '@palabra/core/campaigns';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { problemOf } from '../app/api';
import { useMay, useOffice } from '../office/OfficeContext';
import { count } from '../ui/numbers';
import { Page } from '../ui/Page';
import { Empty, Ghost, Note, Removed, Wrong } from '../ui/states';
import { ago, dayAndClock } from '../ui/time';
import {
  useAddCampaignMutation,
  useCampaignsQuery,
  useRemoveCampaignMutation,
  useRestoreCampaignMutation,
} from './campaigns.api';
import { statusWords } from './words';

export function CampaignsPage() {
  const campaigns = useCampaignsQuery();
  const may = useMay('write letters');
  const navigate = useNavigate();
  const [add, adding] = useAddCampaignMutation();
  const [remove] = useRemoveCampaignMutation();
  const [restore] = useRestoreCampaignMutation();
  const [removed, setRemoved] = useState<CampaignLine>();
  const [error, setError] = useState<string>();
  const make = async (copyOf?: CampaignLine): Promise<void> => {
    try {
      const { id } = await add(
        copyOf
          ? { name: `${copyOf.name}, again`.slice(0, 120), copyOf: copyOf.id }
          : { name: 'New campaign' },
      ).unwrap();
      void navigate(`/campaigns/${id}`);
    } catch (reason) {
      setError(problemOf(reason).detail);
    }
  };
  const before = campaigns.data?.filter(({ status }) => !wentOut(status)) ?? [];
  const after = campaigns.data?.filter(({ status }) => wentOut(status)) ?? [];
  const button = may && (
    <Button loading={adding.isLoading} onClick={() => void make()}>
      New campaign
    </Button>
  );
  return (
    <Page title="Campaigns" sub="who gets what, from whom, when" actions={button}>
      {error && <Note kind="wrong">{error}</Note>}
      <Removed
        what={removed}
        onUndo={() => removed && void restore(removed.id).then(() => setRemoved(undefined))}
      />
      {campaigns.isError && (
        <Wrong error={campaigns.error} again={() => void campaigns.refetch()} />
      )}
      {campaigns.isLoading && <Ghost lines={6} />}
      {campaigns.data?.length === 0 && (
        <Empty title="No campaigns yet">
          A campaign brings a letter to a group of people, and keeps account of everybody. {button}
        </Empty>
      )}
      {before.length > 0 && <h2 className="ruled-head">Not out yet</h2>}
      <ul className="rows">
        {before.map((one) => (
          <Line key={one.id} campaign={one}>
            {may && one.status === 'draft' && (
              <button
                type="button"
                className="act"
                aria-label={`Delete ${one.name}`}
                onClick={() => void remove(one.id).then(() => setRemoved(one))}
              >
                Delete
              </button>
            )}
          </Line>
        ))}
      </ul>
      {after.length > 0 && <h2 className="ruled-head">Went out</h2>}
      <ul className="rows">
        {after.map((one) => (
          <Line key={one.id} campaign={one}>
            {may && (
              <button
                type="button"
                className="act"
                aria-label={`Copy ${one.name}`}
                onClick={() => void make(one)}
              >
                Copy
              </button>
            )}
          </Line>
        ))}
      </ul>
    </Page>
  );
}

function Line({
  campaign,
  children,
}: {
  readonly campaign: CampaignLine;
  readonly children: React.ReactNode;
}) {
  const { office } = useOffice();
  const out = wentOut(campaign.status);
  const when = campaign.startedAt ?? (campaign.status === 'scheduled' ? campaign.sendAt : null);
  return (
    <li>
      <span className="when">
        {when
          ? dayAndClock(office.timeZone, when)
          : `changed ${ago(office.timeZone, campaign.updatedAt)}`}
      </span>
      <span className="what">
        <Link className="name" to={`/campaigns/${campaign.id}`}>
          {campaign.name}
        </Link>{' '}
        <span className="soft">{campaign.subject}</span>
      </span>
      <span className="end">
        {campaign.receives !== null && `${count(campaign.receives)} people, `}
        {statusWords[campaign.status]}
      </span>
      {out && <Link to={`/results/${campaign.id}`}>Results</Link>}
      {children}
    </li>
  );
}
