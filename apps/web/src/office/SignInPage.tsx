import { Button, PasswordInput, TextInput } from '@mantine/core';
import { useForm } from '../ui/form';
import { Note } from '../ui/states';
import { useSignInMutation } from './office.api';

export function SignInPage() {
  const [signIn] = useSignInMutation();
  const form = useForm({ address: '', password: '' }, (values) => signIn(values).unwrap());
  return (
    <main className="sign-in" id="work">
      <span className="mark">
        palabra<span>.</span>
      </span>
      <h1>Sign in</h1>
      <form onSubmit={form.submit} noValidate>
        <TextInput
          mt="md"
          label="Email address"
          type="email"
          autoComplete="username"
          autoFocus
          required
          {...form.field('address')}
        />
        <PasswordInput
          mt="sm"
          label="Password"
          autoComplete="current-password"
          required
          {...form.field('password')}
        />
        {form.general && (
          <div role="alert">
            <Note kind="wrong">{form.general}</Note>
          </div>
        )}
        <Button mt="md" type="submit" loading={form.busy}>
          Sign in
        </Button>
      </form>
    </main>
  );
}
