// The four parts of a sheet: who, what, from whom, when. Read-only once it is on its way.
import { TextInput } from '@mantine/core';
import type { CampaignReply } from '@palabra/contract/campaigns';
import { useVocabularyQuery } from '../contacts';
import { Pick } from '../ui/Pick';
import { SheetLine, SheetPart } from '../ui/Sheet';
import classes from './campaigns.module.css';
import type { PartProps } from './useCampaign';
import { WhatPart } from './WhatPart';
import { WhenPart } from './WhenPart';
import { WhoPart } from './WhoPart';

export function SheetParts(
  props: PartProps & {
    readonly names: CampaignReply['names'];
    readonly used: CampaignReply['whoUsed'];
  },
) {
  return (
    <>
      <SheetPart id="who" title="Who">
        <WhoPart {...props} />
      </SheetPart>
      <SheetPart id="what" title="What">
        <WhatPart {...props}>
          <TopicLine {...props} />
        </WhatPart>
      </SheetPart>
      <SheetPart id="from" title="From">
        <FromPart {...props} />
      </SheetPart>
      <SheetPart id="when" title="When">
        <WhenPart {...props} />
      </SheetPart>
    </>
  );
}

function FromPart({ value, disabled, onChange }: PartProps) {
  return (
    <>
      <SheetLine label="name">
        <TextInput
          variant="line"
          className={classes.from}
          aria-label="Sender’s name"
          maxLength={120}
          disabled={disabled}
          value={value.senderName}
          onChange={(event) => onChange({ senderName: event.currentTarget.value })}
        />
      </SheetLine>
      <SheetLine label="address">
        <TextInput
          variant="line"
          className={classes.from}
          type="email"
          aria-label="Sender’s address"
          maxLength={254}
          disabled={disabled}
          value={value.senderAddress}
          onChange={(event) => onChange({ senderAddress: event.currentTarget.value })}
        />
      </SheetLine>
      <SheetLine label="replies to">
        <TextInput
          variant="line"
          className={classes.from}
          type="email"
          aria-label="Replies to"
          placeholder="the sender"
          maxLength={254}
          disabled={disabled}
          value={value.replyTo}
          onChange={(event) => onChange({ replyTo: event.currentTarget.value })}
        />
      </SheetLine>
    </>
  );
}

/** The kind of letter this is: who chose not to get it is held back. */
function TopicLine({ value, disabled, onChange }: PartProps) {
  const { data } = useVocabularyQuery();
  if (!data || data.topics.length === 0) return null;
  return (
    <SheetLine label="topic">
      <Pick
        label="Topic"
        nothing="no topic: for everybody"
        disabled={disabled}
        value={value.topicId}
        options={data.topics.map(({ id, name }) => ({ value: id, label: name }))}
        onChange={(topicId) => onChange({ topicId })}
      />
    </SheetLine>
  );
}
