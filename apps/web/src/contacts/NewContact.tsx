import { Button, Group, Modal, Select, TextInput } from '@mantine/core';
import { permissionKinds, permissionWords, type PermissionKind } from '@palabra/core/contacts';
import { Link, useNavigate } from 'react-router';
import { problemOf } from '../app/api';
import { useForm } from '../ui/form';
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
    <Modal opened={opened} onClose={onClose} title={<b>New contact</b>}>
      {opened && <NewContactForm onClose={onClose} />}
    </Modal>
  );
}

function NewContactForm({ onClose }: { readonly onClose: () => void }) {
  const [add, adding] = useAddContactMutation();
  const navigate = useNavigate();
  const form = useForm(
    { given_name: '', family_name: '', address: '', town: '', permission: 'asked', source: '' },
    async ({ permission, source, ...values }) => {
      const { id } = await add({
        values,
        permission: permission as PermissionKind,
        source,
      }).unwrap();
      onClose();
      void navigate(`/contacts/${id}`);
    },
  );
  const problem = adding.error ? problemOf(adding.error) : undefined;
  const other = typeof problem?.['person'] === 'number' ? problem['person'] : undefined;
  return (
    <form onSubmit={form.submit} noValidate>
      <Group grow align="start">
        <TextInput
          label="Given name"
          data-autofocus
          maxLength={200}
          {...form.field('given_name')}
        />
        <TextInput label="Family name" maxLength={200} {...form.field('family_name')} />
      </Group>
      <TextInput mt="sm" label="Email address" type="email" {...form.field('address')} />
      {other && <Link to={`/contacts/${other}`}>Open that person</Link>}
      <TextInput mt="sm" label="Town" maxLength={200} {...form.field('town')} />
      <Select
        mt="sm"
        label="How they gave permission"
        allowDeselect={false}
        data={permissionKinds.map((value) => ({ value, label: permissionWords[value] }))}
        value={form.values.permission}
        onChange={(value) => form.set('permission', value ?? 'unknown')}
      />
      <TextInput
        mt="sm"
        label="Where and when"
        placeholder="at the spring fair, on a card"
        maxLength={200}
        {...form.field('source')}
      />
      {form.general && <Note kind="wrong">{form.general}</Note>}
      <Group mt="md">
        <Button type="submit" loading={form.busy}>
          Add this contact
        </Button>
        <Button variant="subtle" color="gray" onClick={onClose}>
          Not now
        </Button>
      </Group>
    </form>
  );
}
