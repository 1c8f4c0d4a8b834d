// All letters, each as a small picture of itself.
import { Button, Group } from '@mantine/core';
import type { LetterLine } from '@palabra/contract/letters';
import { lineText } from '@palabra/core/letters';
import { useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { useMay, useOffice } from '../office';
import { command } from '../ui/command';
import { ListPage } from '../ui/ListPage';
import { Miniature } from '../ui/Miniature';
import { Name } from '../ui/Rows';
import { Empty } from '../ui/states';
import type { Column } from '../ui/table';
import { Act, Soft } from '../ui/text';
import { ago } from '../ui/time';
import { Uses } from '../ui/Uses';
import { DeleteLetter } from './DeleteLetter';
import { pictureOf, useAddLetterMutation, useLettersQuery } from './letters.api';
import { LineText } from './LinePreview';
import { StartLetter } from './StartLetter';

export function LettersPage() {
  const letters = useLettersQuery(undefined, { refetchOnMountOrArgChange: true });
  const may = useMay('write letters');
  const [starting, setStarting] = useState(false);
  const columns = useColumns(may);
  const button = may && <Button onClick={() => setStarting(true)}>New letter</Button>;
  return (
    <ListPage
      title="Letters"
      sub="what is written: subject, preview line, blocks"
      actions={button}
      rows={letters.data}
      error={letters.error}
      again={() => void letters.refetch()}
      columns={columns}
      rowHeight={84}
      textOf={textOf}
      empty={
        <Empty title="No letters yet">
          <p>Write one from a template or from nothing; it is saved as you write.</p>
          {button}
        </Empty>
      }
    >
      <StartLetter opened={starting} onClose={() => setStarting(false)} />
    </ListPage>
  );
}

const textOf = ({ name, subject }: LetterLine): string => `${name} ${lineText(subject)}`;

function useColumns(may: boolean): readonly Column<LetterLine>[] {
  const { office } = useOffice();
  return useMemo(
    () => [
      {
        id: 'picture',
        name: '',
        width: 76,
        view: ({ id, name, updatedAt }) => (
          <Miniature
            src={pictureOf(id, updatedAt)}
            title={`What ${name} looks like`}
            width={58}
            height={72}
          />
        ),
      },
      {
        id: 'name',
        name: 'letter',
        width: 280,
        fixed: true,
        sort: ({ name }) => name.toLowerCase(),
        title: ({ name }) => name,
        view: ({ id, name }) => <Name to={`/letters/${id}`}>{name}</Name>,
      },
      {
        id: 'subject',
        name: 'subject',
        sort: ({ subject }) => lineText(subject).toLowerCase(),
        title: ({ subject }) => lineText(subject),
        view: ({ subject }) => (
          <Soft>
            <LineText line={subject} />
          </Soft>
        ),
      },
      {
        id: 'uses',
        name: 'sent by',
        width: 250,
        sort: ({ uses }) => uses.length,
        title: ({ uses }) => uses.map(({ name }) => name).join(', '),
        view: ({ uses }) => <Uses uses={uses} path="/campaigns" most={1} />,
      },
      {
        id: 'changed',
        name: 'changed',
        width: 92,
        sort: ({ updatedAt }) => updatedAt,
        view: ({ updatedAt }) => <Soft>{ago(office.timeZone, updatedAt)}</Soft>,
      },
      ...(may
        ? [
            {
              id: 'acts',
              name: '',
              width: 116,
              fixed: true,
              view: (letter: LetterLine) => (
                <Group gap="sm" wrap="nowrap">
                  <Copy letter={letter} />
                  <DeleteLetter letter={letter} />
                </Group>
              ),
            },
          ]
        : []),
    ],
    [may, office.timeZone],
  );
}

function Copy({ letter: { id, name } }: { readonly letter: LetterLine }) {
  const navigate = useNavigate();
  const [add] = useAddLetterMutation();
  const copy = async (): Promise<void> => {
    const made = await command({
      run: () => add({ name: `${name}, again`.slice(0, 120), copyOf: id }).unwrap(),
    });
    if (made) void navigate(`/letters/${made.id}`);
  };
  return (
    <Act aria-label={`Copy ${name}`} onClick={() => void copy()}>
      Copy
    </Act>
  );
}
