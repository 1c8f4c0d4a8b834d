// The one table: columns as data, arranged by who uses it; rows that are here, or come stretch by stretch as they are scrolled to.
import { Table as Drawn } from '@mantine/core';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useEffectEvent, useMemo, useRef } from 'react';
import { leastWidth } from './Arrange';
import { Body, type Pinned } from './Body';
import type { Column, Selection, Source } from './column';
import { Head } from './Head';
import { useTableModel, type Arranged } from './model';
import classes from './Table.module.css';

interface TableProps<R> {
  /** What the arrangement is kept under. */
  readonly name: string;
  readonly label: string;
  readonly columns: readonly Column<R>[];
  readonly source: Source<R>;
  readonly keyOf: (row: R) => string | number;
  readonly selection?: Selection<R>;
  /** In px. */
  readonly rowHeight?: number;
  /** How it is arranged, where that is held elsewhere. */
  readonly arranged?: Arranged;
  /** Where one was in the list comes back with this list. */
  readonly place?: string;
}

/** More rows than this scroll in a frame of their own, and only those in sight are drawn. */
const FEW = 60;
const CHOOSE = 34;

const placeIn = (key: string | undefined): number =>
  Number(key === undefined ? 0 : (sessionStorage.getItem(key) ?? 0));

export function Table<R>({
  name,
  label,
  columns,
  source,
  keyOf,
  selection,
  rowHeight = 36,
  arranged,
  place,
}: TableProps<R>) {
  const frame = useRef<HTMLDivElement>(null);
  const isPaged = 'count' in source;
  const rows = isPaged ? none : source.rows;
  const model = useTableModel(name, columns, rows, keyOf, isPaged ? source : undefined, arranged);
  const known = useMemo(() => new Map(columns.map((column) => [column.id, column])), [columns]);
  const sorted = model.getRowModel().rows;
  const count = isPaged ? source.count : sorted.length;
  const at = (index: number): R | undefined =>
    isPaged ? source.at(index) : sorted[index]?.original.row;
  const isLong = count > FEW;
  const placeKey = place === undefined ? undefined : `palabra.place.${name}.${place}`;

  // eslint-disable-next-line react-hooks/incompatible-library -- nothing here is memoized by a compiler
  const virtual = useVirtualizer({
    count,
    enabled: isLong,
    getScrollElement: () => frame.current,
    estimateSize: () => rowHeight,
    overscan: 12,
    initialOffset: () => placeIn(placeKey),
  });
  const items = isLong
    ? virtual.getVirtualItems()
    : Array.from({ length: count }, (_, index) => ({ index }));
  const first = items[0]?.index ?? 0;
  const lastSeen = items.at(-1)?.index ?? 0;
  const sight = useEffectEvent(() => {
    if (isPaged) source.onSight(first, lastSeen);
  });
  useEffect(() => {
    sight();
  }, [first, lastSeen, count]);
  // Another list begins at its beginning, or where one was in it.
  const shownPlace = useRef(placeKey);
  useEffect(() => {
    if (frame.current && shownPlace.current !== placeKey)
      frame.current.scrollTop = placeIn(placeKey);
    shownPlace.current = placeKey;
  }, [placeKey]);
  useEffect(() => {
    const own = frame.current;
    if (placeKey === undefined || !own) return undefined;
    const remember = (): void => sessionStorage.setItem(placeKey, String(own.scrollTop));
    own.addEventListener('scrollend', remember);
    return () => own.removeEventListener('scrollend', remember);
  }, [placeKey, isLong]);

  const shown = model.getVisibleLeafColumns();
  const arrangement = JSON.stringify(
    shown.map((column) => [column.id, column.getIsPinned() ? column.getSize() : null]),
  );
  const { own, pinned } = useMemo(
    () => layOut(arrangement, known, selection ? CHOOSE : 0),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- only whether there is a selection counts
    [arrangement, known, selection !== undefined],
  );
  const chooseRange = (from: number, to: number, on: boolean): void => {
    const here = Array.from({ length: to - from + 1 }, (_, step) => at(from + step));
    const loaded = here.filter((row) => row !== undefined);
    if (loaded.length === here.length) selection?.toggle(loaded, on);
    else if (isPaged) void source.load(from, to).then((all) => selection?.toggle(all, on));
  };
  const total = virtual.getTotalSize();
  const above = isLong ? first * rowHeight : 0;
  return (
    <div
      ref={frame}
      className={`${classes.frame} ${isLong ? classes.long : ''}`}
      style={{ '--least': `${leastWidth(model, selection !== undefined)}px` }}
    >
      <Drawn
        aria-label={label}
        aria-rowcount={count + 1}
        layout="fixed"
        className={classes.table}
        verticalSpacing={0}
      >
        <colgroup>
          {selection && <col style={{ width: CHOOSE }} />}
          {shown.map((column) => {
            const isLeft =
              known.get(column.id)?.width === undefined &&
              !Object.hasOwn(model.state.columnSizing, column.id);
            return <col key={column.id} style={isLeft ? undefined : { width: column.getSize() }} />;
          })}
          <col style={{ width: 28 }} />
        </colgroup>
        <Head model={model} columns={known} selection={selection} pinned={pinned} />
        <Body
          columns={own}
          at={at}
          count={count}
          items={items}
          above={above}
          below={isLong ? Math.max(0, total - above - items.length * rowHeight) : 0}
          rowHeight={rowHeight}
          keyOf={keyOf}
          selection={selection}
          chooseRange={chooseRange}
          bring={(index) => isLong && virtual.scrollToIndex(index)}
          pinned={pinned}
        />
      </Drawn>
    </div>
  );
}

const none: readonly never[] = [];

/** The columns as they stand now, and how far from the edge those are that stay in sight. */
function layOut<R>(
  arrangement: string,
  known: ReadonlyMap<string, Column<R>>,
  start: number,
): { readonly own: readonly Column<R>[]; readonly pinned: Pinned } {
  const pinned = new Map<string, number>();
  let left = start;
  const own = (JSON.parse(arrangement) as [string, number | null][]).flatMap(([id, width]) => {
    if (width !== null) {
      pinned.set(id, left);
      left += width;
    }
    return known.get(id) ?? [];
  });
  return { own, pinned };
}
