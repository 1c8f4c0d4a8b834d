// One's own name, address and password.
import { Button, Group, PasswordInput, TextInput } from '@mantine/core';
import { OwnAccountRequest, PasswordRequest } from '@palabra/contract/office';
import { useState } from 'react';
import { useContractForm } from '../api/form';
import { Note } from '../ui/states';
import { Soft } from '../ui/text';
import { useChangeOwnAccountMutation, useChangePasswordMutation } from './office.api';
import { useOffice } from './OfficeContext';

export function OwnAccount() {
  const { user } = useOffice();
  const [change] = useChangeOwnAccountMutation();
  const [isKept, setKept] = useState(false);
  const form = useContractForm({
    request: OwnAccountRequest,
    initial: { name: user.name, address: user.address, password: '' },
    send: async (request) => {
      setKept(false);
      await change(request).unwrap();
      form.setFieldValue('password', '');
      setKept(true);
    },
  });
  return (
    <form onSubmit={form.send} noValidate>
      <TextInput label="Name" autoComplete="name" {...form.getInputProps('name')} />
      <TextInput
        mt="sm"
        label="Email address"
        description="You sign in with it."
        type="email"
        {...form.getInputProps('address')}
      />
      {form.values.address !== user.address && (
        <PasswordInput
          mt="sm"
          label="Your password"
          description="A new address needs it."
          autoComplete="current-password"
          {...form.getInputProps('password')}
        />
      )}
      {form.general && <Note kind="wrong">{form.general}</Note>}
      <Done busy={form.submitting} words="Keep it" said={isKept && 'Kept.'} />
    </form>
  );
}

export function PasswordForm() {
  const [change] = useChangePasswordMutation();
  const [isDone, setDone] = useState(false);
  const form = useContractForm({
    request: PasswordRequest,
    initial: { current: '', next: '' },
    send: async (request) => {
      setDone(false);
      await change(request).unwrap();
      form.setValues({ current: '', next: '' });
      setDone(true);
    },
  });
  return (
    <form onSubmit={form.send} noValidate>
      <PasswordInput
        label="The present one"
        autoComplete="current-password"
        {...form.getInputProps('current')}
      />
      <PasswordInput
        mt="sm"
        label="The new one"
        description="At least ten signs."
        autoComplete="new-password"
        {...form.getInputProps('next')}
      />
      {form.general && <Note kind="wrong">{form.general}</Note>}
      <Done
        busy={form.submitting}
        words="Change it"
        said={isDone && 'Changed. Other sessions were ended.'}
      />
    </form>
  );
}

function Done({
  busy,
  words,
  said,
}: {
  readonly busy: boolean;
  readonly words: string;
  readonly said: string | false;
}) {
  return (
    <Group mt="md">
      <Button variant="default" type="submit" loading={busy}>
        {words}
      </Button>
      {said && (
        <Soft c="var(--good)" role="status">
          {said}
        </Soft>
      )}
    </Group>
  );
}
