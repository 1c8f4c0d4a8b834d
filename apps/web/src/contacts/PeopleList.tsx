// A list of people: searched, narrowed, sorted, chosen from, changed in its cells.
import { useCallbackRef } from '@mantine/hooks';
import type { PersonRow } from '@palabra/contract/contacts';
import { formatFieldValue, offered, type Field } from '@palabra/core/contacts';
import { useMemo, useState, type ReactNode } from 'react';
import { useMay } from '../office';
import { Ghost, Wrong } from '../ui/states';
import { Act } from '../ui/text';
import { Table, type CellEdit, type TableArrangement } from '../ui/table';
import { columnsShown, nameOf, usePeopleColumns } from './columns';
import {
  useChangeContactMutation,
  useVocabularyQuery,
  useWhichQuery,
  type Filter,
} from './contacts.api';
import { filterOf, placeText, type ListPlace } from './filter';
import { Narrowing } from './Narrowing';
import { Nobody } from './Nobody';
import { isWithin, sizeOf, useChoosing, type Chosen, type Meant } from './selection';
import { SelectionBar } from './SelectionBar';
import { TakeOut } from './TakeOut';
import { usePeopleList } from './usePeople';

interface PeopleListProps {
  readonly place: ListPlace;
  /** How many there are, once that is known. */
  readonly total: number | undefined;
  readonly arranged: {
    readonly value: Partial<TableArrangement>;
    readonly onChange: (value: TableArrangement) => void;
  };
  readonly onChange: (change: Partial<ListPlace>) => void;
  /** Further ways to narrow, in the row over the list and under it. */
  readonly narrowing?: ReactNode;
  readonly below?: ReactNode;
  /** What else can be done with whom one has chosen. */
  readonly further?: (meant: Meant, size: number) => ReactNode;
}

const NO_FIELDS: readonly Field[] = [];

export function PeopleList({
  place,
  total,
  arranged,
  onChange,
  narrowing,
  below,
  further,
}: PeopleListProps) {
  const list = placeText(place);
  const filter = filterOf(place);
  const mayChange = useMay('change people');
  const fields = useVocabularyQuery().data?.fields ?? NO_FIELDS;
  const columns = usePeopleColumns(list, useCellEdits(mayChange));
  const shown = columnsShown(fields, arranged.value);
  const found = usePeopleList(place, shown, total, (sort) =>
    onChange({ sort: sort === '' ? 'name' : sort }),
  );
  const { source } = found;
  const choosing = useChoosing(filter, total ?? 0);
  const { chosen } = choosing;
  const wasIn = useWasIn(filter, chosen, found.known);
  const [isTaking, setTaking] = useState(false);
  const size = sizeOf(chosen);
  const isEmpty = !found.isLoading && !found.isFetching && source.count === 0;
  const bar = size > 0 && (
    <SelectionBar {...{ filter, choosing, size, total, further, shown }} sort={place.sort} />
  );
  return (
    <>
      <Narrowing
        filter={filter}
        isLooking={found.isFetching}
        onChange={(change: Partial<Filter>) => onChange(change)}
      >
        {narrowing}
        {mayChange && total !== undefined && total > 0 && (
          <Act onClick={() => setTaking(true)}>take out as a file</Act>
        )}
      </Narrowing>
      {below}
      {isTaking && (
        <TakeOut
          meant={filter}
          size={total ?? 0}
          sort={place.sort}
          shown={shown}
          onClose={() => setTaking(false)}
        />
      )}
      {found.error !== undefined && <Wrong error={found.error} again={found.refetch} />}
      {found.isLoading && <Ghost lines={8} />}
      {isEmpty && found.error === undefined && (
        <>
          {bar}
          <Nobody filter={filter} />
        </>
      )}
      {source.count > 0 && (
        <Table
          name="people"
          label="People"
          place={list}
          columns={columns}
          source={source}
          arranged={arranged}
          keyOf={({ id }) => id}
          selection={
            mayChange
              ? {
                  has: (row) => choosing.has(row, wasIn),
                  toggle: choosing.toggle,
                  all: chosen.all && chosen.except.size === 0 && isWithin(filter, chosen.of),
                  onAll: (on) => (on ? choosing.all() : choosing.none()),
                  nameOf,
                  bar,
                }
              : undefined
          }
        />
      )}
    </>
  );
}

const NOBODY: ReadonlySet<number> = new Set();

/** Who of the rows that have come was in the list of which everybody was chosen, where this one does not tell. */
function useWasIn(filter: Filter, chosen: Chosen, rows: readonly PersonRow[]) {
  const other = chosen.all && !isWithin(filter, chosen.of) ? chosen.of : undefined;
  const ids = other === undefined ? [] : rows.map(({ id }) => id);
  const { data } = useWhichQuery({ ...other, ids }, { skip: ids.length === 0 });
  const found = useMemo(() => (data ? new Set(data.ids) : NOBODY), [data]);
  return (id: number): boolean => other !== undefined && found.has(id);
}

const notInCell: ReadonlySet<string> = new Set(['permission', 'owner', 'shared_with']);

/** How each field is changed in its cell; the same between renders. */
function useCellEdits(
  mayChange: boolean,
): ((field: Field) => CellEdit<PersonRow> | undefined) | undefined {
  const [change] = useChangeContactMutation();
  const save = useCallbackRef(async (row: PersonRow, key: string, text: string): Promise<void> => {
    await change({ id: row.id, version: row.version, values: { [key]: text } }).unwrap();
  });
  return useMemo(
    () =>
      mayChange
        ? (field) =>
            field.isFact || notInCell.has(field.key) || field.type === 'long text'
              ? undefined
              : {
                  label: (row) => `${field.label} of ${nameOf(row)}`,
                  text: (row) => formatFieldValue(field, row.values[field.key] ?? null),
                  ...(field.choices ? { offered: offered(field).map(({ label }) => label) } : {}),
                  save: (row, text) => save(row, field.key, text),
                }
        : undefined,
    [mayChange, save],
  );
}
