// What an import does and did: live, each number opens, and all of it can be taken back.
import { Button } from '@mantine/core';
import type { ImportReply } from '@palabra/contract/intake';
import { useMay, useOffice, useSeesEverybody } from '../office';
import { command } from '../ui/command';
import { count, Figures, people, peoplePath, Progressing, Sum, type SumLine } from '../ui/numbers';
import { MarginPart, Page } from '../ui/Page';
import { Note } from '../ui/states';
import { Figure, Soft } from '../ui/text';
import { dayAndClock } from '../ui/time';
import {
  useCancelImportMutation,
  useTakeBackImportMutation,
  useTakingBackQuery,
} from './intake.api';
import { Refused } from './Refused';
import { HowItWasRead } from './HowItWasRead';
import { Leftovers, TakenBack, WouldBeTakenBack } from './TakenBack';
import { useLive } from './useLive';
import { importWords, mayBeTakenBack, type ImportPart } from './words';

export function ImportResult({ found }: { readonly found: ImportReply }) {
  const data = useLive(found);
  const { office } = useOffice();
  const seesAll = useSeesEverybody();
  const of = (part: ImportPart): string => peoplePath(`import.${data.id}.${part}`);
  return (
    <Page
      title={data.fileName}
      sub={
        <span role="status">
          {importWords(data)}
          {data.finishedAt && `, ${dayAndClock(office.timeZone, data.finishedAt)}`} · by {data.by}
        </span>
      }
      actions={<Actions data={data} />}
      margin={
        <MarginPart title="Rows">
          <Sum label="Rows of the file" lines={rowLines(data, of, seesAll)} />
        </MarginPart>
      }
    >
      {data.takenBack && <TakenBack {...data.takenBack} />}
      {data.takenBack?.isDone && <Leftovers id={data.id} />}
      <WouldBeTakenBack data={data} of={of} />
      {data.state === 'running' && (
        <>
          <p role="status">
            <b>
              <Figure>{count(data.cursor)}</Figure>
            </b>{' '}
            of {count(data.rows)} rows. You can leave this page; it goes on and reports on the desk.
          </p>
          <Progressing label="Progress of the import" done={data.cursor} of={data.rows} />
        </>
      )}
      {data.state === 'cancelled' && (
        <Note kind="caution">
          Stopped after {count(data.cursor)} of {count(data.rows)} rows
          {data.stoppedBy === null
            ? ''
            : ': more of these people are looked after by colleagues than you may meet in a day. A coordinator can bring the list in'}
          . What came in until then stays, unless you take it back.
        </Note>
      )}
      <Figures
        figures={[
          { value: data.newCount, to: of('new'), label: 'new' },
          { value: data.changedCount, to: of('changed'), label: 'changed' },
          { value: data.unchangedCount, to: of('unchanged'), label: 'as they are' },
          { value: data.refusedCount, label: 'refused' },
        ]}
      />
      {!seesAll && (
        <p>
          <Soft>
            Whom colleagues look after already is left as they are, and in none of these lists.
          </Soft>
        </p>
      )}
      {data.refusedCount + data.doubtedCount > 0 && <Refused data={data} />}
      <HowItWasRead data={data} />
    </Page>
  );
}

function Actions({ data }: { readonly data: ImportReply }) {
  const may = useMay('change people');
  const [cancel] = useCancelImportMutation();
  const [takeBack, taking] = useTakeBackImportMutation();
  const can = may && mayBeTakenBack(data);
  const { data: would } = useTakingBackQuery(data.id, {
    skip: !can,
    refetchOnMountOrArgChange: true,
  });
  if (may && data.state === 'running')
    return (
      <Button
        variant="default"
        onClick={() => void command({ run: () => cancel(data.id).unwrap() })}
      >
        Stop here
      </Button>
    );
  if (!can) return null;
  const isSaid = would && (would.go > 0 || would.stay > 0);
  return (
    <Button
      variant="default"
      loading={taking.isLoading}
      onClick={() => void command({ run: () => takeBack(data.id).unwrap() })}
    >
      Take it back
      {isSaid ? `: ${people(would.go)} ${would.go === 1 ? 'goes' : 'go'}` : ''}
    </Button>
  );
}

function rowLines(
  data: ImportReply,
  of: (part: ImportPart) => string,
  seesAll: boolean,
): SumLine[] {
  const less = (label: string, value: number, to?: string): SumLine[] =>
    value > 0 ? [{ label, value, to, kind: 'less' }] : [];
  return [
    { label: 'rows read', value: data.cursor },
    { label: 'refused', value: data.refusedCount, kind: 'less' },
    ...less('left out', data.outCount),
    ...less('said again', data.againCount),
    { label: 'as they are', value: data.unchangedCount, to: of('unchanged'), kind: 'less' },
    ...less('looked after by others', data.elsewhereCount, seesAll ? of('elsewhere') : undefined),
    { label: 'changed', value: data.changedCount, to: of('changed'), kind: 'less' },
    { label: 'new people', value: data.newCount, to: of('new'), kind: 'total' },
  ];
}
