// A new letter: its name, and what it starts from.
import { Button, Modal, TextInput } from '@mantine/core';
import { shippedTemplates } from '@palabra/core/letters';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { command } from '../ui/command';
import { Row, Rows } from '../ui/Rows';
import { Soft } from '../ui/text';
import { useAddLetterMutation } from './letters.api';

export function StartLetter({
  opened,
  onClose,
}: {
  readonly opened: boolean;
  readonly onClose: () => void;
}) {
  return (
    <Modal opened={opened} onClose={onClose} title="New letter" size="lg">
      {opened && <Starting />}
    </Modal>
  );
}

function Starting() {
  const [add, adding] = useAddLetterMutation();
  const navigate = useNavigate();
  const [name, setName] = useState('');
  const begin = async (fallback: string, template?: string): Promise<void> => {
    const made = await command({
      run: () => add({ name: name.trim() || fallback, template }).unwrap(),
    });
    if (made) void navigate(`/letters/${made.id}`);
  };
  const starts = [
    ...shippedTemplates.map(({ key, name: own, about }) => ({
      key,
      name: own,
      about,
      words: 'Start from this',
      go: () => begin(own, key),
    })),
    {
      key: '',
      name: 'From nothing',
      about: 'Only the footer is there.',
      words: 'Start from nothing',
      go: () => begin('New letter'),
    },
  ];
  return (
    <>
      <TextInput
        label="Name"
        description="Only the office sees it."
        data-autofocus
        maxLength={120}
        mb="sm"
        value={name}
        onChange={(event) => setName(event.currentTarget.value)}
      />
      <Rows>
        {starts.map((start) => (
          <Row
            key={start.key}
            end={
              <Button
                size="xs"
                variant="default"
                disabled={adding.isLoading}
                aria-label={start.key === '' ? undefined : `${start.words}: ${start.name}`}
                onClick={() => void start.go()}
              >
                {start.words}
              </Button>
            }
          >
            <b>{start.name}</b> <Soft>{start.about}</Soft>
          </Row>
        ))}
      </Rows>
    </>
  );
}
