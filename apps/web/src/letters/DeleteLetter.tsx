// Deleting a letter; one that a planned campaign sends is not deleted before that campaign has another one.
import { Button, Group, Modal, Text } from '@mantine/core';
import type { LetterLine } from '@palabra/contract/letters';
import { useState } from 'react';
import { Link } from 'react-router';
import { Delete } from '../ui/Delete';
import { useRemoveLetterMutation, useRestoreLetterMutation } from './letters.api';

export function DeleteLetter({ letter: { id, name, uses } }: { readonly letter: LetterLine }) {
  const [remove] = useRemoveLetterMutation();
  const [restore] = useRestoreLetterMutation();
  const [asking, setAsking] = useState(false);
  const waiting = uses.filter(({ waits }) => waits);
  return (
    <>
      <Delete
        name={name}
        remove={() => remove(id).unwrap()}
        restore={() => restore(id).unwrap()}
        instead={waiting.length > 0 ? () => setAsking(true) : undefined}
      />
      <Modal
        opened={asking}
        onClose={() => setAsking(false)}
        title={`“${name}” is about to be sent`}
      >
        <Text>
          {waiting.length === 1 ? 'A campaign waits' : 'Campaigns wait'} for its time and will send
          this letter. Choose another letter there, or call it back to a draft, and delete the
          letter then.
        </Text>
        <ul>
          {waiting.map((use) => (
            <li key={use.id}>
              <Link to={`/campaigns/${use.id}`}>{use.name}</Link>
            </li>
          ))}
        </ul>
        <Group mt="md">
          <Button variant="default" data-autofocus onClick={() => setAsking(false)}>
            Keep the letter
          </Button>
        </Group>
      </Modal>
    </>
  );
}
