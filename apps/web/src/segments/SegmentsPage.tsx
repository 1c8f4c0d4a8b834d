import { Button } from '@mantine/core';
import type { SegmentLine } from '@palabra/contract/segments';
import { useMemo, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { useSummaryQuery } from '../contacts';
import { useMay, useOffice, useSeesEverybody } from '../office';
import { command } from '../ui/command';
import { Delete } from '../ui/Delete';
import { FileWords } from '../ui/FilePlace';
import { ListPage } from '../ui/ListPage';
import { Num, peoplePath } from '../ui/numbers';
import { Name } from '../ui/Rows';
import { Empty } from '../ui/states';
import type { Column } from '../ui/table';
import { Small, Soft, Wrongly } from '../ui/text';
import { ago } from '../ui/time';
import { Uses } from '../ui/Uses';
import { Words } from '../ui/Words';
import {
  useRemoveSegmentMutation,
  useRestoreSegmentMutation,
  useSegmentsQuery,
  useTakeSegmentInMutation,
} from './segments.api';

type Shown = 'all' | 'live' | 'fixed' | 'mine' | 'drafts' | 'idle';
const shownWords: readonly { readonly value: Shown; readonly label: string }[] = [
  { value: 'all', label: 'all' },
  { value: 'live', label: 'live' },
  { value: 'fixed', label: 'fixed' },
  { value: 'mine', label: 'mine' },
  { value: 'drafts', label: 'with a draft' },
  { value: 'idle', label: 'unused for a year' },
];
const isShown = (segment: SegmentLine, shown: Shown): boolean =>
  shown === 'all' ||
  (shown === 'mine' && segment.isMine) ||
  (shown === 'drafts' && segment.hasDraft) ||
  (shown === 'idle' && segment.isIdle) ||
  segment.kind === shown;

export function SegmentsPage() {
  const segments = useSegmentsQuery(undefined, { refetchOnMountOrArgChange: true });
  const may = useMay('make segments');
  const [shown, setShown] = useState<Shown>('all');
  const filtered = useMemo(
    () => segments.data?.filter((segment) => isShown(segment, shown)),
    [segments.data, shown],
  );
  const columns = useColumns();
  const button = may && (
    <Button component={Link} to="/segments/new">
      New segment
    </Button>
  );
  return (
    <ListPage
      title="Segments"
      sub="groups of contacts: live by a rule, or fixed as listed"
      actions={
        <>
          {may && <TakeIn />}
          <Button component={Link} to="/segments/compare" variant="default">
            Compare
          </Button>
          {button}
        </>
      }
      rows={segments.data}
      filtered={filtered}
      narrow={
        <Words label="Which segments" value={shown} options={shownWords} onChange={setShown} />
      }
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

/** A segment from a file, as another office wrote it. */
function TakeIn() {
  const navigate = useNavigate();
  const [takeIn, state] = useTakeSegmentInMutation();
  const read = async (file: File): Promise<void> => {
    const made = await command({
      run: async () => {
        let segment: unknown;
        try {
          segment = JSON.parse(await file.text());
        } catch {
          segment = undefined;
        }
        if (typeof segment !== 'object' || segment === null)
          throw new Error('This file holds no segment of Palabra.');
        return takeIn({ segment }).unwrap();
      },
    });
    if (made) void navigate(`/segments/${made.id}`);
  };
  return (
    <FileWords
      label="A file with a segment"
      accept=".json,application/json"
      busy={state.isLoading}
      onFile={(file) => void read(file)}
    >
      From a file
    </FileWords>
  );
}

const textOf = ({ name, description, labels, owner }: SegmentLine): string =>
  `${name} ${description} ${labels.join(' ')} ${owner ?? ''}`;

/** Of somebody who does not see everybody: how many more there are. */
const ofColleagues: Column<SegmentLine> = {
  id: 'colleagues',
  name: 'of colleagues',
  width: 104,
  end: true,
  view: ({ id }) => <Colleagues id={id} />,
};

function useColumns(): readonly Column<SegmentLine>[] {
  const { office } = useOffice();
  const seesAll = useSeesEverybody();
  return useMemo(
    () => [
      {
        id: 'name',
        name: 'segment',
        width: 260,
        fixed: true,
        sort: ({ name }) => name.toLowerCase(),
        title: ({ name }) => name,
        view: ({ id, name, hasDraft }) => (
          <>
            <Name to={`/segments/${id}`}>{name}</Name>
            {hasDraft && <Small> draft</Small>}
          </>
        ),
      },
      {
        id: 'kind',
        name: 'kind',
        width: 60,
        sort: ({ kind }) => kind,
        view: ({ kind }) => <Soft>{kind}</Soft>,
      },
      {
        id: 'description',
        name: 'what for',
        sort: ({ description }) => description.toLowerCase(),
        title: ({ description, labels }) => [description, ...labels].join(' · '),
        view: ({ description, labels }) => (
          <Soft>
            {description}
            {labels.length > 0 && ` · ${labels.join(', ')}`}
          </Soft>
        ),
      },
      {
        id: 'people',
        name: seesAll ? 'people' : 'yours',
        width: 84,
        end: true,
        view: ({ id }) => <Size id={id} />,
      },
      ...(seesAll ? [] : [ofColleagues]),
      {
        id: 'uses',
        name: 'used in',
        width: 220,
        sort: ({ uses }) => uses.length,
        title: ({ uses }) => uses.map(({ name }) => name).join(', '),
        view: ({ uses, askedBy, isIdle }) =>
          uses.length === 0 && askedBy.length > 0 ? (
            <Uses uses={askedBy} path="/segments" />
          ) : (
            <>
              <Uses uses={uses} path="/campaigns" />
              {isIdle && <Wrongly> · not for a year</Wrongly>}
            </>
          ),
      },
      {
        id: 'owner',
        name: 'owner',
        width: 110,
        hidden: true,
        sort: ({ owner }) => owner ?? '',
        view: ({ owner, sharing }) => (
          <Soft>
            {owner ?? 'the office'}
            {sharing === 'private' && ', private'}
          </Soft>
        ),
      },
      {
        id: 'pool',
        name: 'pools',
        width: 110,
        hidden: true,
        sort: ({ pools }) => pools.join(' '),
        view: ({ pools }) => <Soft>{pools.join(', ')}</Soft>,
      },
      {
        id: 'last',
        name: 'last used',
        width: 100,
        sort: ({ lastUsedAt }) => lastUsedAt ?? '',
        view: ({ lastUsedAt }) => (
          <Soft>{lastUsedAt ? ago(office.timeZone, lastUsedAt) : 'never'}</Soft>
        ),
      },
      {
        id: 'changed',
        name: 'changed',
        width: 100,
        hidden: true,
        sort: ({ updatedAt }) => updatedAt,
        view: ({ updatedAt }) => <Soft>{ago(office.timeZone, updatedAt)}</Soft>,
      },
      {
        id: 'delete',
        name: '',
        width: 64,
        fixed: true,
        view: (segment) => (segment.mayChange ? <DeleteSegment segment={segment} /> : null),
      },
    ],
    [office.timeZone, seesAll],
  );
}

/** Counted when it comes into sight. */
const useSize = (id: number) =>
  useSummaryQuery({ of: `segment.${id}` }, { refetchOnMountOrArgChange: 60 });

function Colleagues({ id }: { readonly id: number }) {
  const { data } = useSize(id);
  return data ? <Num value={data.colleagues} /> : null;
}

function Size({ id }: { readonly id: number }) {
  const of = `segment.${id}` as const;
  const { data, isError } = useSize(id);
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
