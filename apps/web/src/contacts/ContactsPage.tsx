// Everybody, or the people behind a number: search, narrow, choose, tag.
import { Button, Menu, Title, UnstyledButton } from '@mantine/core';
import { IconChevronDown } from '@tabler/icons-react';
import { useState } from 'react';
import { Link } from 'react-router';
import { useMay, useSeesEverybody } from '../office';
import { count, people } from '../ui/numbers';
import { Page } from '../ui/Page';
import { useSearch } from '../ui/search';
import { Empty, Ghost, Wrong } from '../ui/states';
import { Table } from '../ui/table';
import { nameOf, usePeopleColumns } from './columns';
import { useSummaryQuery, useVocabularyQuery, type Filter } from './contacts.api';
import classes from './contacts.module.css';
import { ContactsMargin } from './ContactsMargin';
import { filterText, readFilter } from './filter';
import { Narrowing } from './Narrowing';
import { NewContact } from './NewContact';
import { useChoosing } from './selection';
import { SelectionBar } from './SelectionBar';
import { usePeopleList } from './usePeople';

export function ContactsPage() {
  const [search, setSearch] = useSearch();
  const filter = readFilter(search);
  const [adding, setAdding] = useState(false);
  const mayChange = useMay('change people');
  const seesAll = useSeesEverybody();
  const { currentData: sums } = useSummaryQuery(filter);
  const pool = usePool(filter);
  const narrow = (change: Partial<Filter>): void =>
    setSearch(new URLSearchParams(filterText({ ...filter, ...change })), {
      // A search is one step back, however it was typed.
      replace: 'q' in change && filter.q !== undefined,
    });
  return (
    <Page
      title={sums?.title ?? 'Contacts'}
      heading={
        filter.of ? (
          <Title order={1}>{sums?.title ?? '…'}</Title>
        ) : (
          <PoolHeading filter={filter} onPool={(id) => narrow({ pool: id })} />
        )
      }
      sub={sums && `${filter.of ? '' : `${pool}, `}${people(sums.total)}`}
      actions={
        filter.of ? (
          <Button component={Link} to="/contacts" variant="default">
            {seesAll ? 'Show everybody' : 'Show all of yours'}
          </Button>
        ) : (
          mayChange && (
            <>
              <Button component={Link} to="/intake" variant="default">
                Import
              </Button>
              <Button onClick={() => setAdding(true)}>New contact</Button>
            </>
          )
        )
      }
      margin={<ContactsMargin filter={filter} onTag={(id) => narrow({ tag: id })} />}
    >
      <PeopleList filter={filter} total={sums?.total} onNarrow={narrow} />
      {sums && sums.colleagues > 0 && <p>and {count(sums.colleagues)} of colleagues</p>}
      {sums && sums.deleted > 0 && <p>and {count(sums.deleted)} deleted since</p>}
      <NewContact opened={adding} onClose={() => setAdding(false)} />
    </Page>
  );
}

function usePool(filter: Filter): string {
  const { data } = useVocabularyQuery();
  const pool = data?.pools.find(({ id }) => id === filter.pool) ?? data?.pools[0];
  return pool?.kind === 'house' || !pool ? 'house pool' : 'pool';
}

function PoolHeading({
  filter,
  onPool,
}: {
  readonly filter: Filter;
  readonly onPool: (id: number | undefined) => void;
}) {
  const { data } = useVocabularyQuery();
  const whose = useSeesEverybody() ? 'Everybody' : 'Your people';
  const pool = data?.pools.find(({ id }) => id === filter.pool) ?? data?.pools[0];
  return (
    <Menu position="bottom-start">
      <Menu.Target>
        <UnstyledButton>
          <Title order={1} className={classes.heading}>
            {pool?.kind === 'house' || !pool ? whose : pool.name}{' '}
            <IconChevronDown size={18} aria-hidden />
          </Title>
        </UnstyledButton>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Label>Pools</Menu.Label>
        {data?.pools.map((one) => (
          <Menu.Item key={one.id} onClick={() => onPool(one.kind === 'house' ? undefined : one.id)}>
            {one.kind === 'house'
              ? `${whose}, the house pool`
              : `${one.name}, ${one.kind === 'partner' ? 'a partner’s pool' : 'prospects'}`}
          </Menu.Item>
        ))}
      </Menu.Dropdown>
    </Menu>
  );
}

function PeopleList({
  filter,
  total,
  onNarrow,
}: {
  readonly filter: Filter;
  readonly total: number | undefined;
  readonly onNarrow: (change: Partial<Filter>) => void;
}) {
  const list = filterText(filter);
  const mayChange = useMay('change people');
  const columns = usePeopleColumns(list);
  const found = usePeopleList(filter, total);
  const { source } = found;
  const choosing = useChoosing(list, () =>
    Array.from({ length: Math.min(source.count, 200) }, (_, at) => source.at(at)).filter(
      (row) => row !== undefined,
    ),
  );
  const { chosen } = choosing;
  const size = chosen.all ? (total ?? 0) : chosen.people.size;
  const isPlain = !filter.q && !filter.tag && !filter.of && !filter.standing;
  const isEmpty = !found.isLoading && !found.isFetching && source.count === 0;
  return (
    <>
      <Narrowing filter={filter} isLooking={found.isFetching} onChange={onNarrow} />
      {found.error !== undefined && <Wrong error={found.error} again={found.refetch} />}
      {found.isLoading && <Ghost lines={8} />}
      {isEmpty && found.error === undefined && <Nobody isPlain={isPlain} filter={filter} />}
      {source.count > 0 && (
        <Table
          name="people"
          label="People"
          place={list}
          columns={columns}
          source={source}
          keyOf={({ id }) => id}
          selection={
            mayChange
              ? {
                  has: choosing.has,
                  toggle: choosing.toggle,
                  all: chosen.all,
                  onAll: (on) => (on ? choosing.all() : choosing.none()),
                  nameOf,
                  bar: size > 0 && <SelectionBar {...{ filter, choosing, size, total }} />,
                }
              : undefined
          }
        />
      )}
    </>
  );
}

function Nobody({ isPlain, filter }: { readonly isPlain: boolean; readonly filter: Filter }) {
  const seesAll = useSeesEverybody();
  if (isPlain && !seesAll)
    return (
      <Empty title="Nobody is in your care yet">
        A coordinator hands people over to you, or you enter one as a new contact.
      </Empty>
    );
  if (isPlain)
    return (
      <Empty title="Nobody is here yet">
        Contacts come in from a spreadsheet or by hand. <Link to="/intake">Import a list</Link>
      </Empty>
    );
  return (
    <Empty title="Nobody fits">
      {filter.of && !filter.q && !filter.tag && !filter.standing
        ? 'There is nobody behind this number any more.'
        : 'Try fewer letters, or take the tag away.'}
    </Empty>
  );
}
