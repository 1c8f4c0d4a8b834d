// A tag made in its own place.
import { Button, Group, Modal, Stack, TextInput } from '@mantine/core';
import { TagRequest } from '@palabra/contract/contacts';
import { TAG_NAME_LIMIT, type TagColour } from '@palabra/core/contacts';
import { useState } from 'react';
import { useContractForm } from '../../api/form';
import { Note } from '../../ui/states';
import { useAddTagMutation } from '../contacts.api';
import { Colours } from './Colours';

interface NewTagProps {
  readonly onClose: () => void;
  readonly onMade: (id: number) => void;
}

export function NewTag({ onClose, onMade }: NewTagProps) {
  const [add] = useAddTagMutation();
  const [colour, setColour] = useState<TagColour>('iris');
  const form = useContractForm({
    request: TagRequest,
    initial: { name: '', purpose: '' },
    asRequest: (values) => ({ ...values, colour }),
    send: async (request) => onMade((await add(request).unwrap()).id),
  });
  return (
    <Modal opened title="New tag" onClose={onClose}>
      <form onSubmit={form.send} noValidate>
        <Stack gap="sm">
          <TextInput
            label="Name"
            data-autofocus
            maxLength={TAG_NAME_LIMIT}
            {...form.getInputProps('name')}
          />
          <TextInput label="What it is for" maxLength={200} {...form.getInputProps('purpose')} />
          <Colours label="Colour" value={colour} onChange={setColour} />
          {form.general && <Note kind="wrong">{form.general}</Note>}
          <Group>
            <Button type="submit" loading={form.submitting}>
              Make it
            </Button>
          </Group>
        </Stack>
      </form>
    </Modal>
  );
}
