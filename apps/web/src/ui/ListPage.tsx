// A list of things of one kind: searched by name, sorted, arranged; each of them opened, and deleted with a way back.
import { TextInput } from '@mantine/core';
import { useHotkeys } from '@mantine/hooks';
import { searchKey } from '@palabra/core/contacts';
import { IconSearch } from '@tabler/icons-react';
import { useMemo, useRef, useState, type ReactNode } from 'react';
import classes from './ListPage.module.css';
import { Page } from './Page';
import { useSearch } from './search';
import { Ghost, Wrong } from './states';
import { Table, type Column } from './table';
import { Soft } from './text';

interface ListPageProps<R> {
  readonly title: string;
  readonly sub: string;
  readonly actions?: ReactNode;
  readonly rows: readonly R[] | undefined;
  /** Of the rows, those that are looked among. */
  readonly filtered?: readonly R[] | undefined;
  readonly error: unknown;
  readonly again: () => void;
  readonly columns: readonly Column<R>[];
  readonly rowHeight?: number;
  readonly textOf: (row: R) => string;
  /** Said when there is nothing at all. */
  readonly empty: ReactNode;
  /** Beside the search: other ways to narrow. */
  readonly narrow?: ReactNode;
  readonly margin?: ReactNode;
  /** Under the table. */
  readonly after?: ReactNode;
  readonly children?: ReactNode;
}

export function ListPage<R extends { readonly id: number }>({
  title,
  sub,
  actions,
  rows,
  filtered = rows,
  error,
  again,
  columns,
  rowHeight,
  textOf,
  empty,
  narrow,
  margin,
  after,
  children,
}: ListPageProps<R>) {
  const [search, setSearch] = useSearch();
  const [text, setText] = useState(search.get('q') ?? '');
  const input = useRef<HTMLInputElement>(null);
  useHotkeys([['/', () => input.current?.focus()]]);
  const key = searchKey(text);
  const shown = useMemo(() => {
    if (key === '') return filtered;
    const words = key.split(' ');
    return filtered?.filter((row) => {
      const own = searchKey(textOf(row));
      return words.every((word) => own.includes(word));
    });
  }, [filtered, key, textOf]);
  /** Stands in the address, so that coming back and a reload find it again. */
  const type = (next: string): void => {
    setText(next);
    setSearch(
      (before) => {
        const after = new URLSearchParams(before);
        if (next === '') after.delete('q');
        else after.set('q', next);
        return after;
      },
      { replace: true },
    );
  };
  return (
    <Page title={title} sub={sub} actions={actions} margin={margin}>
      {children}
      {error !== undefined && <Wrong error={error} again={again} />}
      {rows === undefined && error === undefined && <Ghost lines={6} />}
      {rows?.length === 0 && empty}
      {rows !== undefined && rows.length > 0 && (
        <div className={classes.narrow}>
          <TextInput
            ref={input}
            type="search"
            variant="line"
            leftSection={<IconSearch size={15} aria-hidden />}
            leftSectionWidth={24}
            aria-label={`Search in ${title.toLowerCase()}`}
            placeholder="search"
            maxLength={120}
            value={text}
            onChange={(event) => type(event.currentTarget.value)}
          />
          {narrow}
        </div>
      )}
      {shown !== undefined && shown.length > 0 && (
        <Table
          name={title.toLowerCase()}
          label={title}
          columns={columns}
          source={{ rows: shown }}
          keyOf={({ id }) => id}
          rowHeight={rowHeight}
        />
      )}
      {rows !== undefined && rows.length > 0 && shown?.length === 0 && (
        <p>
          <Soft>Nothing fits. Try fewer letters.</Soft>
        </p>
      )}
      {after}
    </Page>
  );
}
