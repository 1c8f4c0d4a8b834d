// A campaign at one address, whatever becomes of it: a sheet to write on, then how it goes.
import { whoKinds, type WhoRef } from '@palabra/core/campaigns';
import { useState } from 'react';
import { useParams, useSearchParams } from 'react-router';
import { CampaignSheet, newCampaign, SheetParts, useCampaignQuery } from '../campaigns';
import { ProofButton, StandbyNote, UnderWay } from '../delivery';
import { useOffice } from '../office';
import { Lost, Waiting } from '../ui/states';

/** Whom a new campaign is for, as its address says. */
function startsWith(search: URLSearchParams): WhoRef | undefined {
  const kind = whoKinds.find((one) => search.has(one));
  const id = Number(kind && search.get(kind));
  return kind && Number.isInteger(id) && id > 0 ? { kind, id } : undefined;
}

export function CampaignPage() {
  const text = useParams()['id'];
  const isNew = text === 'new';
  const id = Number(text);
  /** What was begun here stays on the screen when it is kept and gets its address. */
  const [begun, setBegun] = useState<number | 'new' | undefined>(isNew ? 'new' : undefined);
  const { office } = useOffice();
  const [search] = useSearchParams();
  const [start] = useState(() =>
    newCampaign(office, {
      name: search.get('name')?.slice(0, 120),
      to: startsWith(search),
    }),
  );
  const campaign = useCampaignQuery(id, {
    skip: !Number.isInteger(id),
    refetchOnMountOrArgChange: true,
  });
  if (begun !== undefined && begun !== id && !isNew) setBegun(begun === 'new' ? id : undefined);
  if (isNew && begun !== 'new') setBegun('new');
  if (!isNew && !Number.isInteger(id)) return <Lost />;
  const data = campaign.data?.id === id ? campaign.data : undefined;
  // Once it was on its way, what was begun is over: a sheet that comes back is read anew.
  if (begun !== undefined && data && data.status !== 'draft') setBegun(undefined);
  const isStillBegun = begun !== undefined && (!data || data.status === 'draft');
  if (!isStillBegun && !data)
    return <Waiting error={campaign.error} again={() => void campaign.refetch()} />;
  if (isStillBegun || data?.status === 'draft')
    return (
      <CampaignSheet
        key={isStillBegun ? 'new' : id}
        campaign={isStillBegun || !data ? start : data}
        notice={<StandbyNote />}
        proof={(kept, flush) => <ProofButton id={kept} flush={flush} />}
      />
    );
  return (
    data && (
      <UnderWay
        key={id}
        campaign={data}
        sheet={
          <SheetParts
            id={id}
            value={data}
            names={data.names}
            used={data.whoUsed}
            disabled
            onChange={() => undefined}
          />
        }
      />
    )
  );
}
