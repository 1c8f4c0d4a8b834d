// The ways in: a file to bring, and what came in before.
import { Title } from '@mantine/core';
import type { ImportReply } from '@palabra/contract/intake';
import { useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { useMay, useOffice } from '../office';
import { command } from '../ui/command';
import { FilePlace } from '../ui/FilePlace';
import { ListPage } from '../ui/ListPage';
import { count, Num, peoplePath } from '../ui/numbers';
import { Name } from '../ui/Rows';
import { Empty, Note } from '../ui/states';
import type { Column } from '../ui/table';
import { Soft } from '../ui/text';
import { day } from '../ui/time';
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
  const take = async (file: File): Promise<void> => {
    setTooLarge(file.size > MOST);
    if (file.size > MOST) return;
    const made = await command({ run: () => upload({ name: file.name, contents: file }).unwrap() });
    if (made) void navigate(`/intake/${made.id}`);
  };
  return (
    <>
      {tooLarge && <Note kind="wrong">This file is larger than 200 MB. Split it in two.</Note>}
      <FilePlace
        label="Choose a CSV file"
        accept=".csv,.txt,.tsv,text/csv,text/plain"
        busy={uploading.isLoading}
        onFile={(file) => void take(file)}
      >
        <b>Choose a CSV file, or drop one here</b>
        <br />
        <Soft>
          Any separator, UTF-8 or Windows-1252. Nothing changes before you have looked at it.
        </Soft>
      </FilePlace>
    </>
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
