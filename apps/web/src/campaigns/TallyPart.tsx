import { heldBackWords, partOfReason, shownReasons, type Tally } from '@palabra/core/campaigns';
import { type PeopleParts } from '@palabra/core/contacts';
import { peoplePath, Sum } from '../ui/numbers';
import { MarginPart } from '../ui/Page';

/** The account of a campaign's recipients; every line opens into people. */
export function TallyPart({
  campaign,
  tally,
  done,
}: {
  readonly campaign: number;
  readonly tally: Tally;
  readonly done?: boolean;
}) {
  const to = (part: PeopleParts['campaign']): string => peoplePath(`campaign.${campaign}.${part}`);
  return (
    <MarginPart title="Tally">
      <Sum
        label="Tally"
        lines={[
          { label: 'matched', value: tally.matched, to: to('matched') },
          ...shownReasons(tally).map((reason) => ({
            label: heldBackWords[reason].short,
            value: tally.heldBack[reason],
            to: to(partOfReason(reason)),
            kind: 'less' as const,
          })),
          {
            label: done ? 'to receive' : 'will receive',
            value: tally.receives,
            to: to('receives'),
            kind: 'total' as const,
          },
        ]}
      />
    </MarginPart>
  );
}
