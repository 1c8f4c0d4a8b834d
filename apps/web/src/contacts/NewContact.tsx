import { Button, Group, Modal, Select, TextInput } from '@mantine/core';
import { NewContactRequest } from '@palabra/contract/contacts';
import { permissionKinds, permissionWords, type PermissionKind } from '@palabra/core/contacts';
import { Link, useNavigate } from 'react-router';
import { useContractForm } from '../api/form';
import { problemOf } from '../api/problems';
import { Note } from '../ui/states';
import { useAddContactMutation } from './contacts.api';

export function NewContact({
  opened,
  onClose,
}: {
  readonly opened: boolean;
  readonly onClose: () => void;
}) {
  return (
    <Modal opened={opened} onClose={onClose} title="New contact">
      {opened && <NewContactForm onClose={onClose} />}
    </Modal>
  );
}

function NewContactForm({ onClose }: { readonly onClose: () => void }) {
  const [add, adding] = useAddContactMutation();
  const navigate = useNavigate();
  const form = useContractForm({
    request: NewContactRequest,
    initial: {
      given_name: '',
      family_name: '',
      address: '',
      town: '',
      permission: 'asked',
      source: '',
    },
    asRequest: ({ permission, source, ...values }) => ({
      values,
      permission: permission as PermissionKind,
      source,
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
        {...form.getInputProps('source')}
      />
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
