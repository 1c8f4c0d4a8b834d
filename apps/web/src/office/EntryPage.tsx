// A link for setting a password: the first one, or a new one. Using it signs in.
import { Button, PasswordInput } from '@mantine/core';
import { EntryRequest } from '@palabra/contract/office';
import { Link, useNavigate, useParams } from 'react-router';
import { useContractForm } from '../api/form';
import { problemOf } from '../api/problems';
import { Ghost, Note } from '../ui/states';
import { Soft } from '../ui/text';
import { Entry } from './Entry';
import { useEnterMutation, useEntryQuery } from './office.api';

export function EntryPage() {
  const token = useParams()['token'] ?? '';
  const entry = useEntryQuery(token);
  const navigate = useNavigate();
  const [enter] = useEnterMutation();
  const form = useContractForm({
    request: EntryRequest,
    initial: { password: '' },
    asRequest: ({ password }) => ({ token, password }),
    send: async (request) => {
      await enter(request).unwrap();
      void navigate('/', { replace: true });
    },
  });
  if (entry.isError)
    return (
      <Entry title="This link can’t be used">
        <p>{problemOf(entry.error).detail}</p>
        <Link to="/">To the sign-in</Link>
      </Entry>
    );
  if (!entry.data)
    return (
      <Entry title="…">
        <Ghost />
      </Entry>
    );
  const { office, name, address, isFirst } = entry.data;
  return (
    <Entry title={isFirst ? `Welcome to ${office}` : 'A new password'}>
      <p>
        <Soft>
          {name}, from now on you sign in with {address} and the password that you choose here.
        </Soft>
      </p>
      <form onSubmit={form.send} noValidate>
        <input type="hidden" autoComplete="username" value={address} readOnly />
        <PasswordInput
          label="Your password"
          description="At least ten signs; a short sentence is good."
          autoComplete="new-password"
          autoFocus
          required
          {...form.getInputProps('password')}
        />
        {form.general && <Note kind="wrong">{form.general}</Note>}
        <Button mt="md" type="submit" loading={form.submitting}>
          Keep it and sign in
        </Button>
      </form>
    </Entry>
  );
}
