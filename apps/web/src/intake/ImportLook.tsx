// Before anything changes: what the columns fill, whose these people are, what each row will do, and the rows that want
// mending, right there.
import { Button, Group } from '@mantine/core';
import type { ImportReply } from '@palabra/contract/intake';
import type { LookPart } from '@palabra/core/intake';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { useMay, useOffice, useSeesEverybody } from '../office';
import { command } from '../ui/command';
import { count } from '../ui/numbers';
import { Page } from '../ui/Page';
import { SaveTrouble } from '../ui/saving';
import { useSearch } from '../ui/search';
import { Note } from '../ui/states';
import { Act } from '../ui/text';
import { day } from '../ui/time';
import { Words } from '../ui/Words';
import { Columns } from './Columns';
import {
  useDropImportMutation,
  useRestoreImportMutation,
  useStartImportMutation,
} from './intake.api';
import { LookMargin } from './LookMargin';
import { LookRows } from './LookRows';
import { Terms } from './Terms';
import { useLive } from './useLive';
import { usePlan } from './usePlan';
import { lookWords, partCount } from './words';

const COLUMNS = 'columns';

export function ImportLook({ found }: { readonly found: ImportReply }) {
  const data = useLive(found);
  const draft = usePlan(found);
  const may = useMay('change people');
  const seesAll = useSeesEverybody();
  const { office } = useOffice();
  const [search, setSearch] = useSearch();
  const parts = (Object.keys(lookWords) as LookPart[]).filter(
    (part) => part !== 'elsewhere' || seesAll,
  );
  const part = parts.find((one) => one === search.get('part'));
  const shown = parts.filter((one) => one === part || one === 'look' || partCount(data, one) > 0);
  const plan = draft.value;
  const has = (field: string): boolean =>
    plan.mapping.some((target) => target.to === 'field' && target.field === field);
  const key = plan.matching === 'address' ? 'address' : 'external_number';
  return (
    <Page
      title={data.fileName}
      sub={
        <>
          {data.sheets.length > 0 && `sheet “${data.sheets[data.sheetAt] ?? ''}”, `}
          {count(data.rows)} {data.rows === 1 ? 'row' : 'rows'} · nothing has changed yet
        </>
      }
      actions={may && <BringIn data={data} isReady={has(key)} save={draft.flush} />}
      margin={<LookMargin data={data} draft={draft} />}
    >
      <SaveTrouble draft={draft} what="plan" />
      {!has(key) && (
        <Note kind="caution">
          Say which column holds the {key === 'address' ? 'email address' : 'external number'};
          people are matched by it.
        </Note>
      )}
      {found.knownSince && part === undefined && (
        <Note>
          The columns are read as in the last file like this, of{' '}
          {day(office.timeZone, found.knownSince)}.
        </Note>
      )}
      <Words
        label="What to look at"
        value={part ?? COLUMNS}
        options={[
          { value: COLUMNS, label: 'columns and terms' },
          ...shown.map((one) => ({
            value: one,
            label: `${lookWords[one]} ${count(partCount(data, one))}`,
          })),
        ]}
        onChange={(next) => setSearch(next === COLUMNS ? {} : { part: next })}
      />
      {part === undefined ? (
        <>
          <Columns found={data} draft={draft} disabled={!may} />
          <Terms draft={draft} disabled={!may} />
        </>
      ) : (
        <LookRows key={part} data={data} part={part} draft={draft} />
      )}
    </Page>
  );
}

function BringIn({
  data,
  isReady,
  save,
}: {
  readonly data: ImportReply;
  readonly isReady: boolean;
  readonly save: () => Promise<number | undefined>;
}) {
  const navigate = useNavigate();
  const [start] = useStartImportMutation();
  const [drop] = useDropImportMutation();
  const [restore] = useRestoreImportMutation();
  const [isBusy, setBusy] = useState(false);
  const { counts, isCurrent } = data.look;
  const touched = counts && counts.outcomes.new + counts.outcomes.changed;
  const go = async (): Promise<void> => {
    setBusy(true);
    const version = await save();
    if (version !== undefined)
      await command({ run: () => start({ id: data.id, version }).unwrap() });
    setBusy(false);
  };
  const throwAway = async (): Promise<void> => {
    const done = await command({
      run: async () => {
        await drop(data.id).unwrap();
        return true;
      },
      says: () => `“${data.fileName}” is thrown away. Nobody was changed.`,
      undo: async () => {
        await restore(data.id).unwrap();
        await navigate(`/intake/${data.id}`);
      },
    });
    if (done) void navigate('/intake');
  };
  return (
    <Group gap="md">
      <Act onClick={() => void throwAway()}>Throw this file away</Act>
      <Button disabled={!isReady} loading={isBusy} onClick={() => void go()}>
        {!isCurrent || touched === null
          ? 'Bring it in'
          : touched === 0
            ? 'Bring it in: nobody changes'
            : `Bring in ${count(touched)} ${touched === 1 ? 'person' : 'people'}`}
      </Button>
    </Group>
  );
}
