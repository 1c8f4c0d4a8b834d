// A field of the office's own, made where it is missed.
import { Button, Group, Popover, Select, Stack, Text, TextInput } from '@mantine/core';
import { OwnFieldRequest } from '@palabra/contract/contacts';
import { madeTypes, type FieldType } from '@palabra/core/contacts';
import { useState } from 'react';
import { useContractForm } from '../api/form';
import { Note } from '../ui/states';
import { Act } from '../ui/text';
import { useAddFieldMutation, useVocabularyQuery } from './contacts.api';
import { askedKind, KindParts, noKind, type Kind } from './fields/KindParts';
import { typeWords } from './fields/words';

interface NewFieldProps {
  readonly words?: string;
  readonly suggestion?: string;
  /** Its kind, where it can be guessed. */
  readonly type?: FieldType;
  readonly onMade?: (key: string) => void;
}

export function NewField({
  words = '+ field',
  suggestion = '',
  type = 'text',
  onMade,
}: NewFieldProps) {
  const [opened, setOpened] = useState(false);
  return (
    <Popover opened={opened} onChange={setOpened} trapFocus position="bottom-start" width={300}>
      <Popover.Target>
        <Act onClick={() => setOpened(!opened)}>{words}</Act>
      </Popover.Target>
      <Popover.Dropdown>
        {opened && (
          <NewFieldForm
            suggestion={suggestion}
            type={type}
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
  type,
  onMade,
}: {
  readonly suggestion: string;
  readonly type: FieldType;
  readonly onMade: (key: string) => void;
}) {
  const [add] = useAddFieldMutation();
  const { data } = useVocabularyQuery();
  const [kind, setKind] = useState<Kind>(() => noKind(type));
  const form = useContractForm({
    request: OwnFieldRequest,
    initial: { label: suggestion.slice(0, 60) },
    asRequest: ({ label }) => ({ label, type: kind.type, ...askedKind(kind) }),
    send: async (request) => onMade((await add(request).unwrap()).key),
  });
  const choose = (type: string | null): void => {
    const found: FieldType | undefined = madeTypes.find((one) => one === type);
    if (found) setKind({ ...kind, type: found });
  };
  return (
    <form onSubmit={form.send} noValidate>
      <Stack gap="xs">
        <Text fz="xs" c="dimmed">
          A field of your own, for everybody in the office.
        </Text>
        <TextInput
          aria-label="Name of the field"
          placeholder="name, such as “dog’s name”"
          data-autofocus
          maxLength={60}
          {...form.getInputProps('label')}
        />
        <Select
          aria-label="Kind of field"
          allowDeselect={false}
          comboboxProps={{ withinPortal: false }}
          data={madeTypes.map((type) => ({ value: type, label: typeWords[type] }))}
          value={kind.type}
          onChange={choose}
        />
        <KindParts kind={kind} fields={data?.fields ?? []} within onChange={setKind} />
        {form.general && <Note kind="wrong">{form.general}</Note>}
        <Group justify="end">
          <Button
            type="submit"
            size="xs"
            loading={form.submitting}
            disabled={form.values.label.trim() === ''}
          >
            Make this field
          </Button>
        </Group>
      </Stack>
    </form>
  );
}
