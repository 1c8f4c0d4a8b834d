import { Button } from '@mantine/core';
import type { ResultLine } from '@palabra/contract/results';
import { rateText } from '@palabra/core/results';
import { type PeopleParts } from '@palabra/core/contacts';
import { useState } from 'react';
import { Link } from 'react-router';
import { useOffice } from '../office/OfficeContext';
import { Num, peoplePath } from '../ui/numbers';
import { Page } from '../ui/Page';
import { Empty, Ghost, Wrong } from '../ui/states';
import { day } from '../ui/time';
import { useLazyResultsQuery, useResultsQuery } from './results.api';

const PAGE = 30;

export function ResultsPage() {
  const first = useResultsQuery({}, { refetchOnMountOrArgChange: true });
  const [more, loading] = useLazyResultsQuery();
  const [older, setOlder] = useState<readonly ResultLine[]>([]);
  const [ended, setEnded] = useState(false);
  const rows = [...(first.data ?? []), ...older];
  const showOlder = async (): Promise<void> => {
    const page = await more({ before: rows.at(-1)?.startedAt }).unwrap();
    setOlder([...older, ...page]);
    setEnded(page.length < PAGE);
  };
  return (
    <Page
      title="Results"
      sub="what came back, by people; machines are kept apart"
      actions={
        <Button component={Link} to="/results/returned" variant="default">
          Mail that came back
        </Button>
      }
    >
      {first.isError && <Wrong error={first.error} again={() => void first.refetch()} />}
      {first.isLoading && <Ghost lines={8} />}
      {first.data?.length === 0 && (
        <Empty title="Nothing has gone out yet">
          As soon as a campaign is sent, what comes back is counted here.{' '}
          <Link to="/campaigns">To the campaigns</Link>
        </Empty>
      )}
      {rows.length > 0 && <ResultTable rows={rows} />}
      {!ended && (first.data?.length ?? 0) === PAGE && (
        <button
          type="button"
          className="act"
          disabled={loading.isFetching}
          onClick={() => void showOlder()}
        >
          {loading.isFetching ? 'Looking …' : 'Earlier'}
        </button>
      )}
    </Page>
  );
}

function ResultTable({ rows }: { readonly rows: readonly ResultLine[] }) {
  const { office } = useOffice();
  const of = (row: ResultLine, part: PeopleParts['campaign']): string =>
    peoplePath(`campaign.${row.id}.${part}`);
  return (
    <table className="people numbers">
      <colgroup>
        <col style={{ width: 104 }} />
        <col />
        <col style={{ width: 90 }} />
        <col style={{ width: 150 }} />
        <col style={{ width: 140 }} />
        <col style={{ width: 80 }} />
        <col style={{ width: 70 }} />
      </colgroup>
      <thead>
        <tr>
          <th scope="col">went out</th>
          <th scope="col">campaign</th>
          <th scope="col">delivered</th>
          <th scope="col">opened, of delivered</th>
          <th scope="col">clicked</th>
          <th scope="col">bounced</th>
          <th scope="col">left</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr key={row.id}>
            <td className="soft">{day(office.timeZone, row.startedAt)}</td>
            <td className="who">
              <Link to={`/results/${row.id}`} title={row.name}>
                {row.name}
              </Link>
            </td>
            <td>
              <Num value={row.delivered} to={of(row, 'delivered')} />
            </td>
            <td>
              <Num value={row.opened} to={of(row, 'opened')} />{' '}
              <Rate count={row.opened} of={row.delivered} />
            </td>
            <td>
              <Num value={row.clicked} to={of(row, 'clicked')} />{' '}
              <Rate count={row.clicked} of={row.delivered} />
            </td>
            <td>
              <Num value={row.bounced} to={of(row, 'bounced')} />
            </td>
            <td>
              <Num value={row.left} to={of(row, 'left')} />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Rate({ count, of }: { readonly count: number; readonly of: number }) {
  return <span className="soft">{rateText({ count, of })}</span>;
}
