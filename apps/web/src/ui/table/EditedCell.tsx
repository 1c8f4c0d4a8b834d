// A cell that is changed where it stands: by a double click, Enter or F2; kept by Enter or Tab, left by Escape.
import { Autocomplete, Popover, Text } from '@mantine/core';
import { useRef, useState, type KeyboardEvent, type ReactNode } from 'react';
import { problemOf } from '../../api/problems';
import type { CellEdit } from './column';
import classes from './Table.module.css';

export function EditedCell<R>({
  row,
  edit,
  children,
}: {
  readonly row: R;
  readonly edit: CellEdit<R>;
  readonly children: ReactNode;
}) {
  const cell = useRef<HTMLSpanElement>(null);
  const [text, setText] = useState<string>();
  const before = edit.text(row);
  if (before === undefined) return <>{children}</>;
  const begin = (): void => setText(before);
  const end = (step: number): void => {
    setText(undefined);
    const own = cell.current?.closest('td');
    requestAnimationFrame(() => {
      const target = own?.parentElement?.parentElement
        ?.querySelector<HTMLTableRowElement>(
          `tr[data-index="${Number(own.closest('tr')?.dataset['index']) + step}"]`,
        )
        ?.cells[own.cellIndex]?.querySelector<HTMLElement>('[data-edit]');
      (target ?? own?.querySelector<HTMLElement>('[data-edit]'))?.focus();
    });
  };
  if (text === undefined)
    return (
      <span
        ref={cell}
        data-edit
        role="button"
        tabIndex={-1}
        aria-label={`Change ${edit.label(row)}${before === '' ? '' : `: ${before}`}`}
        className={classes.edited}
        onDoubleClick={begin}
        onKeyDown={(event) => {
          if (event.key !== 'Enter' && event.key !== 'F2') return;
          event.preventDefault();
          begin();
        }}
      >
        {children}
      </span>
    );
  return (
    <span ref={cell}>
      <Editing row={row} edit={edit} before={before} text={text} onText={setText} onEnd={end} />
    </span>
  );
}

function Editing<R>({
  row,
  edit,
  before,
  text,
  onText,
  onEnd,
}: {
  readonly row: R;
  readonly edit: CellEdit<R>;
  readonly before: string;
  readonly text: string;
  readonly onText: (text: string) => void;
  /** Ends, and goes on so many rows further down. */
  readonly onEnd: (step: number) => void;
}) {
  const [wrong, setWrong] = useState<string>();
  const isSaving = useRef(false);
  const save = async (step: number): Promise<void> => {
    if (isSaving.current) return;
    if (text.trim() === before) return onEnd(step);
    isSaving.current = true;
    try {
      await edit.save(row, text.trim());
      onEnd(step);
    } catch (error) {
      // What was typed stays.
      setWrong(problemOf(error).detail);
    } finally {
      isSaving.current = false;
    }
  };
  const keys = (event: KeyboardEvent): void => {
    if (event.key === 'Escape') {
      event.stopPropagation();
      onEnd(0);
    } else if (event.key === 'Enter') {
      event.preventDefault();
      void save(1);
    } else if (event.key === 'Tab') void save(0);
  };
  return (
    <Popover opened={wrong !== undefined} position="bottom-start" withinPortal shadow="sm">
      <Popover.Target>
        <Autocomplete
          variant="line"
          size="xs"
          autoFocus
          aria-label={edit.label(row)}
          aria-invalid={wrong !== undefined}
          data={[...(edit.offered ?? [])]}
          limit={8}
          maxLength={1000}
          value={text}
          onFocus={(event) => event.currentTarget.select()}
          onChange={(next) => {
            setWrong(undefined);
            onText(next);
          }}
          onKeyDown={keys}
          onBlur={() => void save(0)}
        />
      </Popover.Target>
      <Popover.Dropdown role="alert" maw={320} p="xs">
        <Text fz="sm" c="var(--wrong)">
          {wrong}
        </Text>
      </Popover.Dropdown>
    </Popover>
  );
}
