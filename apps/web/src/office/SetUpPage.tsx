import { Button, PasswordInput, Select, Textarea, TextInput } from '@mantine/core';
import { useForm } from '../ui/form';
import { Note } from '../ui/states';
import { useSetUpMutation } from './office.api';

export const timeZones = (): string[] => Intl.supportedValuesOf('timeZone');

/** The first visit: the office and its first account. */
export function SetUpPage() {
  const [setUp] = useSetUpMutation();
  const form = useForm(
    {
      code: '',
      officeName: '',
      postalAddress: '',
      timeZone: Intl.DateTimeFormat().resolvedOptions().timeZone,
      name: '',
      address: '',
      password: '',
    },
    (values) => setUp(values).unwrap(),
  );
  const zone = form.field('timeZone');
  return (
    <main className="sign-in" id="work">
      <span className="mark">
        palabra<span>.</span>
      </span>
      <h1>Set up your office</h1>
      <p className="soft">All of this can be changed later.</p>
      <form onSubmit={form.submit} noValidate>
        <TextInput
          mt="md"
          label="Code"
          description="Palabra printed it where it was started, so that nobody else takes your office."
          placeholder="XXXX-XXXX"
          autoComplete="off"
          spellCheck={false}
          required
          autoFocus
          {...form.field('code')}
        />
        <TextInput
          mt="sm"
          label="Name of the office"
          description="Readers see it in every letter."
          required
          {...form.field('officeName')}
        />
        <Textarea
          mt="sm"
          label="Postal address"
          description="Every letter has to carry one."
          autosize
          minRows={3}
          required
          {...form.field('postalAddress')}
        />
        <Select
          mt="sm"
          label="Time zone"
          searchable
          data={timeZones()}
          value={zone.value}
          error={zone.error}
          onChange={(value) => form.set('timeZone', value ?? '')}
        />
        <TextInput mt="lg" label="Your name" autoComplete="name" required {...form.field('name')} />
        <TextInput
          mt="sm"
          label="Your email address"
          type="email"
          autoComplete="username"
          required
          {...form.field('address')}
        />
        <PasswordInput
          mt="sm"
          label="A password"
          description="At least ten signs; a short sentence is good."
          autoComplete="new-password"
          required
          {...form.field('password')}
        />
        {form.general && <Note kind="wrong">{form.general}</Note>}
        <Button mt="md" mb="xl" type="submit" loading={form.busy}>
          Set up and sign in
        </Button>
      </form>
    </main>
  );
}
