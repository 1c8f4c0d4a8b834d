import { Button, Group, Modal, Select, Stack, TextInput } from '@mantine/core';
import { NewContactRequest } from '@palabra/contract/contacts';
import {
  permissionKinds,
  permissionWords,
  type Field,
  type PermissionKind,
} from '@palabra/core/contacts';
import { Link, useNavigate } from 'react-router';
import { useContractForm } from '../api/form';
import { problemOf } from '../api/problems';
import { Note } from '../ui/states';
import { useAddContactMutation, useVocabularyQuery } from './contacts.api';
import { Wording } from './Wording';
import { FieldInput } from './fields/FieldInput';

export function NewContact({
  opened,
  onClose,
}: {
  readonly opened: boolean;
  readonly onClose: () => void;
}) {
  const { data } = useVocabularyQuery();
  return (
    <Modal opened={opened} onClose={onClose} title="New contact">
      {opened && data && <NewContactForm fields={data.fields} onClose={onClose} />}
    </Modal>
  );
}

const usual: ReadonlySet<string> = new Set(['given_name', 'family_name', 'address', 'town']);

interface NewContactFormProps {
  readonly fields: readonly Field[];
  readonly onClose: () => void;
}

function NewContactForm({ fields, onClose }: NewContactFormProps) {
  /** What nobody comes without, and what everybody comes with. */
  const further = fields.filter(
    ({ key, isRequired, standard }) =>
      !usual.has(key) && (isRequired || (standard !== undefined && key !== 'source')),
  );
  const [add, adding] = useAddContactMutation();
  const navigate = useNavigate();
  const form = useContractForm<Record<string, string>, NewContactRequest>({
    request: NewContactRequest,
    initial: {
      given_name: '',
      family_name: '',
      address: '',
      town: '',
      ...Object.fromEntries(further.map(({ key, standard = '' }) => [key, standard])),
      permission: 'asked',
      agreed: '',
      wording: '',
    },
    asRequest: ({ permission, agreed, wording, ...values }) => ({
      values,
      permission: permission as PermissionKind,
      source: agreed ?? '',
      wording: wording ?? '',
    }),
    send: async (request) => {
      const { id } = await add(request).unwrap();
      onClose();
      void navigate(`/contacts/${id}`);
    },
  });
  const problem = adding.error ? problemOf(adding.error) : undefined;
  const other = typeof problem?.['person'] === 'number' ? problem['person'] : undefined;
  return (
    <form onSubmit={form.send} noValidate>
      <Group grow align="start">
        <TextInput
          label="Given name"
          data-autofocus
          maxLength={200}
          {...form.getInputProps('given_name')}
        />
        <TextInput label="Family name" maxLength={200} {...form.getInputProps('family_name')} />
      </Group>
      <TextInput mt="sm" label="Email address" type="email" {...form.getInputProps('address')} />
      {other && <Link to={`/contacts/${other}`}>Open that person</Link>}
      <TextInput mt="sm" label="Town" maxLength={200} {...form.getInputProps('town')} />
      <Stack gap="sm" mt={further.length > 0 ? 'sm' : 0}>
        {further.map((field) => (
          <FieldInput
            key={field.key}
            field={field}
            value={form.values[field.key] ?? ''}
            error={form.errors[field.key]}
            onChange={(text) => form.setFieldValue(field.key, text)}
          />
        ))}
      </Stack>
      <Select
        mt="sm"
        label="How they gave permission"
        data={permissionKinds.map((value) => ({ value, label: permissionWords[value] }))}
        {...form.getInputProps('permission')}
      />
      <TextInput
        mt="sm"
        label="Where and when"
        placeholder="at the spring fair, on a card"
        maxLength={200}
        {...form.getInputProps('agreed')}
      />
      <Stack mt="sm">
        <Wording
          value={form.values['wording'] ?? ''}
          onChange={(text) => form.setFieldValue('wording', text)}
        />
      </Stack>
      {form.general && <Note kind="wrong">{form.general}</Note>}
      <Group mt="md">
        <Button type="submit" loading={form.submitting}>
          Add this contact
        </Button>
        <Button variant="subtle" color="gray" onClick={onClose}>
          Not now
        </Button>
      </Group>
    </form>
  );
}
