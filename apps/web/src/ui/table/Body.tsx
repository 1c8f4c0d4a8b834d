// The rows in sight.
import { Checkbox, Skeleton, Table } from '@mantine/core';
import { useCallbackRef } from '@mantine/hooks';
import type { VirtualItem } from '@tanstack/react-virtual';
import { memo, useRef, type KeyboardEvent } from 'react';
import type { Column, Selection } from './column';
import { EditedCell } from './EditedCell';
import classes from './Table.module.css';

interface BodyProps<R> {
  readonly columns: readonly Column<R>[];
  readonly at: (index: number) => R | undefined;
  readonly count: number;
  /** The rows to draw, and the room of those above and below, in px. */
  readonly items: readonly Pick<VirtualItem, 'index'>[];
  readonly above: number;
  readonly below: number;
  readonly rowHeight: number;
  readonly keyOf: (row: R) => string | number;
  readonly selection: Selection<R> | undefined;
  readonly chooseRange: (from: number, to: number, on: boolean) => void;
  readonly bring: (index: number) => void;
  /** How far from the edge a column stays that is kept in sight, in px. */
  readonly pinned: Pinned;
}
export type Pinned = ReadonlyMap<string, number>;

const focusable = 'a[href], button, input, [data-edit]';

export function Body<R>(props: BodyProps<R>) {
  const { columns, at, count, items, above, below, rowHeight, keyOf, selection, pinned } = props;
  const body = useRef<HTMLTableSectionElement>(null);
  const last = useRef<number | undefined>(undefined);
  const width = columns.length + (selection ? 2 : 1);

  /** Up and down between rows, in the column one is in; Space chooses the row. */
  const keys = (event: KeyboardEvent): void => {
    const from = event.target as HTMLElement;
    const index = Number(from.closest('tr')?.dataset['index']);
    if (Number.isNaN(index) || event.altKey || event.ctrlKey || event.metaKey) return;
    const isText = from instanceof HTMLInputElement && from.type !== 'checkbox';
    if (isText) return;
    if (event.key === ' ' && from instanceof HTMLAnchorElement && selection) {
      const row = at(index);
      if (row === undefined) return;
      event.preventDefault();
      return selection.toggle([row], !selection.has(row));
    }
    const steps: Partial<Record<string, number>> = {
      ArrowDown: index + 1,
      ArrowUp: index - 1,
      Home: 0,
      End: count - 1,
    };
    if (event.key === 'ArrowLeft' || event.key === 'ArrowRight') {
      const by = event.key === 'ArrowRight' ? 1 : -1;
      const row = from.closest('tr');
      for (let at = (from.closest('td')?.cellIndex ?? 0) + by; row?.cells[at]; at += by) {
        const target = row.cells[at]?.querySelector<HTMLElement>(focusable);
        if (!target) continue;
        event.preventDefault();
        return target.focus();
      }
      return;
    }
    const to = steps[event.key];
    if (to === undefined || to < 0 || to >= count) return;
    event.preventDefault();
    const cell = from.closest('td')?.cellIndex ?? 0;
    props.bring(to);
    const focus = (tries: number): void => {
      const row = body.current?.querySelector<HTMLTableRowElement>(`tr[data-index="${to}"]`);
      const target =
        row?.cells[cell]?.querySelector<HTMLElement>(focusable) ??
        row?.querySelector<HTMLElement>('a[href]');
      if (target) target.focus();
      else if (tries > 0) requestAnimationFrame(() => focus(tries - 1));
    };
    focus(20);
  };
  const choose = useCallbackRef((index: number, on: boolean, isRange: boolean): void => {
    const from = isRange && last.current !== undefined ? last.current : index;
    props.chooseRange(Math.min(from, index), Math.max(from, index), on);
    last.current = index;
  });

  return (
    <Table.Tbody ref={body} onKeyDown={keys}>
      {above > 0 && (
        <tr aria-hidden>
          <td colSpan={width} style={{ height: above }} />
        </tr>
      )}
      {items.map(({ index }) => {
        const row = at(index);
        return (
          <Row
            key={row === undefined ? `at ${index}` : keyOf(row)}
            index={index}
            row={row}
            columns={columns}
            pinned={pinned}
            height={rowHeight}
            isChosen={selection && row !== undefined ? selection.has(row) : undefined}
            name={selection && row !== undefined ? selection.nameOf(row) : undefined}
            isChoosing={selection !== undefined}
            onChoose={choose}
          />
        );
      })}
      {below > 0 && (
        <tr aria-hidden>
          <td colSpan={width} style={{ height: below }} />
        </tr>
      )}
    </Table.Tbody>
  );
}

interface RowProps<R> {
  readonly index: number;
  /** Undefined while it is on its way. */
  readonly row: R | undefined;
  readonly columns: readonly Column<R>[];
  readonly pinned: Pinned;
  readonly height: number;
  readonly isChoosing: boolean;
  readonly isChosen: boolean | undefined;
  readonly name: string | undefined;
  readonly onChoose: (index: number, on: boolean, isRange: boolean) => void;
}

function RowIn<R>({
  index,
  row,
  columns,
  pinned,
  height,
  isChoosing,
  isChosen,
  name,
  onChoose,
}: RowProps<R>) {
  return (
    <Table.Tr
      data-index={index}
      aria-rowindex={index + 2}
      aria-selected={isChosen}
      className={classes.row}
      style={{ height }}
    >
      {isChoosing && (
        <Table.Td className={classes.choose}>
          {isChosen !== undefined && (
            <Checkbox
              aria-label={`Choose ${name}`}
              checked={isChosen}
              onChange={(event) =>
                onChoose(
                  index,
                  event.currentTarget.checked,
                  (event.nativeEvent as MouseEvent).shiftKey,
                )
              }
            />
          )}
        </Table.Td>
      )}
      {columns.map((column) => (
        <Table.Td
          key={column.id}
          title={row === undefined ? undefined : column.title?.(row)}
          className={`${column.end ? classes.end : ''} ${pinned.has(column.id) ? classes.pinned : ''}`}
          style={pinned.has(column.id) ? { left: pinned.get(column.id) } : undefined}
        >
          {row === undefined ? (
            <Skeleton h={10} w="70%" />
          ) : column.edit ? (
            <EditedCell row={row} edit={column.edit}>
              {column.view(row)}
            </EditedCell>
          ) : (
            column.view(row)
          )}
        </Table.Td>
      ))}
      <Table.Td />
    </Table.Tr>
  );
}

/** Drawn again only when something of it changes: a key or a click concerns few rows of many. */
const Row = memo(RowIn) as typeof RowIn;
