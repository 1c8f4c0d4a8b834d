// The arrangement of a table, as the person left it: which columns, in which order, how wide, which stay in sight, sorted by what.
import {
  columnOrderingFeature,
  columnPinningFeature,
  columnResizingFeature,
  columnSizingFeature,
  columnVisibilityFeature,
  createSortedRowModel,
  rowSortingFeature,
  sortFn_basic,
  tableFeatures,
  useTable,
  type ColumnDef,
  type ReactTable,
} from '@tanstack/react-table';
import { useLocalStorage } from '@mantine/hooks';
import { useMemo } from 'react';
import {
  LEAST,
  NARROWEST,
  type Column,
  type PagedRows,
  type Sorting,
  type TableArrangement,
} from './column';

const features = tableFeatures({
  columnVisibilityFeature,
  columnOrderingFeature,
  columnPinningFeature,
  columnSizingFeature,
  columnResizingFeature,
  rowSortingFeature,
  sortedRowModel: createSortedRowModel(),
});

interface Arrangement extends TableArrangement {
  readonly sorting: readonly Sorting[];
}

/** An arrangement that is held elsewhere: by a view. */
export interface Arranged {
  readonly value: Partial<TableArrangement>;
  readonly onChange: (value: TableArrangement) => void;
}

export type Model<R> = ReactTable<typeof features, { readonly row: R }>;

const next = <T>(updater: T | ((before: T) => T), before: T): T =>
  typeof updater === 'function' ? (updater as (before: T) => T)(before) : updater;

/** What was kept may name columns that are gone, and not name new ones. */
function fitting<R>(kept: Partial<Arrangement>, columns: readonly Column<R>[]): Arrangement {
  const ids = new Set(columns.map(({ id }) => id));
  const known = (all: readonly string[] | undefined): string[] =>
    (all ?? []).filter((id) => ids.has(id));
  const order = known(kept.order);
  return {
    order: [...order, ...[...ids].filter((id) => !order.includes(id))],
    shown: {
      ...Object.fromEntries(columns.map(({ id, hidden }) => [id, hidden !== true])),
      ...kept.shown,
      ...Object.fromEntries(columns.filter(({ fixed }) => fixed).map(({ id }) => [id, true])),
    },
    widths: kept.widths ?? {},
    pinned: known(kept.pinned),
    sorting: (kept.sorting ?? []).filter(({ id }) => ids.has(id)),
  };
}

export function useTableModel<R>(
  name: string,
  columns: readonly Column<R>[],
  rows: readonly R[],
  keyOf: (row: R) => string | number,
  paged: PagedRows<R> | undefined,
  arranged: Arranged | undefined,
): Model<R> {
  const [own, keepOwn] = useLocalStorage<Partial<Arrangement>>({
    key: `palabra.table.${name}`,
    defaultValue: {},
    getInitialValueInEffect: false,
  });
  const now = fitting(arranged ? { ...arranged.value, sorting: [] } : own, columns);
  const put = (part: Partial<TableArrangement>): void => {
    const { sorting, ...rest } = { ...now, ...part };
    if (arranged) arranged.onChange(rest);
    else keepOwn({ ...rest, sorting });
  };
  const sorting = paged?.sorting ?? now.sorting;
  const sort = (next: readonly Sorting[]): void =>
    paged ? paged.onSort(next) : keepOwn({ ...now, sorting: next });
  const isPaged = paged !== undefined;
  const definitions = useMemo(
    () =>
      columns.map((column): ColumnDef<typeof features, { readonly row: R }> => ({
        id: column.id,
        header: column.name,
        accessorFn: ({ row }) => column.sort?.(row) ?? undefined,
        enableSorting: isPaged ? column.isSortable === true : column.sort !== undefined,
        sortDescFirst: false,
        enableHiding: column.fixed !== true,
        sortFn: sortFn_basic,
        sortUndefined: 'last',
        size: column.width ?? LEAST,
        minSize: NARROWEST,
      })),
    [columns, isPaged],
  );
  const data = useMemo(() => rows.map((row) => ({ row })), [rows]);
  return useTable({
    features,
    columns: definitions,
    data,
    getRowId: ({ row }) => String(keyOf(row)),
    columnResizeMode: 'onChange',
    autoResetAll: false,
    manualSorting: isPaged,
    maxMultiSortColCount: 4,
    state: {
      columnOrder: [...now.order],
      columnVisibility: { ...now.shown },
      columnSizing: { ...now.widths },
      columnPinning: { start: [...now.pinned], end: [] },
      sorting: [...sorting],
    },
    onColumnOrderChange: (updater) => put({ order: next(updater, [...now.order]) }),
    onColumnVisibilityChange: (updater) => put({ shown: next(updater, { ...now.shown }) }),
    onColumnSizingChange: (updater) => put({ widths: next(updater, { ...now.widths }) }),
    onColumnPinningChange: (updater) =>
      put({ pinned: next(updater, { start: [...now.pinned], end: [] }).start }),
    onSortingChange: (updater) => sort(next(updater, [...sorting])),
  });
}
