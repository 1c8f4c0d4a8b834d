// The sheet while it is a draft: everything is edited in place, in any order, and saved as it is made.
import { Title } from '@mantine/core';
import type { ReactNode } from 'react';
import { useMay } from '../office';
import { InPlace } from '../ui/InPlace';
import { MarginPart, Page } from '../ui/Page';
import { SaveTrouble, SaveWord } from '../ui/saving';
import { SheetPart } from '../ui/Sheet';
import { Ghost, Wrong } from '../ui/states';
import { Soft } from '../ui/text';
import { useTallyQuery } from './campaigns.api';
import { ChecksPart } from './ChecksPart';
import { SendPart } from './SendPart';
import { SheetParts } from './SheetParts';
import { TallyPart } from './TallyPart';
import { useCampaign, type CampaignModel, type CampaignStart } from './useCampaign';

interface CampaignSheetProps {
  readonly campaign: CampaignStart;
  /** What stands over the sheet. */
  readonly notice: ReactNode;
  /** How one sends it to oneself; the sheet is kept first. */
  readonly proof: (id: number | undefined, flush: () => Promise<number | undefined>) => ReactNode;
}

export function CampaignSheet({ campaign, notice, proof }: CampaignSheetProps) {
  const model = useCampaign(campaign);
  const { draft, change } = model;
  const may = useMay('write letters');
  const maySend = useMay('send');
  const { name } = draft.value;
  const rename = (next: string): void => {
    if (next === '') throw new Error('A campaign needs a name.');
    change({ name: next });
  };
  return (
    <Page
      title={name}
      heading={
        <Title order={1}>
          <InPlace
            title
            label="Name of the campaign"
            value={name}
            maxLength={120}
            disabled={!may}
            onSave={rename}
          />
        </Title>
      }
      sub={
        model.id === undefined && draft.state.kind === 'saved' ? (
          'kept as soon as it has a name or a content'
        ) : (
          <>
            draft, <SaveWord state={draft.state} />
          </>
        )
      }
      margin={<SheetMargin model={model} />}
    >
      {notice}
      <SaveTrouble draft={draft} what="campaign" />
      <SheetParts
        id={model.id}
        value={draft.value}
        names={campaign.names}
        used={campaign.whoUsed}
        disabled={!may}
        onChange={change}
      />
      <SheetPart>
        {maySend ? (
          <SendPart model={model} proof={proof(model.id, draft.flush)} />
        ) : (
          <Soft>A coordinator sends this campaign.</Soft>
        )}
      </SheetPart>
    </Page>
  );
}

function SheetMargin({ model: { id, draft } }: { readonly model: CampaignModel }) {
  const tally = useTallyQuery(id ?? 0, { skip: id === undefined });
  if (id === undefined)
    return (
      <MarginPart title="Tally">
        <Soft>Who gets it is counted here as soon as you say to whom it goes.</Soft>
      </MarginPart>
    );
  if (tally.error) return <Wrong error={tally.error} again={() => void tally.refetch()} />;
  if (!tally.data) return <Ghost lines={8} />;
  return (
    <>
      <TallyPart campaign={id} tally={tally.data.tally} />
      <ChecksPart checks={tally.data.checks} letterId={draft.value.letterId} />
    </>
  );
}
