// A colleague: new, or changed.
import { Button, Group, Select, TextInput } from '@mantine/core';
import { AccountRequest, type AccountLine } from '@palabra/contract/office';
import { roles } from '@palabra/core/office';
import { useContractForm } from '../api/form';
import { Note } from '../ui/states';
import { useAddAccountMutation, useChangeAccountMutation } from './office.api';

interface AccountFormProps {
  readonly account?: AccountLine;
  readonly onDone: () => void;
  readonly onMade?: (id: number, signsIn: boolean) => void;
}

export function AccountForm({ account, onDone, onMade }: AccountFormProps) {
  const [add] = useAddAccountMutation();
  const [change] = useChangeAccountMutation();
  const form = useContractForm({
    request: AccountRequest,
    initial: {
      name: account?.name ?? '',
      address: account?.address ?? '',
      role: account?.role ?? 'member',
    },
    asRequest: (values) => ({ ...values, role: values.role }),
    send: async (request) => {
      if (account) await change({ id: account.id, ...request }).unwrap();
      else {
        const made = await add(request).unwrap();
        onMade?.(made.id, made.address !== null);
        return;
      }
      onDone();
    },
  });
  return (
    <form onSubmit={form.send} noValidate>
      <TextInput mt="xs" label="Name" autoFocus {...form.getInputProps('name')} />
      <TextInput
        mt="sm"
        label="Email address"
        description="They sign in with it. Empty for a colleague who looks after people and never signs in."
        type="email"
        {...form.getInputProps('address')}
      />
      <Select
        mt="sm"
        label="Role"
        description="Coordinators do everything. Managers read. Members see and change their own people, and those shared with them."
        data={[...roles]}
        {...form.getInputProps('role')}
      />
      {form.general && <Note kind="wrong">{form.general}</Note>}
      <Group my="md">
        <Button type="submit" loading={form.submitting}>
          {account ? 'Keep it' : 'Add this colleague'}
        </Button>
        <Button variant="subtle" color="gray" onClick={onDone}>
          Not now
        </Button>
      </Group>
    </form>
  );
}
