import { Button } from '@mantine/core';
import type { ResultLine } from '@palabra/contract/results';
import type { PeopleParts } from '@palabra/core/contacts';
import { rateText } from '@palabra/core/results';
import { useMemo } from 'react';
import { Link } from 'react-router';
import { letterOf } from '../campaigns';
import { useOffice } from '../office';
import { ListPage } from '../ui/ListPage';
import { Miniature } from '../ui/Miniature';
import { Num, peoplePath } from '../ui/numbers';
import { Name } from '../ui/Rows';
import { Empty } from '../ui/states';
import type { Column } from '../ui/table';
import { Act, Soft } from '../ui/text';
import { day } from '../ui/time';
import { useResultsInfiniteQuery } from './results.api';

export function ResultsPage() {
  const found = useResultsInfiniteQuery(undefined, { refetchOnMountOrArgChange: true });
  const rows = useMemo(() => found.data?.pages.flat(), [found.data]);
  const columns = useColumns();
  return (
    <ListPage
      title="Results"
      sub="what came back, by people; machines are kept apart"
      actions={
        <Button component={Link} to="/results/returned" variant="default">
          Mail that came back
        </Button>
      }
      rows={rows}
      error={found.error}
      again={() => void found.refetch()}
      columns={columns}
      rowHeight={58}
      textOf={({ name }) => name}
      empty={
        <Empty title="Nothing has gone out yet">
          As soon as a campaign is sent, what comes back is counted here.{' '}
          <Link to="/campaigns">To the campaigns</Link>
        </Empty>
      }
      after={
        found.hasNextPage && (
          <Act loading={found.isFetchingNextPage} onClick={() => void found.fetchNextPage()}>
            Earlier
          </Act>
        )
      }
    />
  );
}

function useColumns(): readonly Column<ResultLine>[] {
  const { office } = useOffice();
  return useMemo(() => {
    const number = (
      id: string,
      part: PeopleParts['campaign'],
      value: (row: ResultLine) => number,
      rated: boolean,
    ): Column<ResultLine> => ({
      id,
      name: rated ? `${id}, of delivered` : id,
      width: rated ? 140 : 92,
      end: true,
      sort: value,
      view: (row) => (
        <>
          <Num value={value(row)} to={peoplePath(`campaign.${row.id}.${part}`)} label={id} />
          {rated && <Soft> {rateText({ count: value(row), of: row.arrived })}</Soft>}
        </>
      ),
    });
    return [
      {
        id: 'picture',
        name: '',
        width: 56,
        view: ({ id, name }) => (
          <Miniature src={letterOf(id)} title={`The letter of ${name}`} width={38} height={48} />
        ),
      },
      {
        id: 'name',
        name: 'campaign',
        fixed: true,
        sort: ({ name }) => name.toLowerCase(),
        title: ({ name }) => name,
        view: ({ id, name }) => <Name to={`/results/${id}`}>{name}</Name>,
      },
      {
        id: 'went out',
        name: 'went out',
        width: 96,
        sort: ({ startedAt }) => startedAt,
        view: ({ startedAt }) => <Soft>{day(office.timeZone, startedAt)}</Soft>,
      },
      number('delivered', 'delivered', (row) => row.delivered, false),
      number('opened', 'opened', (row) => row.opened, true),
      number('clicked', 'clicked', (row) => row.clicked, true),
      number('bounced', 'bounced', (row) => row.bounced, false),
      number('left', 'left', (row) => row.left, false),
    ];
  }, [office.timeZone]);
}
