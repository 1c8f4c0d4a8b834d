// Rows of a file as they would come in, each cell to be mended where it stands; and what is wrong with them.
import { ActionIcon, Group, Tooltip } from '@mantine/core';
import type { ImportPlan, ImportReply, LookRow } from '@palabra/contract/intake';
import type { LookPart, Offer } from '@palabra/core/intake';
import { IconArrowBackUp, IconCheck, IconX } from '@tabler/icons-react';
import { Fragment, useMemo, useState, type ReactNode } from 'react';
import type { Draft } from '../api/drafts';
import { useMay } from '../office';
import { command } from '../ui/command';
import { count, Progressing } from '../ui/numbers';
import { Empty, Ghost, Wrong } from '../ui/states';
import { Table, type Column, type PagedRows } from '../ui/table';
import { Act, Figure, Soft } from '../ui/text';
import { useLookRowsQuery, useMendAllMutation, useMendRowMutation } from './intake.api';
import classes from './intake.module.css';
import { partCount } from './words';

const STRETCH = 100;
/** What is wrong stands behind this many columns, before more of them. */
const FEW = 3;

interface LookRowsProps {
  readonly data: ImportReply;
  readonly part: LookPart;
  readonly draft: Draft<ImportPlan>;
}

export function LookRows({ data, part, draft }: LookRowsProps) {
  const { id, look } = data;
  const [first, setFirst] = useState(0);
  const version = look.version ?? 0;
  const ask = (stretch: number) => ({ id, part, from: stretch * STRETCH, look: version });
  const skip = look.version === null;
  const one = useLookRowsQuery(ask(first), { skip });
  const total = partCount(data, part);
  const two = useLookRowsQuery(ask(first + 1), { skip: skip || (first + 1) * STRETCH >= total });
  const here = one.currentData?.rows ?? one.data?.rows ?? [];
  const next = two.currentData?.rows ?? [];
  const columns = useRowColumns(data, part, draft);
  if (one.error) return <Wrong error={one.error} again={() => void one.refetch()} />;
  if (skip || (one.isLoading && total > 0)) return <Looking data={data} />;
  // A row that was left out is gone before all are counted again.
  const isEnd = here.length < STRETCH;
  const length = isEnd ? first * STRETCH + here.length : Math.max(total, here.length);
  const source: PagedRows<LookRow> = {
    count: length,
    at: (index) => {
      const within = index - first * STRETCH;
      return within < STRETCH ? here[within] : next[within - STRETCH];
    },
    onSight: (from) => setFirst(Math.floor(from / STRETCH)),
    load: () => Promise.resolve([]),
    sorting: [],
    onSort: () => undefined,
  };
  return (
    <>
      <Looking data={data} />
      {part === 'look' && <All data={data} />}
      {length === 0 ? (
        <Empty title={part === 'look' ? 'Nothing is wrong' : 'No row is here'}>
          {part === 'look'
            ? 'Every row can be read, and none asks for a second look.'
            : 'Rows come here when the columns, the terms or a mended cell say so.'}
        </Empty>
      ) : (
        <Table
          name={`rows of a file, ${data.headers.length > FEW ? 'many' : 'few'} columns`}
          label="Rows of the file"
          columns={columns}
          source={source}
          keyOf={({ row }) => row}
          place={`${id} ${part}`}
        />
      )}
      {length > 0 && (
        <p>
          <Soft>
            {part === 'look'
              ? 'Mend cells right here: double click or Enter, and Enter again goes to the next. What stays refused comes back to you as a file with its reason.'
              : part === 'changed'
                ? 'What somebody has now is struck through where it changes.'
                : null}
          </Soft>
        </p>
      )}
    </>
  );
}

function Looking({ data: { look, rows } }: { readonly data: ImportReply }) {
  // What was seen last stays until the next look is whole.
  if (look.isCurrent || look.version !== null) return null;
  if (rows < 2000) return <Ghost lines={6} />;
  return (
    <div role="status">
      <Soft>
        Looking at {count(look.cursor)} of {count(rows)} rows …
      </Soft>
      <Progressing label="Rows looked at" done={look.cursor} of={rows} />
    </div>
  );
}

/** What can be done with all of them at once. */
function All({ data: { id, look } }: { readonly data: ImportReply }) {
  const may = useMay('change people');
  const [mendAll] = useMendAllMutation();
  const { counts } = look;
  if (!may || !counts || counts.look + counts.mended + counts.outcomes.out === 0) return null;
  const go = (how: 'leave-out' | 'take-as-they-are' | 'unmend'): void =>
    void command({ run: () => mendAll({ id, how }).unwrap() });
  const coming = counts.look - counts.outcomes.refused;
  return (
    <Group gap="lg" justify="flex-end" className={classes.all}>
      {coming > 0 && (
        <Act onClick={() => go('take-as-they-are')}>
          {coming === 1
            ? 'Take the one that comes in as it is'
            : `Take the ${count(coming)} that come in as they are`}
        </Act>
      )}
      {counts.look > 0 && <Act onClick={() => go('leave-out')}>Leave these out</Act>}
      {counts.mended + counts.outcomes.out > 0 && (
        <Act onClick={() => go('unmend')}>Put all back as in the file</Act>
      )}
    </Group>
  );
}

function useRowColumns(
  data: ImportReply,
  part: LookPart,
  draft: Draft<ImportPlan>,
): readonly Column<LookRow>[] {
  const may = useMay('change people');
  const [mend] = useMendRowMutation();
  const { id, headers } = data;
  const { mapping } = data.plan;
  const { change } = draft;
  return useMemo(() => {
    const used = headers
      .map((header, at) => ({ header: header || `column ${at + 1}`, at }))
      .filter(({ at }) => (mapping[at] ?? { to: 'nothing' }).to !== 'nothing');
    const put = async (row: LookRow, at: number, text: string): Promise<void> => {
      await mend({ id, row: row.row, cells: { [at]: text } }).unwrap();
    };
    const cells = used.map(({ header, at }): Column<LookRow> => ({
      id: `cell ${at}`,
      name: header,
      width: 138,
      title: ({ cells: texts, was }) =>
        was[at] ? `${texts[at] ?? ''}; now ${was[at]}` : texts[at],
      view: (row) => <Cell row={row} at={at} />,
      ...(may
        ? {
            edit: {
              label: (row) => `${header} of row ${count(row.line)}`,
              // What was cut is not whole here.
              text: ({ cells: texts }) =>
                (texts[at] ?? '').length > 200 ? undefined : (texts[at] ?? ''),
              save: (row, text) => put(row, at, text),
            },
          }
        : {}),
    }));
    const say = (row: LookRow, said: object): void =>
      void command({ run: () => mend({ id, row: row.row, ...said }).unwrap() });
    const take = (row: LookRow, offer: Offer): void => {
      if ('cells' in offer) say(row, { cells: offer.cells });
      else if ('person' in offer) say(row, { person: offer.person });
      else
        change((plan) => ({
          ...plan,
          mapping: plan.mapping.map((target, at) =>
            at === offer.column && target.to === 'field' ? { ...target, days: offer.days } : target,
          ),
        }));
    };
    const wrong: Column<LookRow> = {
      id: 'wrong',
      name: part === 'look' ? 'what is wrong' : 'what is said of it',
      width: 410,
      title: ({ problems }) => problems.map(({ words }) => words).join('; ') || undefined,
      view: (row) => <Said row={row} may={may} onTake={take} onSay={say} />,
    };
    const line: Column<LookRow> = {
      id: 'row',
      name: 'row',
      width: 64,
      fixed: true,
      view: (row) => <Figure c="dimmed">{count(row.line)}</Figure>,
    };
    return part === 'look' && cells.length > FEW
      ? [line, wrong, ...cells]
      : [line, ...cells, wrong];
  }, [headers, mapping, id, mend, may, part, change]);
}

function Cell({ row, at }: { readonly row: LookRow; readonly at: number }) {
  const kind = row.problems.find((one) => one.at === at)?.kind;
  const was = row.was[at];
  return (
    <span className={`${classes.cell} ${kind ? classes[kind] : ''}`}>
      {was !== undefined && was !== '' && (
        <>
          <s>{was}</s>{' '}
        </>
      )}
      {row.cells[at] || (kind && <Soft>empty</Soft>)}
    </span>
  );
}

function Said({
  row,
  may,
  onTake,
  onSay,
}: {
  readonly row: LookRow;
  readonly may: boolean;
  readonly onTake: (row: LookRow, offer: Offer) => void;
  readonly onSay: (row: LookRow, said: object) => void;
}) {
  const named = `row ${count(row.line)}`;
  const back = (
    <Small label={`Put ${named} back as in the file`} onClick={() => onSay(row, { back: true })}>
      <IconArrowBackUp size={16} />
    </Small>
  );
  const isRefused = row.problems.some(({ kind }) => kind === 'refused');
  if (row.outcome === 'out') return <span className={classes.said}>{may && back} left out</span>;
  return (
    <span className={classes.said}>
      {may && row.isLook && (
        <Small label={`Leave ${named} out`} onClick={() => onSay(row, { isOut: true })}>
          <IconX size={16} />
        </Small>
      )}
      {may && row.isLook && !isRefused && (
        <Small label={`Take ${named} as it is`} onClick={() => onSay(row, { isSeen: true })}>
          <IconCheck size={16} />
        </Small>
      )}
      {may && row.isMended && back}
      {row.sameAs !== null && <span>the same person as row {count(row.sameAs)}</span>}
      {row.problems.map(({ kind, words, offers }, at) => (
        <Fragment key={at}>
          <span className={`${classes.words} ${classes[`${kind}Words`]}`}>{words}</span>
          {may &&
            row.isLook &&
            offers.map((offer) => (
              <Act key={offer.words} onClick={() => onTake(row, offer)}>
                {offer.words}
              </Act>
            ))}
        </Fragment>
      ))}
      {row.isMended && !row.isLook && <span>mended</span>}
    </span>
  );
}

function Small({
  label,
  onClick,
  children,
}: {
  readonly label: string;
  readonly onClick: () => void;
  readonly children: ReactNode;
}) {
  return (
    <Tooltip label={label} openDelay={300}>
      <ActionIcon size="sm" aria-label={label} onClick={onClick}>
        {children}
      </ActionIcon>
    </Tooltip>
  );
}
