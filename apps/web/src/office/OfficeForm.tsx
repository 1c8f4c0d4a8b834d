// The office’s settings.
import { Button, ColorInput, Group, Select, Switch, Textarea, TextInput } from '@mantine/core';
import { OfficeRequest } from '@palabra/contract/office';
import { useState } from 'react';
import { useContractForm } from '../api/form';
import { Note } from '../ui/states';
import { Soft } from '../ui/text';
import { CountrySelect } from './CountrySelect';
import { LANGUAGES } from './languages';
import { useChangeOfficeMutation } from './office.api';
import { useOffice } from './OfficeContext';
import { timeZones } from './SetUpPage';

const LIMITS = [
  { value: '0', label: 'never hold back' },
  ...[2, 3, 4, 5, 8, 12].map((number) => ({ value: String(number), label: `${number} in a row` })),
];
const PAUSES = [
  { value: '0', label: 'none: at once' },
  ...[5, 10, 20, 30, 60].map((number) => ({ value: String(number), label: `${number} seconds` })),
];

function useOfficeForm() {
  const { office } = useOffice();
  const [change] = useChangeOfficeMutation();
  const [isKept, setKept] = useState(false);
  const form = useContractForm({
    request: OfficeRequest,
    initial: {
      ...office,
      softBounceLimit: String(office.softBounceLimit),
      unreadBounceLimit: String(office.unreadBounceLimit),
      holdSeconds: String(office.holdSeconds),
    },
    asRequest: ({ version: _, ...values }) => ({
      ...values,
      version: office.version,
      softBounceLimit: Number(values.softBounceLimit),
      unreadBounceLimit: Number(values.unreadBounceLimit),
      holdSeconds: Number(values.holdSeconds),
    }),
    send: async (request) => {
      setKept(false);
      await change(request).unwrap();
      setKept(true);
    },
  });
  return { form, isKept };
}

type Form = ReturnType<typeof useOfficeForm>['form'];

export function OfficeForm() {
  const { form, isKept } = useOfficeForm();
  return (
    <form onSubmit={form.send} noValidate>
      <Identity form={form} />
      <Holding form={form} />
      <Letters form={form} />
      {form.general && <Note kind="wrong">{form.general}</Note>}
      <Group mt="md">
        <Button type="submit" loading={form.submitting}>
          Keep these settings
        </Button>
        {isKept && (
          <Soft c="var(--good)" role="status">
            Kept.
          </Soft>
        )}
      </Group>
    </form>
  );
}

function Identity({ form }: { readonly form: Form }) {
  return (
    <>
      <TextInput label="Name" {...form.getInputProps('name')} />
      <Textarea
        mt="sm"
        label="Postal address"
        description="Stands in the footer of every letter."
        autosize
        minRows={3}
        {...form.getInputProps('postalAddress')}
      />
      <Select
        mt="sm"
        label="Time zone"
        searchable
        data={timeZones()}
        {...form.getInputProps('timeZone')}
      />
      <CountrySelect
        value={form.values.country}
        error={form.errors['country']}
        onChange={(country) => form.setFieldValue('country', country)}
      />
      <Select
        mt="sm"
        label="Language of your letters"
        description="Screen readers and translators go by it."
        searchable
        data={LANGUAGES}
        {...form.getInputProps('language')}
      />
      <TextInput
        mt="sm"
        label="Sender’s name"
        description="For new campaigns."
        {...form.getInputProps('senderName')}
      />
      <TextInput
        mt="sm"
        label="Sender’s address"
        type="email"
        {...form.getInputProps('senderAddress')}
      />
    </>
  );
}

function Holding({ form }: { readonly form: Form }) {
  return (
    <>
      <Switch
        mt="md"
        label="Mail people whose permission is unknown"
        description="Off is the safe side: they are held back from every campaign."
        {...form.getInputProps('mailUnknown', { type: 'checkbox' })}
      />
      <Select
        mt="md"
        label="Soft bounces"
        description="Letters that come back for now. After so many in a row a person is held back until somebody tries again."
        data={LIMITS}
        {...form.getInputProps('softBounceLimit')}
      />
      <Select
        mt="md"
        label="Refusals nobody could read"
        description="Letters refused for good without a reason that could be read. After so many in a row a person is held back until somebody tries again."
        data={LIMITS}
        {...form.getInputProps('unreadBounceLimit')}
      />
      <Select
        mt="md"
        label="Pause before the first letter"
        description="After the word to send; until then it can be called off."
        data={PAUSES}
        {...form.getInputProps('holdSeconds')}
      />
    </>
  );
}

function Letters({ form }: { readonly form: Form }) {
  return (
    <>
      <Switch
        mt="md"
        label="Put a link into letters that no person can see"
        description="Who follows it is a machine. It tells scanners that nothing else gives away, but some mail servers dislike such links."
        {...form.getInputProps('hiddenLink', { type: 'checkbox' })}
      />
      <ColorInput
        mt="md"
        label="Colour of the pages that readers see"
        description="Where they leave, choose topics and correct their data."
        placeholder="the application’s own"
        format="hex"
        withEyeDropper={false}
        {...form.getInputProps('colour')}
      />
    </>
  );
}
