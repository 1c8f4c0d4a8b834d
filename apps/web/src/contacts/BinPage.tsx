// People who were deleted, for thirty days: found again, and brought back.
import { Button, TextInput } from '@mantine/core';
import { IconSearch } from '@tabler/icons-react';
import { useState } from 'react';
import { Link } from 'react-router';
import { useMay, useOffice } from '../office';
import { command } from '../ui/command';
import { count, people } from '../ui/numbers';
import { Page } from '../ui/Page';
import { Row, Rows } from '../ui/Rows';
import { useSearch } from '../ui/search';
import { Empty, Ghost, Wrong } from '../ui/states';
import { Act, Soft } from '../ui/text';
import { day, dayAndClock } from '../ui/time';
import { useBinQuery, useBringBackMutation } from './contacts.api';
import { EraseDialog } from './erasing/EraseDialog';

const PAGE = 100;

export function BinPage() {
  const [search, setSearch] = useSearch();
  const q = search.get('q') ?? '';
  const from = Math.max(0, Number(search.get('from')) || 0);
  const found = useBinQuery({ q: q === '' ? undefined : q, from, limit: PAGE });
  const { data } = found;
  const go = (next: Record<string, string>): void => setSearch(next, { replace: 'q' in next });
  return (
    <Page
      title="The bin"
      sub={
        data
          ? `${people(data.total)} deleted in the last thirty days; after that they are gone for good`
          : ''
      }
      actions={
        <Button component={Link} to="/contacts" variant="default">
          To the contacts
        </Button>
      }
    >
      <TextInput
        type="search"
        variant="line"
        w={260}
        mb="sm"
        leftSection={<IconSearch size={15} aria-hidden />}
        leftSectionWidth={24}
        aria-label="Search in the bin"
        placeholder="name or address"
        maxLength={200}
        value={q}
        onChange={(event) => go({ q: event.currentTarget.value })}
      />
      {found.isError && <Wrong error={found.error} again={() => void found.refetch()} />}
      {found.isLoading && <Ghost lines={6} />}
      {data?.rows.length === 0 && (
        <Empty title={q === '' ? 'The bin is empty' : 'Nobody fits'}>
          {q === ''
            ? 'Whoever is deleted waits here for thirty days and can be brought back.'
            : 'Try fewer letters.'}
        </Empty>
      )}
      <Rows>
        {data?.rows.map((row) => (
          <BinLine key={row.id} {...row} />
        ))}
      </Rows>
      {data && (from > 0 || from + PAGE < data.total) && (
        <p>
          <Act
            disabled={from === 0}
            onClick={() => go({ q, from: String(Math.max(0, from - PAGE)) })}
          >
            Later
          </Act>{' '}
          <Soft>
            {count(from + 1)} to {count(Math.min(from + PAGE, data.total))} of {count(data.total)}
          </Soft>{' '}
          <Act
            disabled={from + PAGE >= data.total}
            onClick={() => go({ q, from: String(from + PAGE) })}
          >
            Earlier
          </Act>
        </p>
      )}
    </Page>
  );
}

function BinLine({
  id,
  name,
  address,
  deletedAt,
  until,
  by,
}: {
  readonly id: number;
  readonly name: string;
  readonly address: string | null;
  readonly deletedAt: string;
  readonly until: string;
  readonly by: string | null;
}) {
  const { office } = useOffice();
  const may = useMay('change people');
  const mayErase = useMay('erase people');
  const [isErasing, setErasing] = useState(false);
  const [bringBack, state] = useBringBackMutation();
  return (
    <Row
      when={dayAndClock(office.timeZone, deletedAt)}
      end={
        <>
          {mayErase && (
            <Act c="var(--wrong)" aria-label={`Erase ${name}`} onClick={() => setErasing(true)}>
              Erase
            </Act>
          )}
          {may && (
            <Act
              loading={state.isLoading}
              aria-label={`Bring back ${name}`}
              onClick={() =>
                void command({
                  run: () => bringBack(id).unwrap(),
                  says: () => (
                    <>
                      <Link to={`/contacts/${id}`}>{name}</Link> is back.
                    </>
                  ),
                })
              }
            >
              Bring back
            </Act>
          )}
          {isErasing && <EraseDialog id={id} name={name} onClose={() => setErasing(false)} />}
        </>
      }
    >
      <b>{name}</b> {address && address !== name && <Soft>{address} </Soft>}
      <Soft>
        {by ? `deleted by ${by}` : 'deleted'}, until {day(office.timeZone, until)}
      </Soft>
    </Row>
  );
}
