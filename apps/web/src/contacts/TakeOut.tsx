// People as a file: as one reads them in the table, to be opened elsewhere.
import { Button, Checkbox, Group, Modal, ScrollArea, SegmentedControl, Stack } from '@mantine/core';
import { exportFormatNames, exportFormats, type ExportFormat } from '@palabra/core/contacts';
import { useRef, useState } from 'react';
import { tell } from '../ui/command';
import { people } from '../ui/numbers';
import { Note } from '../ui/states';
import { Act, Soft } from '../ui/text';
import { useVocabularyQuery } from './contacts.api';
import type { Meant } from './selection';

interface TakeOutProps {
  readonly meant: Meant;
  readonly size: number;
  readonly sort: string | undefined;
  /** The columns one sees; they are taken unless others are chosen. */
  readonly shown: readonly string[];
  readonly onClose: () => void;
}

const further = [
  { key: 'name', label: 'name, as in lists' },
  { key: 'tags', label: 'tags' },
  { key: 'do_not_mail', label: 'do not mail' },
];

export function TakeOut({ meant, size, sort, shown, onClose }: TakeOutProps) {
  const fields = useVocabularyQuery().data?.fields ?? [];
  const [format, setFormat] = useState<ExportFormat>('csv');
  const [columns, setColumns] = useState<readonly string[]>([
    'given_name',
    'family_name',
    'address',
    ...shown,
    'tags',
  ]);
  const { begin, isRunning, wrong, stop } = useDownload();
  const all = [...fields.map(({ key, label }) => ({ key, label })), ...further];
  const take = async (): Promise<void> => {
    const chosen = all.map(({ key }) => key).filter((key) => columns.includes(key));
    if (await begin({ people: meant, format, columns: chosen, sort }, `contacts.${format}`)) {
      onClose();
      tell(`${people(size)} were taken out as ${exportFormatNames[format]}.`, 'good');
    }
  };
  return (
    <Modal
      opened
      title={`Take ${people(size)} out as a file`}
      onClose={() => {
        stop();
        onClose();
      }}
    >
      <Stack gap="sm">
        <SegmentedControl<ExportFormat>
          aria-label="Kind of file"
          value={format}
          data={exportFormats.map((value) => ({ value, label: exportFormatNames[value] }))}
          onChange={setFormat}
        />
        {format === 'vcf' ? (
          <Soft>A card has the name, the address, the telephone and the place.</Soft>
        ) : (
          <ScrollArea.Autosize mah={260} type="auto">
            <Stack gap={10}>
              {all.map(({ key, label }) => (
                <Checkbox
                  key={key}
                  label={label}
                  checked={columns.includes(key)}
                  onChange={(event) =>
                    setColumns(
                      event.currentTarget.checked
                        ? [...columns, key]
                        : columns.filter((one) => one !== key),
                    )
                  }
                />
              ))}
            </Stack>
          </ScrollArea.Autosize>
        )}
        {wrong !== undefined && <Note kind="wrong">{wrong}</Note>}
        <Group>
          <Button
            loading={isRunning}
            disabled={format !== 'vcf' && columns.length === 0}
            onClick={() => void take()}
          >
            Take {people(size)} out
          </Button>
          {isRunning && <Act onClick={stop}>Stop</Act>}
        </Group>
        <Soft>It is written down in the activity log who took out how many.</Soft>
      </Stack>
    </Modal>
  );
}

/** A file that is made for a request; stopped, nothing is kept. */
function useDownload() {
  const [isRunning, setRunning] = useState(false);
  const [wrong, setWrong] = useState<string>();
  const running = useRef<AbortController>(undefined);
  const begin = async (request: object, name: string): Promise<boolean> => {
    const control = new AbortController();
    running.current = control;
    setRunning(true);
    setWrong(undefined);
    try {
      const response = await fetch('/api/people/export', {
        method: 'POST',
        headers: { 'content-type': 'application/json', 'x-requested-by': 'palabra' },
        body: JSON.stringify(request),
        signal: control.signal,
      });
      if (!response.ok) {
        const problem = (await response.json()) as { detail?: string };
        throw new Error(problem.detail ?? 'The file could not be made.');
      }
      const link = document.createElement('a');
      link.href = URL.createObjectURL(await response.blob());
      link.download = name;
      link.click();
      setTimeout(() => URL.revokeObjectURL(link.href), 60_000);
      return true;
    } catch (error) {
      if (!control.signal.aborted)
        setWrong(error instanceof Error ? error.message : 'The file could not be made.');
      return false;
    } finally {
      setRunning(false);
    }
  };
  return { begin, isRunning, wrong, stop: () => running.current?.abort() };
}
