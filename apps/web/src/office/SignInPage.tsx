import { Button, PasswordInput, TextInput } from '@mantine/core';
import { ForgottenRequest, SignInRequest } from '@palabra/contract/office';
import { useState } from 'react';
import { useContractForm } from '../api/form';
import { Note } from '../ui/states';
import { Act, Soft } from '../ui/text';
import { Entry } from './Entry';
import { useForgottenMutation, useSignInMutation } from './office.api';

export function SignInPage() {
  const [isForgotten, setForgotten] = useState(false);
  return isForgotten ? (
    <Forgotten onBack={() => setForgotten(false)} />
  ) : (
    <SignIn onForgotten={() => setForgotten(true)} />
  );
}

function SignIn({ onForgotten }: { readonly onForgotten: () => void }) {
  const [signIn] = useSignInMutation();
  const form = useContractForm({
    request: SignInRequest,
    initial: { address: '', password: '' },
    send: (request) => signIn(request).unwrap(),
  });
  return (
    <Entry title="Sign in">
      <form onSubmit={form.send} noValidate>
        <TextInput
          mt="md"
          label="Email address"
          type="email"
          autoComplete="username"
          autoFocus
          required
          {...form.getInputProps('address')}
        />
        <PasswordInput
          mt="sm"
          label="Password"
          autoComplete="current-password"
          required
          {...form.getInputProps('password')}
        />
        {form.general && <Note kind="wrong">{form.general}</Note>}
        <Button my="md" type="submit" loading={form.submitting}>
          Sign in
        </Button>
      </form>
      <Act onClick={onForgotten}>Forgot the password?</Act>
    </Entry>
  );
}

function Forgotten({ onBack }: { readonly onBack: () => void }) {
  const [forgotten] = useForgottenMutation();
  const [sent, setSent] = useState(false);
  const form = useContractForm({
    request: ForgottenRequest,
    initial: { address: '' },
    send: async (request) => {
      await forgotten(request).unwrap();
      setSent(true);
    },
  });
  return (
    <Entry title="A new password">
      {sent ? (
        <p role="status">
          If somebody signs in with {form.values.address}, a link is on its way there. It works for
          one hour. A coordinator of your office can make one, too.
        </p>
      ) : (
        <form onSubmit={form.send} noValidate>
          <p>
            <Soft>A link to set a new one is mailed to you.</Soft>
          </p>
          <TextInput
            label="Email address"
            type="email"
            autoComplete="username"
            autoFocus
            required
            {...form.getInputProps('address')}
          />
          {form.general && <Note kind="wrong">{form.general}</Note>}
          <Button my="md" type="submit" loading={form.submitting}>
            Mail me a link
          </Button>
        </form>
      )}
      <Act onClick={onBack}>Back to the sign-in</Act>
    </Entry>
  );
}
