// One field, or how they agreed, set for many people at once.
import { Button, Group, Modal, Select, Stack, TextInput } from '@mantine/core';
import {
  fieldsForMany,
  permissionKinds,
  permissionWords,
  type Field,
} from '@palabra/core/contacts';
import { useState } from 'react';
import { useOffice } from '../office';
import { people } from '../ui/numbers';
import { Soft } from '../ui/text';
import { useVocabularyQuery } from './contacts.api';
import { FieldInput } from './fields/FieldInput';
import { Wording } from './Wording';

const PERMISSION = 'permission';
const POOL = 'pool';
const SHARED = 'shared with';

interface FieldForManyProps {
  readonly size: number;
  readonly onClose: () => void;
  readonly onSet: (deed: object) => void;
}

export function FieldForMany({ size, onClose, onSet }: FieldForManyProps) {
  const { user } = useOffice();
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
            { value: PERMISSION, label: PERMISSION },
            { value: SHARED, label: SHARED },
            ...(user.role === 'coordinator' ? [{ value: POOL, label: POOL }] : []),
          ]}
          value={key}
          onChange={setKey}
        />
        {field && <Value key={field.key} field={field} size={size} onSet={onSet} />}
        {key === SHARED && <Sharing size={size} onSet={onSet} />}
        {key === POOL && <Pool size={size} onSet={onSet} />}
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
  const set = (value: string): void => onSet({ kind: 'field', field: field.key, text: value });
  return (
    <>
      <FieldInput field={field} label="Value" value={text} onChange={setText} />
      <Group>
        <Button disabled={text.trim() === ''} onClick={() => set(text)}>
          Set it for {people(size)}
        </Button>
        {field.key !== 'owner' && !field.isRequired && (
          <Button variant="default" onClick={() => set('')}>
            Clear it for {people(size)}
          </Button>
        )}
      </Group>
    </>
  );
}

function Pool({ size, onSet }: { readonly size: number; readonly onSet: (deed: object) => void }) {
  const pools = useVocabularyQuery().data?.pools ?? [];
  const [pool, setPool] = useState<string | null>(null);
  return (
    <>
      <Select
        label="Pool"
        description="Segments and campaigns sift one pool. Whose address somebody there has stays where they are."
        data={pools.map(({ id, name }) => ({ value: String(id), label: name }))}
        value={pool}
        onChange={setPool}
      />
      <Group>
        <Button
          disabled={pool === null}
          onClick={() => onSet({ kind: 'pool', pool: Number(pool) })}
        >
          Move {people(size)}
        </Button>
      </Group>
    </>
  );
}

function Sharing({
  size,
  onSet,
}: {
  readonly size: number;
  readonly onSet: (deed: object) => void;
}) {
  const { user } = useOffice();
  const owners = useVocabularyQuery().data?.owners ?? [];
  const [colleague, setColleague] = useState<string | null>(null);
  const share = (put: boolean): void => onSet({ kind: 'share', colleague, put });
  return (
    <>
      <Select
        label="Colleague"
        description="They see these people and work with them as with their own. Whose people are, and who sees them, stays with the owner."
        searchable
        selectFirstOptionOnChange
        data={owners
          .filter(({ key }) => key !== String(user.id))
          .map(({ key, label }) => ({ value: key, label }))}
        value={colleague}
        onChange={setColleague}
      />
      <Group>
        <Button disabled={colleague === null} onClick={() => share(true)}>
          Share {people(size)}
        </Button>
        <Button variant="default" disabled={colleague === null} onClick={() => share(false)}>
          Share them no longer
        </Button>
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
  const [wording, setWording] = useState('');
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
      <Wording value={wording} onChange={setWording} />
      <Group>
        <Button onClick={() => onSet({ kind: 'permission', permission, source, wording })}>
          Set it for {people(size)}
        </Button>
      </Group>
    </>
  );
}
