// The ways in: a file to bring, and what came in before.
import { Button, Group, Modal, Stack, Textarea, Title } from '@mantine/core';
import { useCallbackRef } from '@mantine/hooks';
import type { ImportReply } from '@palabra/contract/intake';
import { useEffect, useEffectEvent, useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { useMay, useOffice } from '../office';
import { command } from '../ui/command';
import { FilePlace } from '../ui/FilePlace';
import { ListPage } from '../ui/ListPage';
import { count, Num, peoplePath } from '../ui/numbers';
import { Name } from '../ui/Rows';
import { Empty, Note } from '../ui/states';
import type { Column } from '../ui/table';
import { Act, Soft } from '../ui/text';
import { day, dayAndClock } from '../ui/time';
import { useImportsQuery, useUploadMutation } from './intake.api';
import { importWords } from './words';

const MOST = 200 * 1024 * 1024;

export function IntakePage() {
  const imports = useImportsQuery(undefined, { refetchOnMountOrArgChange: true });
  const may = useMay('change people');
  const columns = useColumns();
  return (
    <ListPage
      title="Intake"
      sub="how people come in"
      rows={imports.data}
      error={imports.error}
      again={() => void imports.refetch()}
      columns={columns}
      textOf={({ fileName, by }) => `${fileName} ${by}`}
      empty={
        <Empty title="Nothing yet">
          Lists that were brought in stay listed here, with what each of them changed. Each can be
          taken back.
        </Empty>
      }
    >
      {may && <TakeFile />}
      <Title order={2} mt="lg" mb={4}>
        What came in
      </Title>
    </ListPage>
  );
}

function TakeFile() {
  const navigate = useNavigate();
  const [upload, uploading] = useUploadMutation();
  const [tooLarge, setTooLarge] = useState(false);
  const [isPasting, setPasting] = useState(false);
  const take = useCallbackRef(async (name: string, contents: Blob): Promise<void> => {
    setTooLarge(contents.size > MOST);
    if (contents.size > MOST || contents.size === 0) return;
    const made = await command({ run: () => upload({ name, contents }).unwrap() });
    if (made) void navigate(`/intake/${made.id}`);
  });
  const { office } = useOffice();
  usePastes((file) => void take(file.name, file), office.timeZone);
  return (
    <>
      {tooLarge && <Note kind="wrong">This file is larger than 200 MB. Split it in two.</Note>}
      <FilePlace
        label="Choose a file"
        accept=".xlsx,.xlsm,.csv,.txt,.tsv,.vcf,text/csv,text/plain,text/vcard,application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
        busy={uploading.isLoading}
        onFile={(file) => void take(file.name, file)}
      >
        <b>Choose a file, or drop one here</b>
        <br />
        <Soft>
          A workbook (XLSX), a table in text (CSV), visiting cards (VCF). Nothing changes before you
          have looked at it.
        </Soft>
      </FilePlace>
      <p>
        <Soft>Or copy rows in a spreadsheet and paste them here: Ctrl V, or</Soft>{' '}
        <Act onClick={() => setPasting(true)}>paste rows</Act>
      </p>
      <Modal opened={isPasting} onClose={() => setPasting(false)} title="Paste rows" size="lg">
        <PastedRows
          busy={uploading.isLoading}
          onTake={(text) => void take(pastedName(office.timeZone), new Blob([text]))}
        />
      </Modal>
    </>
  );
}

/** Told apart in the list by the moment. */
const pastedName = (zone: string): string => `pasted rows, ${dayAndClock(zone, new Date())}`;

/** What is pasted on the page, and not into a field, comes in: a file, or rows of text. */
function usePastes(onFile: (file: File) => void, zone: string): void {
  const take = useEffectEvent(onFile);
  useEffect(() => {
    const paste = (event: ClipboardEvent): void => {
      const isField =
        event.target instanceof HTMLElement &&
        event.target.closest('input, textarea, [contenteditable]') !== null;
      if (isField || !event.clipboardData) return;
      const [file] = event.clipboardData.files;
      const text = event.clipboardData.getData('text/plain');
      if (file) take(file);
      // A word alone is no row.
      else if (/[\t\n,;]/.test(text.trim())) take(new File([text], pastedName(zone)));
    };
    document.addEventListener('paste', paste);
    return () => document.removeEventListener('paste', paste);
  }, [zone]);
}

function PastedRows({
  busy,
  onTake,
}: {
  readonly busy: boolean;
  readonly onTake: (text: string) => void;
}) {
  const [text, setText] = useState('');
  return (
    <Stack>
      <Textarea
        label="Rows, with the names of the columns above them if there are any"
        autosize
        minRows={8}
        maxRows={16}
        data-autofocus
        value={text}
        onChange={(event) => setText(event.currentTarget.value)}
      />
      <Group justify="flex-end">
        <Button loading={busy} disabled={text.trim() === ''} onClick={() => onTake(text)}>
          Look at these rows
        </Button>
      </Group>
    </Stack>
  );
}

function useColumns(): readonly Column<ImportReply>[] {
  const { office } = useOffice();
  return useMemo(() => {
    const begun = (one: ImportReply): boolean => one.state !== 'uploaded';
    return [
      {
        id: 'file',
        name: 'file',
        fixed: true,
        sort: ({ fileName }) => fileName.toLowerCase(),
        title: ({ fileName }) => fileName,
        view: ({ id, fileName }) => <Name to={`/intake/${id}`}>{fileName}</Name>,
      },
      {
        id: 'when',
        name: 'when',
        width: 96,
        sort: ({ createdAt }) => createdAt,
        view: ({ createdAt }) => <Soft>{day(office.timeZone, createdAt)}</Soft>,
      },
      {
        id: 'by',
        name: 'by',
        width: 150,
        sort: ({ by }) => by,
        view: ({ by }) => <Soft>{by}</Soft>,
      },
      {
        id: 'rows',
        name: 'rows',
        width: 80,
        end: true,
        sort: ({ rows }) => rows,
        view: ({ rows }) => <Num value={rows} />,
      },
      {
        id: 'new',
        name: 'new',
        width: 80,
        end: true,
        sort: ({ newCount }) => newCount,
        view: (one) =>
          begun(one) && <Num value={one.newCount} to={peoplePath(`import.${one.id}.new`)} />,
      },
      {
        id: 'changed',
        name: 'changed',
        width: 80,
        end: true,
        sort: ({ changedCount }) => changedCount,
        view: (one) =>
          begun(one) && (
            <Num value={one.changedCount} to={peoplePath(`import.${one.id}.changed`)} />
          ),
      },
      {
        id: 'refused',
        name: 'refused',
        width: 80,
        end: true,
        sort: ({ refusedCount }) => refusedCount,
        view: (one) => begun(one) && <Num value={one.refusedCount} to={`/intake/${one.id}`} />,
      },
      {
        id: 'stands',
        name: 'stands',
        width: 150,
        sort: importWords,
        view: (one) =>
          one.state === 'running'
            ? `${count(one.cursor)} of ${count(one.rows)} rows`
            : importWords(one),
      },
    ];
  }, [office.timeZone]);
}
