// The people of a list, stretch by stretch, as they come into sight.
import type { PersonRow } from '@palabra/contract/contacts';
import { useState } from 'react';
import type { PagedRows } from '../ui/table';
import { parseSort, sortText } from '@palabra/core/contacts';
import { useLazyPeopleQuery, usePeopleQuery } from './contacts.api';
import { filterOf, type ListPlace } from './filter';

const STRETCH = 100;

export interface PeopleList {
  readonly source: PagedRows<PersonRow>;
  /** The rows that have come. */
  readonly known: readonly PersonRow[];
  readonly isLoading: boolean;
  readonly isFetching: boolean;
  readonly error: unknown;
  readonly refetch: () => void;
}

/** `total` is how many there are, once that is known; until then, what has come. */
export function usePeopleList(
  place: ListPlace,
  columns: readonly string[],
  total: number | undefined,
  onSort: (sort: string) => void,
): PeopleList {
  const wanted = {
    ...filterOf(place),
    sort: place.sort,
    columns: columns.length === 0 ? undefined : columns.join(','),
  };
  const list = JSON.stringify(wanted);
  const [sight, setSight] = useState({ of: list, first: 0 });
  const first = sight.of === list ? sight.first : 0;
  const [load] = useLazyPeopleQuery();
  const ask = (stretch: number) => ({ ...wanted, from: stretch * STRETCH, limit: STRETCH });
  const one = usePeopleQuery(ask(first));
  const isMore = total === undefined ? false : (first + 1) * STRETCH < total;
  const two = usePeopleQuery(ask(first + 1), { skip: !isMore });
  const rows = one.currentData?.rows ?? (one.isFetching ? one.data?.rows : undefined) ?? [];
  const known = rows.length + (two.currentData?.rows.length ?? 0);
  return {
    source: {
      count: total ?? first * STRETCH + known,
      at: (index) => {
        const within = index - first * STRETCH;
        return within < STRETCH ? rows[within] : two.currentData?.rows[within - STRETCH];
      },
      onSight: (from) => setSight({ of: list, first: Math.floor(from / STRETCH) }),
      load: async (from, to) => {
        const found: PersonRow[] = [];
        for (let at = Math.floor(from / STRETCH); at * STRETCH <= to; at++)
          found.push(...(await load(ask(at), true).unwrap()).rows);
        const start = Math.floor(from / STRETCH) * STRETCH;
        return found.slice(from - start, to - start + 1);
      },
      sorting: (parseSort(place.sort ?? '') ?? []).map(({ key, desc }) => ({ id: key, desc })),
      onSort: (terms) => onSort(sortText(terms.map(({ id, desc }) => ({ key: id, desc })))),
    },
    known: [...rows, ...(two.currentData?.rows ?? [])],
    isLoading: one.isLoading,
    isFetching: one.isFetching || two.isFetching,
    error: one.error ?? two.error,
    refetch: () => void one.refetch(),
  };
}
