// The head of a table: names that sort, edges that are dragged, or what to do with what is chosen.
import { Checkbox, Table, UnstyledButton } from '@mantine/core';
import { IconArrowDown, IconArrowUp } from '@tabler/icons-react';
import { Arrange } from './Arrange';
import type { Pinned } from './Body';
import type { Column, Selection } from './column';
import type { Model } from './model';
import classes from './Table.module.css';

const orders = { asc: 'ascending', desc: 'descending' } as const;

interface HeadProps<R> {
  readonly model: Model<R>;
  readonly columns: ReadonlyMap<string, Column<R>>;
  readonly selection: Selection<R> | undefined;
  readonly pinned: Pinned;
}

export function Head<R>({ model, columns, selection, pinned }: HeadProps<R>) {
  const headers = model.getHeaderGroups()[0]?.headers ?? [];
  if (selection?.bar)
    return (
      <Table.Thead className={classes.head}>
        <Table.Tr>
          <Table.Th colSpan={headers.length + 2} className={classes.bar}>
            {selection.bar}
          </Table.Th>
        </Table.Tr>
      </Table.Thead>
    );
  return (
    <Table.Thead className={classes.head}>
      <Table.Tr>
        {selection && (
          <Table.Th className={classes.choose}>
            <Checkbox
              aria-label="Choose everybody"
              checked={selection.all}
              onChange={(event) => selection.onAll(event.currentTarget.checked)}
            />
          </Table.Th>
        )}
        {headers.map((header) => {
          const { column } = header;
          const order = column.getIsSorted();
          const own = columns.get(column.id);
          return (
            <Table.Th
              key={header.id}
              scope="col"
              aria-sort={order ? orders[order] : undefined}
              className={`${own?.end ? classes.end : ''} ${pinned.has(column.id) ? classes.pinned : ''}`}
              style={pinned.has(column.id) ? { left: pinned.get(column.id) } : undefined}
            >
              {column.getCanSort() ? (
                <UnstyledButton
                  className={classes.sort}
                  title="Sort; with Shift, after what it is sorted by already"
                  onClick={(event) => column.toggleSorting(undefined, event.shiftKey)}
                >
                  {own?.name}
                  {order === 'asc' && <IconArrowUp size={13} aria-hidden />}
                  {order === 'desc' && <IconArrowDown size={13} aria-hidden />}
                  {order && model.state.sorting.length > 1 && (
                    <small>{column.getSortIndex() + 1}</small>
                  )}
                </UnstyledButton>
              ) : (
                own?.name
              )}
              <span
                aria-hidden
                className={classes.edge}
                data-resizing={column.getIsResizing() || undefined}
                onPointerDown={header.getResizeHandler()}
                onDoubleClick={() => column.resetSize()}
              />
            </Table.Th>
          );
        })}
        <Table.Th className={classes.arrange}>
          <Arrange model={model} />
        </Table.Th>
      </Table.Tr>
    </Table.Thead>
  );
}
