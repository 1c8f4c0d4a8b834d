// Which columns, in which order, how wide, and which of them stay in sight: by mouse and by keys.
import { ActionIcon, Checkbox, Group, Popover, Stack } from '@mantine/core';
import {
  IconArrowDown,
  IconArrowUp,
  IconColumns3,
  IconMinus,
  IconPin,
  IconPinFilled,
  IconPlus,
} from '@tabler/icons-react';
import { LEAST } from './column';
import type { Model } from './model';
import classes from './Table.module.css';

const STEP = 24;

export function Arrange<R>({ model }: { readonly model: Model<R> }) {
  const ids = model.state.columnOrder;
  const isShown = (id: string): boolean => model.getColumn(id)?.getIsVisible() === true;
  /** Past the next one; a column that is shown also past those between that are not. */
  const move = (id: string, by: 1 | -1): void => {
    let to = ids.indexOf(id) + by;
    while (isShown(id) && ids[to] !== undefined && !isShown(ids[to] ?? '')) to += by;
    const rest = ids.filter((one) => one !== id);
    model.setColumnOrder([...rest.slice(0, to), id, ...rest.slice(to)]);
  };
  return (
    <Popover position="bottom-end" trapFocus width={320} withinPortal>
      <Popover.Target>
        <ActionIcon size="sm" aria-label="Arrange the columns">
          <IconColumns3 size={16} />
        </ActionIcon>
      </Popover.Target>
      <Popover.Dropdown>
        <Stack gap={2} className={classes.columns}>
          {ids.map((id, at) => {
            const column = model.getColumn(id);
            if (!column) return null;
            const name = String(column.columnDef.header);
            const isPinned = column.getIsPinned() !== false;
            const widen = (by: number): void =>
              model.setColumnSizing((sizes) => ({
                ...sizes,
                [id]: Math.max(column.columnDef.minSize ?? 0, (sizes[id] ?? column.getSize()) + by),
              }));
            return (
              <Group key={id} justify="space-between" wrap="nowrap" className={classes.arranged}>
                <Checkbox
                  label={name}
                  checked={column.getIsVisible()}
                  disabled={!column.getCanHide()}
                  onChange={(event) => column.toggleVisibility(event.currentTarget.checked)}
                />
                <Group gap={0} wrap="nowrap">
                  <ActionIcon
                    aria-label={`Move ${name} forward`}
                    disabled={at === 0}
                    onClick={() => move(id, -1)}
                  >
                    <IconArrowUp size={15} />
                  </ActionIcon>
                  <ActionIcon
                    aria-label={`Move ${name} back`}
                    disabled={at === ids.length - 1}
                    onClick={() => move(id, 1)}
                  >
                    <IconArrowDown size={15} />
                  </ActionIcon>
                  <ActionIcon aria-label={`Make ${name} narrower`} onClick={() => widen(-STEP)}>
                    <IconMinus size={15} />
                  </ActionIcon>
                  <ActionIcon aria-label={`Make ${name} wider`} onClick={() => widen(STEP)}>
                    <IconPlus size={15} />
                  </ActionIcon>
                  <ActionIcon
                    aria-label={`Keep ${name} in sight`}
                    aria-pressed={isPinned}
                    onClick={() => column.pin(isPinned ? false : 'start')}
                  >
                    {isPinned ? <IconPinFilled size={15} /> : <IconPin size={15} />}
                  </ActionIcon>
                </Group>
              </Group>
            );
          })}
        </Stack>
      </Popover.Dropdown>
    </Popover>
  );
}

/** Width in px that the columns want at the least. */
export function leastWidth<R>(model: Model<R>, chosen: boolean): number {
  return model
    .getVisibleLeafColumns()
    .reduce((sum, column) => sum + Math.max(column.getSize(), LEAST / 2), chosen ? 34 : 0);
}
