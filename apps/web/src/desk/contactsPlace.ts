// Where one is among the contacts: what the address says, the view it is of, and how the table is arranged there.
import { useLocalStorage } from '@mantine/hooks';
import type { ViewLine } from '@palabra/contract/segments';
import type { Arrangement } from '@palabra/core/segments';
import { placeText, readPlace, type ListPlace } from '../contacts';
import { useViewsQuery } from '../segments';
import { useSearch } from '../ui/search';
import type { TableArrangement } from '../ui/table';

export interface ContactsPlace {
  readonly place: ListPlace;
  readonly views: readonly ViewLine[];
  readonly view: ViewLine | undefined;
  readonly isViewGone: boolean;
  readonly isWaiting: boolean;
  /** The address that is really meant: that of the view one begins with, or all that a view says. */
  readonly to: string | undefined;
  /** It is no longer as the view was kept. */
  readonly isChanged: boolean;
  readonly arranged: {
    readonly value: Partial<TableArrangement>;
    readonly onChange: (value: TableArrangement) => void;
  };
  /** The arrangement as it would be kept. */
  readonly asKept: () => Arrangement;
  readonly narrow: (change: Partial<ListPlace>) => void;
  readonly drop: () => void;
  /** What was changed is kept now, or not wanted. */
  readonly settle: () => void;
}

const BY_NAME = 'name';

/** All that a view says, as an address says it. */
export const placeOfView = ({ id, filter, arrangement }: ViewLine): ListPlace => ({
  view: id,
  pool: arrangement.pool,
  q: arrangement.q,
  tag: arrangement.tag,
  standing: arrangement.standing,
  filter: filter ?? undefined,
  // That it is there tells an address with changes from one that only names the view.
  sort: arrangement.sort === '' ? BY_NAME : arrangement.sort,
});

const tableOf = ({ order, shown, widths, pinned }: Arrangement): Partial<TableArrangement> =>
  shown.length === 0
    ? {}
    : {
        order,
        shown: Object.fromEntries(order.map((id) => [id, shown.includes(id)])),
        widths,
        pinned,
      };

export function useContactsPlace(): ContactsPlace {
  const [search, setSearch] = useSearch();
  const { data: views, isLoading } = useViewsQuery();
  const place = readPlace(search);
  const view = views?.find(({ id }) => id === place.view);
  const [own, setOwn] = useLocalStorage<Partial<TableArrangement> | null>({
    key: `palabra.contacts.${view?.id ?? 'plain'}`,
    defaultValue: null,
    getInitialValueInEffect: false,
  });
  const value = own ?? (view ? tableOf(view.arrangement) : {});
  const begins = views?.find(({ isStart }) => isStart);
  const isBare = search.toString() === '';
  const meant =
    isBare && begins
      ? placeOfView(begins)
      : view && place.sort === undefined
        ? placeOfView(view)
        : undefined;
  return {
    place,
    views: views ?? [],
    view,
    isViewGone: place.view !== undefined && views !== undefined && !view,
    isWaiting: isLoading && (isBare || place.view !== undefined),
    to: meant && `/contacts${placeText(meant)}`,
    isChanged:
      view !== undefined &&
      (placeText(place) !== placeText(placeOfView(view)) ||
        (own !== null && JSON.stringify(own) !== JSON.stringify(tableOf(view.arrangement)))),
    arranged: { value, onChange: setOwn },
    asKept: () => ({
      order: value.order ?? [],
      shown: Object.entries(value.shown ?? {}).flatMap(([id, is]) => (is ? [id] : [])),
      widths: value.widths ?? {},
      pinned: value.pinned ?? [],
      sort: place.sort ?? '',
      ...(place.pool === undefined ? {} : { pool: place.pool }),
      ...(place.q === undefined ? {} : { q: place.q }),
      ...(place.tag === undefined ? {} : { tag: place.tag }),
      ...(place.standing === undefined ? {} : { standing: place.standing }),
    }),
    narrow: (change) =>
      setSearch(new URLSearchParams(placeText({ ...place, ...change })), {
        // A search is one step back, however it was typed.
        replace: 'q' in change && place.q !== undefined,
      }),
    drop: () => {
      setOwn(null);
      if (view) setSearch(new URLSearchParams(placeText(placeOfView(view))));
    },
    settle: () => setOwn(null),
  };
}
