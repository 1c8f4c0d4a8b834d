// The first visit: the office and its first account; beside it, what a reader will see of it, and what comes next.
import { Button, Fieldset, PasswordInput, Select, Textarea, TextInput, Title } from '@mantine/core';
import { SetUpRequest } from '@palabra/contract/office';
import { useContractForm, type ContractForm } from '../api/form';
import { Note } from '../ui/states';
import { Soft } from '../ui/text';
import { countryOf } from './countries';
import { CountrySelect } from './CountrySelect';
import { Entry } from './Entry';
import { useSetUpMutation } from './office.api';
import classes from './office.module.css';

/** The browser’s own is among them, also where it has none that is listed. */
export const timeZones = (): string[] => [
  ...new Set([
    ...Intl.supportedValuesOf('timeZone'),
    Intl.DateTimeFormat().resolvedOptions().timeZone,
  ]),
];

interface Values extends Record<string, string> {
  code: string;
  officeName: string;
  postalAddress: string;
  timeZone: string;
  country: string;
  name: string;
  address: string;
  password: string;
}

export function SetUpPage() {
  const [setUp] = useSetUpMutation();
  const here = Intl.DateTimeFormat().resolvedOptions().timeZone;
  const form = useContractForm<Values, SetUpRequest>({
    request: SetUpRequest,
    initial: {
      code: '',
      officeName: '',
      postalAddress: '',
      timeZone: here,
      country: countryOf(here),
      name: '',
      address: '',
      password: '',
    },
    send: (request) => setUp(request).unwrap(),
  });
  return (
    <Entry title="Set up your office" beside={<Beside values={form.values} />}>
      <p>
        <Soft>All of this can be changed later.</Soft>
      </p>
      <form onSubmit={form.send} noValidate>
        <TextInput
          label="Code"
          description="Palabra printed it where it was started, so that nobody else takes your office."
          placeholder="XXXX-XXXX"
          autoComplete="off"
          spellCheck={false}
          required
          autoFocus
          {...form.getInputProps('code')}
        />
        <OfficeFields form={form} />
        <YourFields form={form} />
        {form.general && <Note kind="wrong">{form.general}</Note>}
        <Button mt="md" mb="xl" type="submit" loading={form.submitting}>
          Set up and sign in
        </Button>
      </form>
    </Entry>
  );
}

function OfficeFields({ form }: { readonly form: ContractForm<Values> }) {
  return (
    <Fieldset legend="The office" mt="md">
      <TextInput
        label="Name of the office"
        description="Readers see it in every letter."
        placeholder="Quillwater Garden"
        required
        {...form.getInputProps('officeName')}
      />
      <Textarea
        mt="sm"
        label="Postal address"
        description="Every letter has to carry one."
        placeholder={'3 Orchard Walk\nSaltcote'}
        autosize
        minRows={2}
        required
        {...form.getInputProps('postalAddress')}
      />
      <Select
        mt="sm"
        label="Time zone"
        description="Taken from this browser."
        searchable
        data={timeZones()}
        {...form.getInputProps('timeZone')}
      />
      <CountrySelect
        value={form.values.country}
        error={form.errors['country']}
        onChange={(country) => form.setFieldValue('country', country)}
      />
    </Fieldset>
  );
}

function YourFields({ form }: { readonly form: ContractForm<Values> }) {
  return (
    <Fieldset legend="You, its coordinator" mt="md">
      <TextInput label="Your name" autoComplete="name" required {...form.getInputProps('name')} />
      <TextInput
        mt="sm"
        label="Your email address"
        type="email"
        autoComplete="username"
        required
        {...form.getInputProps('address')}
      />
      <PasswordInput
        mt="sm"
        label="A password"
        description="At least ten signs; a short sentence is good."
        autoComplete="new-password"
        required
        {...form.getInputProps('password')}
      />
    </Fieldset>
  );
}

function Beside({ values }: { readonly values: Values }) {
  return (
    <>
      <Title order={2}>At the end of every letter</Title>
      <div className={classes.preview}>
        <b>{values.officeName || 'Your office'}</b>
        {'\n'}
        {values.postalAddress || 'its postal address'}
        {'\n'}
        <u>Leave these letters</u>
      </div>
      <Title order={2}>What comes next</Title>
      <ol>
        <li>Bring in a list of people, and say how they agreed to be written to.</li>
        <li>Write a letter.</li>
        <li>Say who gets it, look at the tally, and send it.</li>
        <li>Invite your colleagues, each with what they may do.</li>
      </ol>
    </>
  );
}
