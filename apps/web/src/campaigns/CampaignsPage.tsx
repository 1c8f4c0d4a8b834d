// All campaigns: what is not out yet, and what went out.
import { Button, Group } from '@mantine/core';
import type { CampaignLine } from '@palabra/contract/campaigns';
import { wentOut } from '@palabra/core/campaigns';
import { lineText } from '@palabra/core/letters';
import { useMemo, useState } from 'react';
import { Link } from 'react-router';
import { LineText } from '../letters';
import { useMay, useOffice } from '../office';
import { Delete } from '../ui/Delete';
import { ListPage } from '../ui/ListPage';
import { Miniature } from '../ui/Miniature';
import { Num, peoplePath } from '../ui/numbers';
import { Name } from '../ui/Rows';
import { Empty } from '../ui/states';
import type { Column } from '../ui/table';
import { Soft } from '../ui/text';
import { ago, dayAndClock } from '../ui/time';
import { Words } from '../ui/Words';
import {
  letterOf,
  useCampaignsQuery,
  useRemoveCampaignMutation,
  useRestoreCampaignMutation,
} from './campaigns.api';
import { CopyCampaign } from './CopyCampaign';
import { statusWords } from './words';

const parts = ['all', 'not out yet', 'went out'] as const;
type Part = (typeof parts)[number];

export function CampaignsPage() {
  const campaigns = useCampaignsQuery(undefined, { refetchOnMountOrArgChange: true });
  const may = useMay('write letters');
  const [part, setPart] = useState<Part>('all');
  const columns = useColumns(may);
  const rows = useMemo(
    () =>
      campaigns.data?.filter(
        ({ status }) => part === 'all' || wentOut(status) === (part === 'went out'),
      ),
    [campaigns.data, part],
  );
  const button = may && (
    <Button component={Link} to="/campaigns/new">
      New campaign
    </Button>
  );
  return (
    <ListPage
      title="Campaigns"
      sub="who gets what, from whom, when"
      actions={button}
      rows={campaigns.data?.length === 0 ? campaigns.data : rows}
      error={campaigns.error}
      again={() => void campaigns.refetch()}
      columns={columns}
      rowHeight={64}
      textOf={textOf}
      narrow={<Words label="Which" value={part} options={parts} onChange={setPart} />}
      empty={
        <Empty title={part === 'all' ? 'No campaigns yet' : 'None of these'}>
          <p>A campaign brings a letter to a group of people, and keeps account of everybody.</p>
          {button}
        </Empty>
      }
    />
  );
}

const textOf = ({ name, subject }: CampaignLine): string => `${name} ${lineText(subject)}`;
const whenOf = ({ startedAt, status, sendAt }: CampaignLine): string | null =>
  startedAt ?? (status === 'scheduled' ? sendAt : null);

function useColumns(may: boolean): readonly Column<CampaignLine>[] {
  const { office } = useOffice();
  return useMemo(
    () => [
      {
        id: 'picture',
        name: '',
        width: 60,
        view: ({ id, name }) => (
          <Miniature src={letterOf(id)} title={`The letter of ${name}`} width={42} height={54} />
        ),
      },
      {
        id: 'name',
        name: 'campaign',
        width: 270,
        fixed: true,
        sort: ({ name }) => name.toLowerCase(),
        title: ({ name }) => name,
        view: ({ id, name }) => <Name to={`/campaigns/${id}`}>{name}</Name>,
      },
      {
        id: 'subject',
        name: 'subject',
        sort: ({ subject }) => lineText(subject).toLowerCase(),
        title: ({ subject }) => lineText(subject),
        view: ({ subject }) => (
          <Soft>
            <LineText line={subject} />
          </Soft>
        ),
      },
      {
        id: 'when',
        name: 'when',
        width: 138,
        sort: (one) => whenOf(one) ?? one.updatedAt,
        view: (one) => {
          const when = whenOf(one);
          return (
            <Soft>
              {when
                ? dayAndClock(office.timeZone, when)
                : `changed ${ago(office.timeZone, one.updatedAt)}`}
            </Soft>
          );
        },
      },
      {
        id: 'people',
        name: 'people',
        width: 78,
        end: true,
        sort: ({ receives }) => receives,
        view: ({ id, receives }) =>
          receives === null ? null : (
            <Num value={receives} to={peoplePath(`campaign.${id}.receives`)} label="people" />
          ),
      },
      {
        id: 'status',
        name: 'stands',
        width: 128,
        sort: ({ status }) => statusWords[status],
        title: ({ status }) => statusWords[status],
        view: ({ status }) => statusWords[status],
      },
      {
        id: 'acts',
        name: '',
        width: 124,
        fixed: true,
        view: (campaign) => <Acts campaign={campaign} may={may} />,
      },
    ],
    [may, office.timeZone],
  );
}

function Acts({ campaign, may }: { readonly campaign: CampaignLine; readonly may: boolean }) {
  const { id, name, status } = campaign;
  const [remove] = useRemoveCampaignMutation();
  const [restore] = useRestoreCampaignMutation();
  return (
    <Group gap="sm" wrap="nowrap">
      {wentOut(status) && <Link to={`/results/${id}`}>Results</Link>}
      {may && <CopyCampaign campaign={campaign} />}
      {may && status === 'draft' && (
        <Delete
          name={name}
          remove={() => remove(id).unwrap()}
          restore={() => restore(id).unwrap()}
        />
      )}
    </Group>
  );
}
