// One field, or how they agreed, set for many people at once.
import { Autocomplete, Button, Group, Modal, Select, Stack, TextInput } from '@mantine/core';
import {
  fieldsForMany,
  permissionKinds,
  permissionWords,
  type Field,
} from '@palabra/core/contacts';
import { useState } from 'react';
import { people } from '../ui/numbers';
import { Soft } from '../ui/text';
import { useOccurringQuery, useVocabularyQuery } from './contacts.api';

const PERMISSION = 'permission';

interface FieldForManyProps {
  readonly size: number;
  readonly onClose: () => void;
  readonly onSet: (deed: object) => void;
}

export function FieldForMany({ size, onClose, onSet }: FieldForManyProps) {
  const fields = fieldsForMany(useVocabularyQuery().data?.fields ?? []);
  const [key, setKey] = useState<string | null>(null);
  const field = fields.find((one) => one.key === key);
  return (
    <Modal opened title={`Set a field for ${people(size)}`} onClose={onClose}>
      <Stack gap="sm">
        <Select
          label="Field"
          searchable
          selectFirstOptionOnChange
          data-autofocus
          data={[
            ...fields.map((one) => ({ value: one.key, label: one.label })),
            { value: PERMISSION, label: 'permission' },
          ]}
          value={key}
          onChange={setKey}
        />
        {field && <Value key={field.key} field={field} size={size} onSet={onSet} />}
        {key === PERMISSION && <Permission size={size} onSet={onSet} />}
        {key === null && <Soft>What it replaces can be taken back for thirty days.</Soft>}
      </Stack>
    </Modal>
  );
}

function Value({
  field,
  size,
  onSet,
}: {
  readonly field: Field;
  readonly size: number;
  readonly onSet: (deed: object) => void;
}) {
  const [text, setText] = useState('');
  const occurring = useOccurringQuery({ field: field.key }, { skip: field.type !== 'text' });
  const set = (value: string): void => onSet({ kind: 'field', field: field.key, text: value });
  const offered =
    field.type === 'yes or no' ? ['yes', 'no'] : (occurring.data?.map(({ value }) => value) ?? []);
  return (
    <>
      {field.choices ? (
        <Select
          label="Value"
          searchable
          data={field.choices.map(({ label }) => label)}
          value={text === '' ? null : text}
          onChange={(next) => setText(next ?? '')}
        />
      ) : (
        <Autocomplete
          label="Value"
          description={field.type === 'date' ? 'such as 2026-03-02 or 2 Mar 2026' : undefined}
          data={offered}
          limit={8}
          maxLength={1000}
          value={text}
          onChange={setText}
        />
      )}
      <Group>
        <Button disabled={text.trim() === ''} onClick={() => set(text)}>
          Set it for {people(size)}
        </Button>
        {field.key !== 'owner' && (
          <Button variant="default" onClick={() => set('')}>
            Clear it for {people(size)}
          </Button>
        )}
      </Group>
    </>
  );
}

function Permission({
  size,
  onSet,
}: {
  readonly size: number;
  readonly onSet: (deed: object) => void;
}) {
  const [permission, setPermission] = useState<string | null>('asked');
  const [source, setSource] = useState('');
  return (
    <>
      <Select
        label="Permission"
        data={permissionKinds.map((value) => ({ value, label: permissionWords[value] }))}
        allowDeselect={false}
        value={permission}
        onChange={setPermission}
      />
      <TextInput
        label="Where they agreed"
        maxLength={200}
        value={source}
        onChange={(event) => setSource(event.currentTarget.value)}
      />
      <Group>
        <Button onClick={() => onSet({ kind: 'permission', permission, source })}>
          Set it for {people(size)}
        </Button>
      </Group>
    </>
  );
}
