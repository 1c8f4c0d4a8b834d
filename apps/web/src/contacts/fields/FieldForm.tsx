// What the office says of a field: its name, what it is for, where it stands, what somebody new has in it.
import { Button, Group, Stack, Switch, TextInput } from '@mantine/core';
import { FieldRequest, type FieldReply } from '@palabra/contract/contacts';
import { isBuiltIn } from '@palabra/core/contacts';
import { useState } from 'react';
import { useContractForm } from '../../api/form';
import { MarginPart } from '../../ui/Page';
import { Note } from '../../ui/states';
import { useChangeFieldMutation, useVocabularyQuery } from '../contacts.api';
import { askedKind, KindParts, kindOf } from './KindParts';
import { kindWords } from './words';

export function FieldForm({ defined: { field, version } }: { readonly defined: FieldReply }) {
  const [change] = useChangeFieldMutation();
  const { data } = useVocabularyQuery();
  const [kind, setKind] = useState(() => kindOf(field));
  const isOwn = !isBuiltIn(field.key);
  const isFilled = field.type !== 'computed';
  const form = useContractForm({
    request: FieldRequest,
    initial: {
      label: field.label,
      help: field.help ?? '',
      group: field.group ?? '',
      isRequired: field.isRequired ?? false,
      standard: field.standard ?? '',
    },
    asRequest: (values) => ({ ...values, version, ...askedKind(kind) }),
    send: (request) => change({ key: field.key, ...request }).unwrap(),
  });
  return (
    <MarginPart title={field.label} aside={kindWords(field, data?.fields ?? [])}>
      <form onSubmit={form.send} noValidate>
        <Stack gap="sm">
          {isOwn && <TextInput label="Name" maxLength={60} {...form.getInputProps('label')} />}
          <KindParts kind={kind} fields={data?.fields ?? []} onChange={setKind} />
          <TextInput
            label="What it is for"
            description="Stands beside it where it is filled in."
            maxLength={200}
            {...form.getInputProps('help')}
          />
          {isOwn && (
            <TextInput
              label="Group"
              description="Fields of one group stand together on a person’s page."
              maxLength={60}
              {...form.getInputProps('group')}
            />
          )}
          {isFilled && (
            <>
              <TextInput
                label="Somebody new has"
                description="Where nothing else is said."
                placeholder="nothing"
                maxLength={1000}
                {...form.getInputProps('standard')}
              />
              <Switch
                label="Required"
                description="Nobody new comes without it. Whoever lacks it now stays as they are."
                {...form.getInputProps('isRequired', { type: 'checkbox' })}
              />
            </>
          )}
          {form.general && <Note kind="wrong">{form.general}</Note>}
          <Group>
            <Button type="submit" size="xs" loading={form.submitting}>
              Keep this
            </Button>
          </Group>
        </Stack>
      </form>
    </MarginPart>
  );
}
