// A field of the office's own, made where it is missed.
import { Button, Group, Popover, Text, TextInput } from '@mantine/core';
import { OwnFieldRequest } from '@palabra/contract/contacts';
import { useState } from 'react';
import { useContractForm } from '../api/form';
import { Pick } from '../ui/Pick';
import { Note } from '../ui/states';
import { Act } from '../ui/text';
import { useAddFieldMutation } from './contacts.api';

const types = ['text', 'number', 'date', 'yes or no'] as const;

interface NewFieldProps {
  readonly words?: string;
  readonly suggestion?: string;
  readonly onMade?: (key: string) => void;
}

export function NewField({ words = '+ field', suggestion = '', onMade }: NewFieldProps) {
  const [opened, setOpened] = useState(false);
  return (
    <Popover opened={opened} onChange={setOpened} trapFocus position="bottom-start" width={280}>
      <Popover.Target>
        <Act onClick={() => setOpened(!opened)}>{words}</Act>
      </Popover.Target>
      <Popover.Dropdown>
        {opened && (
          <NewFieldForm
            suggestion={suggestion}
            onMade={(key) => {
              setOpened(false);
              onMade?.(key);
            }}
          />
        )}
      </Popover.Dropdown>
    </Popover>
  );
}

function NewFieldForm({
  suggestion,
  onMade,
}: {
  readonly suggestion: string;
  readonly onMade: (key: string) => void;
}) {
  const [add] = useAddFieldMutation();
  const form = useContractForm({
    request: OwnFieldRequest,
    initial: { label: suggestion.slice(0, 60), type: 'text' },
    asRequest: ({ label, type }) => ({ label, type: types.find((one) => one === type) }),
    send: async (request) => onMade((await add(request).unwrap()).key),
  });
  return (
    <form onSubmit={form.send} noValidate>
      <Text fz="xs" c="dimmed" mb={6}>
        A field of your own, for everybody in the office.
      </Text>
      <TextInput
        aria-label="Name of the field"
        placeholder="name, such as “dog’s name”"
        data-autofocus
        maxLength={60}
        {...form.getInputProps('label')}
      />
      <Group mt="xs" justify="space-between">
        <Pick
          label="Kind of field"
          value={form.values.type}
          options={types.map((one) => ({ value: one, label: one }))}
          comboboxProps={{ withinPortal: false }}
          onChange={(type) => form.setFieldValue('type', type ?? 'text')}
        />
        <Button
          type="submit"
          size="xs"
          loading={form.submitting}
          disabled={form.values.label.trim() === ''}
        >
          Make this field
        </Button>
      </Group>
      {form.general && <Note kind="wrong">{form.general}</Note>}
    </form>
  );
}
