// The control in which a field is filled in, by its type; what is typed is read by the server, as in every other place.
import { Autocomplete, MultiSelect, Select, Textarea, TextInput } from '@mantine/core';
import { offered, type Field, type FieldType } from '@palabra/core/contacts';
import type { ComponentType, ReactNode } from 'react';
import { useOccurringQuery } from '../contacts.api';

interface FieldInputProps {
  readonly field: Field;
  readonly label?: string;
  /** As it is typed. */
  readonly value: string;
  readonly error?: ReactNode;
  readonly onChange: (text: string) => void;
}

/** Several choices as text: labels with commas between. */
export const splitLabels = (text: string): string[] =>
  text
    .split(',')
    .map((one) => one.trim())
    .filter((one) => one !== '');
export const joinLabels = (labels: readonly string[]): string => labels.join(', ');

/** What names one person is not offered to others. */
const personal: ReadonlySet<string> = new Set(['given_name', 'family_name', 'street']);

const common = ({ field, label = field.label, error }: FieldInputProps) => ({
  label,
  error,
  description: field.help,
  withAsterisk: field.isRequired ?? false,
});

function Text(props: FieldInputProps) {
  const { field, value, onChange } = props;
  const occurring = useOccurringQuery({ field: field.key }, { skip: personal.has(field.key) });
  return (
    <Autocomplete
      {...common(props)}
      data={occurring.data?.map((one) => one.value) ?? []}
      limit={8}
      maxLength={1000}
      value={value}
      onChange={onChange}
    />
  );
}

function Line(props: FieldInputProps) {
  return (
    <TextInput
      {...common(props)}
      maxLength={1000}
      value={props.value}
      onChange={(event) => props.onChange(event.currentTarget.value)}
    />
  );
}

const hint =
  (placeholder: string): ComponentType<FieldInputProps> =>
  (props) => (
    <TextInput
      {...common(props)}
      placeholder={placeholder}
      maxLength={1000}
      value={props.value}
      onChange={(event) => props.onChange(event.currentTarget.value)}
    />
  );

function Lines(props: FieldInputProps) {
  return (
    <Textarea
      {...common(props)}
      autosize
      minRows={2}
      maxRows={10}
      maxLength={10_000}
      value={props.value}
      onChange={(event) => props.onChange(event.currentTarget.value)}
    />
  );
}

function One(props: FieldInputProps & { readonly labels: readonly string[] }) {
  return (
    <Select
      {...common(props)}
      searchable
      clearable={!props.field.isRequired}
      selectFirstOptionOnChange
      data={[...props.labels]}
      value={props.value === '' ? null : props.value}
      onChange={(next) => props.onChange(next ?? '')}
    />
  );
}

const labelsOf = (field: Field): string[] => offered(field).map(({ label }) => label);

const inputs: { readonly [T in FieldType]: ComponentType<FieldInputProps> } = {
  text: Text,
  'long text': Lines,
  number: Line,
  money: hint('such as 1200.50'),
  date: hint('such as 2026-03-02 or 2 Mar 2026'),
  'yes or no': (props) => <One {...props} labels={['yes', 'no']} />,
  choice: (props) => <One {...props} labels={labelsOf(props.field)} />,
  choices: (props) => (
    <MultiSelect
      {...common(props)}
      searchable
      data={labelsOf(props.field)}
      value={splitLabels(props.value)}
      onChange={(labels) => props.onChange(joinLabels(labels))}
    />
  ),
  link: hint('https://'),
  computed: () => null,
  phone: Line,
  phones: hint('several with semicolons between'),
  addresses: hint('several with semicolons between'),
};

export function FieldInput(props: FieldInputProps) {
  const Input = inputs[props.field.type];
  return <Input {...props} />;
}
