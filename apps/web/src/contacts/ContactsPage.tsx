// Everybody, or the people behind a number: search, narrow, choose, tag.
import { Button, Menu, UnstyledButton } from '@mantine/core';
import type { PersonRow } from '@palabra/contract/contacts';
import type { Standing } from '@palabra/core/contacts';
import { IconChevronDown } from '@tabler/icons-react';
import { useEffect, useRef, useState } from 'react';
import { useDispatch } from 'react-redux';
import { Link, useSearchParams } from 'react-router';
import { problemOf } from '../app/api';
import { useMay } from '../office/OfficeContext';
import { Sum, count } from '../ui/numbers';
import { MarginPart, Page } from '../ui/Page';
import { Empty, Ghost, Wrong } from '../ui/states';
import { isTyping } from '../ui/typing';
import {
  usePeopleQuery,
  useSummaryQuery,
  useTaggingMutation,
  useTagsAmongQuery,
  useVocabularyQuery,
  type Filter,
} from './contacts.api';
import { filterText, readFilter } from './filter';
import { Flag } from './Flag';
import { did } from './justDone';
import { JustDonePart } from './JustDonePart';
import { NewContact } from './NewContact';
import { PeopleTable } from './PeopleTable';
import { TagPicker } from './TagPicker';

const PAGE = 50;
const SEARCH_PAUSE_MS = 150;

/** Chosen one by one (with their tags, for untagging), or everybody in the list. */
type Selection =
  | { readonly all: false; readonly people: ReadonlyMap<number, readonly number[]> }
  | { readonly all: true };
const nobody: Selection = { all: false, people: new Map() };

export function ContactsPage() {
  const [search, setSearch] = useSearchParams();
  const filter = readFilter(search);
  const key = filterText(filter);
  const [selection, setSelection] = useState<Selection>(nobody);
  const [lastKey, setLastKey] = useState(key);
  if (key !== lastKey) {
    setLastKey(key);
    setSelection(nobody);
  }
  const [adding, setAdding] = useState(false);
  const mayChange = useMay('change people');
  const { data: vocabulary } = useVocabularyQuery();
  const after = search.get('after') ?? undefined;
  const before = search.get('before') ?? undefined;
  const people = usePeopleQuery({ ...filter, after, before, limit: PAGE });
  const summary = useSummaryQuery(filter);

  const narrow = (change: Partial<Filter>): void =>
    setSearch(new URLSearchParams(filterText({ ...filter, ...change })));
  const pool = vocabulary?.pools.find(({ id }) => id === filter.pool) ?? vocabulary?.pools[0];
  const tag = vocabulary?.tags.find(({ id }) => id === filter.tag);
  const total = summary.currentData?.total;
  const title = summary.currentData?.title;
  const chosen = selection.all ? (total ?? 0) : selection.people.size;
  const isPlain = !filter.q && !filter.tag && !filter.of && !filter.standing;

  useEffect(() => {
    const clear = (event: KeyboardEvent): void => {
      if (event.key === 'Escape' && !event.defaultPrevented) setSelection(nobody);
    };
    window.addEventListener('keydown', clear);
    return () => window.removeEventListener('keydown', clear);
  }, []);

  const toggle = (rows: readonly PersonRow[], on: boolean): void =>
    setSelection((was) => {
      const next = new Map(
        was.all ? (people.currentData?.rows ?? []).map((row) => [row.id, row.tags]) : was.people,
      );
      for (const row of rows) {
        if (on) next.set(row.id, row.tags);
        else next.delete(row.id);
      }
      return { all: false, people: next };
    });

  return (
    <Page
      title={title ?? 'Contacts'}
      heading={
        filter.of ? (
          <h1>{title ?? '…'}</h1>
        ) : (
          <Menu position="bottom-start">
            <Menu.Target>
              <UnstyledButton>
                <h1 style={{ display: 'flex', alignItems: 'center', gap: 6 }}>
                  {pool?.kind === 'house' || !pool ? 'Everybody' : pool.name}{' '}
                  <IconChevronDown size={18} aria-hidden />
                </h1>
              </UnstyledButton>
            </Menu.Target>
            <Menu.Dropdown>
              <Menu.Label>Pools</Menu.Label>
              {vocabulary?.pools.map((one) => (
                <Menu.Item
                  key={one.id}
                  onClick={() => narrow({ pool: one.kind === 'house' ? undefined : one.id })}
                >
                  {one.kind === 'house'
                    ? 'Everybody, the house pool'
                    : `${one.name}, ${one.kind === 'partner' ? 'a partner’s pool' : 'prospects'}`}
                </Menu.Item>
              ))}
            </Menu.Dropdown>
          </Menu>
        )
      }
      sub={
        total === undefined ? undefined : (
          <>
            {filter.of ? '' : `${pool?.kind === 'house' ? 'house pool' : 'pool'}, `}
            {count(total)} {total === 1 ? 'person' : 'people'}
          </>
        )
      }
      actions={
        filter.of ? (
          <Button component={Link} to="/contacts" variant="default">
            Show everybody
          </Button>
        ) : (
          mayChange && (
            <>
              <Button component={Link} to="/intake" variant="default">
                Import
              </Button>
              <Button onClick={() => setAdding(true)}>New contact</Button>
            </>
          )
        )
      }
      margin={<ContactsMargin filter={filter} onTag={(id) => narrow({ tag: id })} />}
    >
      <div className="narrow">
        <SearchBox value={filter.q ?? ''} onChange={(q) => narrow({ q })} />
        {tag ? (
          <span>
            who have the tag{' '}
            <Flag
              name={tag.name}
              colour={tag.colour}
              onTakeOff={() => narrow({ tag: undefined })}
            />
          </span>
        ) : (
          <TagPicker
            label="who have a tag …"
            among={vocabulary ? vocabulary.tags.map(({ id }) => ({ id, count: 0 })) : []}
            onPick={(id) => narrow({ tag: id })}
          />
        )}
        {filter.standing && (
          <span className="chip">
            {filter.standing}
            <button
              type="button"
              className="x"
              aria-label={`Don’t narrow to: ${filter.standing}`}
              onClick={() => narrow({ standing: undefined })}
            >
              ×
            </button>
          </span>
        )}
        {people.isFetching && <span className="soft small">looking …</span>}
      </div>
      {people.isError && <Wrong error={people.error} again={() => void people.refetch()} />}
      {!people.data && people.isLoading && <Ghost lines={8} />}
      {people.data?.rows.length === 0 &&
        (isPlain ? (
          <Empty title="Nobody is here yet">
            Contacts come in from a spreadsheet or by hand. <Link to="/intake">Import a list</Link>
          </Empty>
        ) : (
          <Empty title="Nobody fits">
            {filter.of && !filter.q && !filter.tag && !filter.standing
              ? 'There is nobody behind this number any more.'
              : 'Try fewer letters, or take the tag away.'}
          </Empty>
        ))}
      {people.data && people.data.rows.length > 0 && (
        <>
          <PeopleTable
            rows={people.data.rows}
            to={(id) => `/contacts/${id}${key}`}
            selection={
              mayChange
                ? {
                    has: (id) => selection.all || selection.people.has(id),
                    toggle,
                    bar: chosen > 0 && (
                      <SelectionBar
                        filter={filter}
                        selection={selection}
                        chosen={chosen}
                        total={total}
                        onAll={() => setSelection({ all: true })}
                        onClear={() => setSelection(nobody)}
                      />
                    ),
                  }
                : undefined
            }
          />
          <Pager
            from={people.data.offset + 1}
            to={people.data.offset + people.data.rows.length}
            total={total}
            previous={people.data.previous}
            next={people.data.next}
            onMove={(move) =>
              setSearch(new URLSearchParams([...new URLSearchParams(key), ...Object.entries(move)]))
            }
          />
        </>
      )}
      {(summary.currentData?.colleagues ?? 0) > 0 && (
        <p className="soft">and {count(summary.currentData?.colleagues ?? 0)} of colleagues</p>
      )}
      {(summary.currentData?.deleted ?? 0) > 0 && (
        <p className="soft">and {count(summary.currentData?.deleted ?? 0)} deleted since</p>
      )}
      <NewContact opened={adding} onClose={() => setAdding(false)} />
    </Page>
  );
}

function SearchBox({
  value,
  onChange,
}: {
  readonly value: string;
  readonly onChange: (text: string) => void;
}) {
  const [text, setText] = useState(value);
  const [seen, setSeen] = useState(value);
  const timer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  if (value !== seen) {
    setSeen(value);
    if (value !== text.trim()) setText(value);
  }
  const input = useRef<HTMLInputElement>(null);
  useEffect(() => {
    const keys = (event: KeyboardEvent): void => {
      if (
        event.key !== '/' ||
        event.ctrlKey ||
        event.metaKey ||
        event.altKey ||
        isTyping(event.target)
      )
        return;
      event.preventDefault();
      input.current?.focus();
    };
    window.addEventListener('keydown', keys);
    return () => window.removeEventListener('keydown', keys);
  }, []);
  const type = (next: string): void => {
    setText(next);
    clearTimeout(timer.current);
    timer.current = setTimeout(() => onChange(next.trim()), SEARCH_PAUSE_MS);
  };
  return (
    <input
      ref={input}
      type="search"
      aria-label="Search by name or address"
      placeholder="name or address"
      maxLength={200}
      value={text}
      onChange={(event) => type(event.currentTarget.value)}
    />
  );
}

interface SelectionBarProps {
  readonly filter: Filter;
  readonly selection: Selection;
  readonly chosen: number;
  readonly total: number | undefined;
  readonly onAll: () => void;
  readonly onClear: () => void;
}

function SelectionBar({ filter, selection, chosen, total, onAll, onClear }: SelectionBarProps) {
  const [tagging, state] = useTaggingMutation();
  const dispatch = useDispatch();
  const amongAll = useTagsAmongQuery(filter, { skip: !selection.all });
  const among = selection.all ? (amongAll.data ?? []) : countTags([...selection.people.values()]);
  const tag = async (id: number, put: boolean): Promise<void> => {
    try {
      const change = await tagging({
        people: selection.all ? filter : { ids: [...selection.people.keys()] },
        tag: id,
        put,
      }).unwrap();
      dispatch(did({ changeSet: change.id, meant: chosen }));
      onClear();
    } catch (error) {
      dispatch(did({ text: problemOf(error).detail }));
    }
  };
  return (
    <div className="selection" role="toolbar" aria-label="What to do with the chosen people">
      <input type="checkbox" checked readOnly aria-label="Choose nobody" onClick={onClear} />
      <b>{selection.all ? `All ${count(chosen)}` : count(chosen)}</b>
      {!selection.all && total !== undefined && total > chosen && (
        <button type="button" className="act" onClick={onAll}>
          Choose all {count(total)}
        </button>
      )}
      <TagPicker
        label={state.isLoading ? 'Tagging …' : 'Tag'}
        disabled={state.isLoading}
        onPick={(id) => void tag(id, true)}
      />
      <TagPicker
        label="Untag"
        among={among}
        disabled={state.isLoading || among.length === 0}
        onPick={(id) => void tag(id, false)}
      />
      <span className="soft small" style={{ marginLeft: 'auto' }}>
        Esc clears
      </span>
    </div>
  );
}

function countTags(lists: readonly (readonly number[])[]): { id: number; count: number }[] {
  const counts = new Map<number, number>();
  for (const id of lists.flat()) counts.set(id, (counts.get(id) ?? 0) + 1);
  return [...counts].map(([id, own]) => ({ id, count: own })).sort((a, b) => b.count - a.count);
}

interface PagerProps {
  readonly from: number;
  readonly to: number;
  readonly total: number | undefined;
  readonly previous: string | null;
  readonly next: string | null;
  readonly onMove: (move: { before: string } | { after: string } | Record<string, never>) => void;
}

function Pager({ from, to, total, previous, next, onMove }: PagerProps) {
  if (!previous && !next) return null;
  return (
    <nav className="pager" aria-label="Pages">
      <button
        type="button"
        className="act"
        disabled={!previous}
        onClick={() => previous && onMove(from <= PAGE + 1 ? {} : { before: previous })}
      >
        Earlier
      </button>
      <span className="figure small">
        {count(from)}–{count(to)}
        {total === undefined ? '' : ` of ${count(total)}`}
      </span>
      <button
        type="button"
        className="act"
        disabled={!next}
        onClick={() => next && onMove({ after: next })}
      >
        Further
      </button>
    </nav>
  );
}

function ContactsMargin({
  filter,
  onTag,
}: {
  readonly filter: Filter;
  readonly onTag: (id: number) => void;
}) {
  const { currentData: sums, isError, error } = useSummaryQuery(filter);
  const { currentData: among } = useTagsAmongQuery(filter);
  const { data: vocabulary } = useVocabularyQuery();
  const tags = new Map(vocabulary?.tags.map((tag) => [tag.id, tag]));
  const to = (standing: Standing): string => `/contacts${filterText({ ...filter, standing })}`;
  return (
    <>
      <JustDonePart />
      <MarginPart title={sums ? `These ${count(sums.total)}` : 'These people'}>
        {isError && <Wrong error={error} />}
        {sums ? (
          <Sum
            label="Who of them may be mailed"
            lines={[
              {
                label: 'people',
                value: sums.total,
                to: `/contacts${filterText({ ...filter, standing: undefined })}`,
              },
              { label: 'no address', value: sums.noAddress, to: to('no address'), kind: 'less' },
              { label: 'do not mail', value: sums.doNotMail, to: to('do not mail'), kind: 'less' },
              {
                label: 'no permission',
                value: sums.noPermission,
                to: to('no permission'),
                kind: 'less',
              },
              {
                label: 'may be mailed',
                value: sums.mayBeMailed,
                to: to('may be mailed'),
                kind: 'total',
              },
            ]}
          />
        ) : (
          !isError && <Ghost lines={4} />
        )}
      </MarginPart>
      {among && among.length > 0 && sums && (
        <MarginPart title="Tags among them">
          {among.slice(0, 10).map(({ id, count: own }) => (
            <div key={id} className="measure">
              <div className="measure-line">
                <span>{tags.get(id)?.name ?? '…'}</span>
                <button
                  type="button"
                  className="num"
                  style={{ all: 'unset', cursor: 'pointer' }}
                  aria-label={`Narrow to the ${count(own)} with the tag ${tags.get(id)?.name ?? ''}`}
                  onClick={() => onTag(id)}
                >
                  <span className="num">{count(own)}</span>
                </button>
              </div>
              <span className="measure-bar">
                <i style={{ width: `${(100 * own) / Math.max(sums.total, 1)}%` }} />
              </span>
            </div>
          ))}
        </MarginPart>
      )}
    </>
  );
}
