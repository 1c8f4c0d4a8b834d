// One import: look at the columns, start, watch, and see what it did.
import { Button } from '@mantine/core';
import type { ImportReply } from '@palabra/contract/intake';
import type { PeopleParts } from '@palabra/core/contacts';
import { useEffect, useState } from 'react';
import { useDispatch } from 'react-redux';
import { useParams } from 'react-router';
import { api, problemOf } from '../app/api';
import { Lost } from '../app/Lost';
import { useUndoMutation } from '../contacts/contacts.api';
import { useMay, useOffice, useSeesEverybody } from '../office/OfficeContext';
import { count, Num, peoplePath, Sum } from '../ui/numbers';
import { MarginPart, Page } from '../ui/Page';
import { Ghost, Note, Wrong } from '../ui/states';
import { dayAndClock } from '../ui/time';
import { ImportMapping } from './ImportMapping';
import {
  useCancelImportMutation,
  useImportOneQuery,
  useRefusedQuery,
  useTakeBackImportMutation,
  useTakingBackQuery,
} from './intake.api';
import { importWords } from './words';

export function ImportPage() {
  const id = Number(useParams()['id']);
  const found = useImportOneQuery(id, {
    skip: !Number.isInteger(id),
    refetchOnMountOrArgChange: true,
  });
  if (found.isError)
    return problemOf(found.error).status === 404 ? (
      <Lost />
    ) : (
      <Wrong error={found.error} again={() => void found.refetch()} />
    );
  const data = found.data?.id === id ? found.data : undefined;
  if (!data) {
    return (
      <Page title="…" margin={<Ghost />}>
        <Ghost lines={6} />
      </Page>
    );
  }
  // A new reading of the file is a new table of columns.
  return data.state === 'uploaded' ? (
    <ImportMapping
      key={`${data.id} ${data.encoding} ${data.separator} ${data.headerAt}`}
      found={data}
    />
  ) : (
    <ImportResult key={data.id} found={data} />
  );
}

const isMoving = ({ state, takenBack }: ImportReply): boolean =>
  state === 'running' || takenBack?.isDone === false;

function useLive(found: ImportReply): ImportReply {
  const [live, setLive] = useState<ImportReply>();
  const dispatch = useDispatch();
  const running = isMoving(found);
  useEffect(() => {
    if (!running) return undefined;
    const source = new EventSource(`/api/imports/${found.id}/live`);
    source.onmessage = (event: MessageEvent<string>) => {
      const next = JSON.parse(event.data) as ImportReply;
      setLive(next);
      if (isMoving(next)) return;
      source.close();
      dispatch(api.util.invalidateTags(['Imports', 'People', 'Person', 'Segments', 'Campaigns']));
    };
    return () => source.close();
  }, [found.id, running, dispatch]);
  return running && live ? live : found;
}

function ImportResult({ found }: { readonly found: ImportReply }) {
  const data = useLive(found);
  const { office } = useOffice();
  const may = useMay('change people');
  const seesAll = useSeesEverybody();
  const [cancel] = useCancelImportMutation();
  const [takeBack, taking] = useTakeBackImportMutation();
  const mayTakeBack =
    may && (data.state === 'done' || data.state === 'cancelled') && !data.takenBack;
  const { data: would } = useTakingBackQuery(data.id, {
    skip: !mayTakeBack,
    refetchOnMountOrArgChange: true,
  });
  const [wrong, setWrong] = useState<string>();
  const of = (part: Exclude<PeopleParts['import'], ''>): string =>
    peoplePath(`import.${data.id}.${part}`);
  const back = async (): Promise<void> => {
    try {
      await takeBack(data.id).unwrap();
    } catch (error) {
      setWrong(problemOf(error).detail);
    }
  };
  return (
    <Page
      title={data.fileName}
      sub={
        <span role="status">
          {importWords(data)}
          {data.finishedAt && `, ${dayAndClock(office.timeZone, data.finishedAt)}`} · by {data.by}
        </span>
      }
      actions={
        may && (
          <>
            {data.state === 'running' && (
              <Button variant="default" onClick={() => void cancel(data.id)}>
                Stop here
              </Button>
            )}
            {mayTakeBack && (
              <Button variant="default" loading={taking.isLoading} onClick={() => void back()}>
                Take it back
                {would && (would.go > 0 || would.stay > 0)
                  ? `: ${count(would.go)} ${would.go === 1 ? 'person goes' : 'people go'}`
                  : ''}
              </Button>
            )}
          </>
        )
      }
      margin={
        <MarginPart title="Rows">
          <Sum
            label="Rows of the file"
            lines={[
              { label: 'rows read', value: data.cursor },
              { label: 'refused', value: data.refusedCount, kind: 'less' },
              ...(data.againCount > 0
                ? [
                    {
                      label: 'of somebody counted already',
                      value: data.againCount,
                      kind: 'less' as const,
                    },
                  ]
                : []),
              { label: 'unchanged', value: data.unchangedCount, to: of('unchanged'), kind: 'less' },
              ...(data.elsewhereCount > 0
                ? [
                    {
                      label: 'looked after by others',
                      value: data.elsewhereCount,
                      to: of('elsewhere'),
                      kind: 'less' as const,
                    },
                  ]
                : []),
              { label: 'changed', value: data.changedCount, to: of('changed'), kind: 'less' },
              { label: 'new people', value: data.newCount, to: of('new'), kind: 'total' },
            ]}
          />
        </MarginPart>
      }
    >
      {wrong && (
        <div role="alert">
          <Note kind="wrong">{wrong}</Note>
        </div>
      )}
      {data.takenBack && <TakenBack {...data.takenBack} />}
      {mayTakeBack && would && (would.stay > 0 || would.changed > 0) && (
        <p className="soft">
          Taken back,{' '}
          {would.stay > 0 && (
            <>
              <Num value={would.stay} to={of('would-stay')} /> of the new people{' '}
              {would.stay === 1 ? 'stays, because somebody has' : 'stay, because somebody has'} had
              to do with them since: they were changed, tagged or written to.{' '}
            </>
          )}
          {would.changed > 0 && (
            <>
              {would.stay > 0 ? 'The' : 'the'} <Num value={would.changed} to={of('changed')} />{' '}
              changed {would.changed === 1 ? 'becomes what they were' : 'become what they were'}, as
              far as nobody changed them again.
            </>
          )}
        </p>
      )}
      {data.state === 'running' && (
        <>
          <p role="status">
            <b className="figure">{count(data.cursor)}</b> of {count(data.rows)} rows. You can leave
            this page; it goes on and reports on the desk.
          </p>
          <div
            className="progress"
            role="progressbar"
            aria-label="Progress of the import"
            aria-valuemin={0}
            aria-valuemax={data.rows}
            aria-valuenow={data.cursor}
          >
            <i style={{ width: `${(100 * data.cursor) / Math.max(data.rows, 1)}%` }} />
          </div>
        </>
      )}
      {data.state === 'cancelled' && (
        <Note kind="caution">
          Stopped after {count(data.cursor)} of {count(data.rows)} rows. What came in until then
          stays, unless you take it back.
        </Note>
      )}
      <div className="figures" style={{ marginTop: 12 }}>
        <span>
          <Num value={data.newCount} to={of('new')} />
          <small>new</small>
        </span>
        <span>
          <Num value={data.changedCount} to={of('changed')} />
          <small>changed</small>
        </span>
        <span>
          <Num value={data.unchangedCount} to={of('unchanged')} />
          <small>unchanged</small>
        </span>
        <span>
          <span className="num plain">{count(data.refusedCount)}</span>
          <small>refused</small>
        </span>
      </div>
      {!seesAll && (
        <p className="soft">
          Rows are counted as they came in; the lists behind the numbers hold the people who are
          yours.
        </p>
      )}
      {data.refusedCount > 0 && (
        <Refused
          id={data.id}
          total={data.refusedCount}
          headers={data.headers}
          above={data.headerAt === null ? 0 : data.headerAt + 1}
          live={data.state === 'running'}
        />
      )}
    </Page>
  );
}

function TakenBack({
  changeSet,
  count: people,
  leftAlone,
  isDone,
}: NonNullable<ImportReply['takenBack']>) {
  const may = useMay('change people');
  const [undo, undoing] = useUndoMutation();
  const [wrong, setWrong] = useState<string>();
  const again = (): void => {
    setWrong(undefined);
    undo(changeSet)
      .unwrap()
      .catch((error: unknown) => setWrong(problemOf(error).detail));
  };
  return (
    <div role="status">
      <Note kind={isDone ? 'good' : 'plain'}>
        {isDone ? 'Taken back' : 'Being taken back'}:{' '}
        <Num value={people} to={peoplePath(`change.${changeSet}`)} />{' '}
        {people === 1 ? 'person' : 'people'}
        {isDone ? '.' : ' so far. You can leave this page; it goes on.'}
        {leftAlone > 0 && (
          <>
            {' '}
            <Num value={leftAlone} to={peoplePath(`change.${changeSet}.left-alone`)} /> had changed
            since and {leftAlone === 1 ? 'was' : 'were'} left as they are.
          </>
        )}{' '}
        {may && isDone && people > 0 && (
          <button type="button" className="act" disabled={undoing.isLoading} onClick={again}>
            Undo
          </button>
        )}
        {wrong && <span role="alert"> {wrong}</span>}
      </Note>
    </div>
  );
}

const SHOWN_COLUMNS = 4;

function Refused({
  id,
  total,
  headers,
  above,
  live,
}: {
  readonly id: number;
  readonly above: number;
  readonly total: number;
  readonly headers: readonly string[];
  readonly live: boolean;
}) {
  const page = useRefusedQuery({ id }, { pollingInterval: live ? 2000 : 0 });
  return (
    <section>
      <div className="head" style={{ marginBottom: 4 }}>
        <h2 className="head-title">Refused, with the reason</h2>
        <a href={`/api/imports/${id}/refused.csv`} download>
          Take all {count(total)} as CSV
        </a>
      </div>
      <div style={{ overflowX: 'auto' }}>
        <table className="mapping">
          <thead>
            <tr>
              <th>line</th>
              <th>why</th>
              {headers.slice(0, SHOWN_COLUMNS).map((header, at) => (
                <th key={at}>{header || `column ${at + 1}`}</th>
              ))}
            </tr>
          </thead>
          <tbody>
            {page.data?.rows.map(({ row, line, reason, cells }) => (
              <tr key={row}>
                <td className="figure">{count(line ?? row + above)}</td>
                <td>{reason}</td>
                {headers.slice(0, SHOWN_COLUMNS).map((_, at) => (
                  <td key={at} className="sample">
                    {cells[at]}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {total > (page.data?.rows.length ?? 0) && (
        <p className="soft">
          The first {count(page.data?.rows.length ?? 0)} are shown; the CSV has them all. Mend them
          there and bring the file again.
        </p>
      )}
    </section>
  );
}
