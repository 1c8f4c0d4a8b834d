import { Button } from '@mantine/core';
import type { SegmentLine } from '@palabra/contract/segments';
import { useMemo } from 'react';
import { Link } from 'react-router';
import { useSummaryQuery } from '../contacts';
import { useMay, useOffice } from '../office';
import { Delete } from '../ui/Delete';
import { ListPage } from '../ui/ListPage';
import { Num, peoplePath } from '../ui/numbers';
import { Name } from '../ui/Rows';
import { Empty } from '../ui/states';
import type { Column } from '../ui/table';
import { Soft } from '../ui/text';
import { ago } from '../ui/time';
import { Uses } from '../ui/Uses';
import {
  useRemoveSegmentMutation,
  useRestoreSegmentMutation,
  useSegmentsQuery,
} from './segments.api';

export function SegmentsPage() {
  const segments = useSegmentsQuery(undefined, { refetchOnMountOrArgChange: true });
  const may = useMay('write letters');
  const columns = useColumns(may);
  const button = may && (
    <Button component={Link} to="/segments/new">
      New segment
    </Button>
  );
  return (
    <ListPage
      title="Segments"
      sub="groups of contacts that keep themselves up to date"
      actions={button}
      rows={segments.data}
      error={segments.error}
      again={() => void segments.refetch()}
      columns={columns}
      textOf={textOf}
      empty={
        <Empty title="No segments yet">
          <p>
            A segment is a group with a rule, such as everybody tagged “guest” who lives nearby. It
            is used again and again, and keeps itself up to date.
          </p>
          {button}
        </Empty>
      }
    />
  );
}

const textOf = ({ name, description }: SegmentLine): string => `${name} ${description}`;

function useColumns(may: boolean): readonly Column<SegmentLine>[] {
  const { office } = useOffice();
  return useMemo(
    () => [
      {
        id: 'name',
        name: 'segment',
        width: 260,
        fixed: true,
        sort: ({ name }) => name.toLowerCase(),
        title: ({ name }) => name,
        view: ({ id, name }) => <Name to={`/segments/${id}`}>{name}</Name>,
      },
      {
        id: 'description',
        name: 'what for',
        sort: ({ description }) => description.toLowerCase(),
        title: ({ description }) => description,
        view: ({ description }) => <Soft>{description}</Soft>,
      },
      {
        id: 'people',
        name: 'people',
        width: 84,
        end: true,
        view: ({ id }) => <Size id={id} />,
      },
      {
        id: 'uses',
        name: 'used in',
        width: 260,
        sort: ({ uses }) => uses.length,
        title: ({ uses }) => uses.map(({ name }) => name).join(', '),
        view: ({ uses }) => <Uses uses={uses} path="/campaigns" />,
      },
      {
        id: 'pool',
        name: 'pool',
        width: 110,
        hidden: true,
        sort: ({ pool }) => pool,
        view: ({ pool }) => <Soft>{pool}</Soft>,
      },
      {
        id: 'changed',
        name: 'changed',
        width: 100,
        sort: ({ updatedAt }) => updatedAt,
        view: ({ updatedAt }) => <Soft>{ago(office.timeZone, updatedAt)}</Soft>,
      },
      ...(may
        ? [
            {
              id: 'delete',
              name: '',
              width: 64,
              fixed: true,
              view: (segment: SegmentLine) => <DeleteSegment segment={segment} />,
            },
          ]
        : []),
    ],
    [may, office.timeZone],
  );
}

/** Counted when it comes into sight. */
function Size({ id }: { readonly id: number }) {
  const of = `segment.${id}` as const;
  const { data, isError } = useSummaryQuery({ of }, { refetchOnMountOrArgChange: 60 });
  if (isError) return <Soft>–</Soft>;
  return data ? <Num value={data.total} to={peoplePath(of)} label="people" /> : <Soft>…</Soft>;
}

function DeleteSegment({ segment: { id, name } }: { readonly segment: SegmentLine }) {
  const [remove] = useRemoveSegmentMutation();
  const [restore] = useRestoreSegmentMutation();
  return (
    <Delete name={name} remove={() => remove(id).unwrap()} restore={() => restore(id).unwrap()} />
  );
}
