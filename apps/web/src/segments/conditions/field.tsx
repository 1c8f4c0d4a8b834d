import { Autocomplete, Chip, Group, NumberInput } from '@mantine/core';
import { operandOf, operatorsFor, type FieldCondition } from '@palabra/core/segments';
import type { Field } from '@palabra/core/contacts';
import { useState, type ComponentProps } from 'react';
import { useOccurringQuery } from '../../contacts';
import { Day } from '../../ui/Day';
import { Pick } from '../../ui/Pick';
import { Soft, Wrongly } from '../../ui/text';
import type { EditorOf } from './kind';

type Value = FieldCondition['value'];
type OperandProps = ComponentProps<EditorOf<FieldCondition>['Operand']>;

function Operand({ condition, context: { fields }, disabled, onChange }: OperandProps) {
  const field = fields.find(({ key }) => key === condition.field);
  if (!field) return <Wrongly>this field is gone</Wrongly>;
  const operand = operandOf(field.type, condition.op);
  const put = (value: Value): void => {
    const { value: _, ...base } = condition;
    onChange(value === undefined || value === '' ? base : { ...base, value });
  };
  const ask = (op: FieldCondition['op'] | null): void => {
    if (op)
      onChange(
        operandOf(field.type, op) === operand
          ? { ...condition, op }
          : { kind: 'field', field: field.key, op },
      );
  };
  return (
    <>
      <Pick
        label="How the field is asked"
        disabled={disabled}
        value={condition.op}
        options={operatorsFor[field.type].map((op) => ({ value: op, label: op }))}
        onChange={ask}
      />
      <Answer {...{ field, operand, disabled }} value={condition.value} onChange={put} />
    </>
  );
}

interface AnswerProps {
  readonly field: Field;
  readonly value: Value;
  readonly disabled: boolean;
  readonly onChange: (value: Value) => void;
}

function Answer({
  operand,
  ...props
}: AnswerProps & { readonly operand: ReturnType<typeof operandOf> }) {
  const { value, disabled, onChange } = props;
  switch (operand) {
    case 'text':
      return <Text {...props} />;
    case 'number':
      return <Amount {...props} label="Value" width={110} />;
    case 'count of days':
      return (
        <>
          <Amount {...props} label="Number of days" width={70} least={0} most={36_500} />
          <Soft>days</Soft>
        </>
      );
    case 'day':
      return (
        <Day label="Day" disabled={disabled} value={String(value ?? '')} onChange={onChange} />
      );
    case 'choices':
      return <Choices {...props} />;
    case 'none':
      return null;
  }
}

function Text({ field, value, disabled, onChange }: AnswerProps) {
  const [isAsked, setAsked] = useState(false);
  const { data } = useOccurringQuery({ field: field.key }, { skip: !isAsked });
  return (
    <Autocomplete
      variant="line"
      aria-label="Value"
      data={data ?? []}
      limit={8}
      disabled={disabled}
      maxLength={1000}
      value={String(value ?? '')}
      onFocus={() => setAsked(true)}
      onChange={onChange}
    />
  );
}

function Amount({
  label,
  width,
  least,
  most,
  value,
  disabled,
  onChange,
}: AnswerProps & {
  readonly label: string;
  readonly width: number;
  readonly least?: number;
  readonly most?: number;
}) {
  return (
    <NumberInput
      variant="line"
      hideControls
      aria-label={label}
      w={width}
      min={least}
      max={most}
      allowDecimal={least === undefined}
      disabled={disabled}
      value={typeof value === 'number' ? value : ''}
      onChange={(next) => onChange(typeof next === 'number' ? next : undefined)}
    />
  );
}

function Choices({ field, value, disabled, onChange }: AnswerProps) {
  return (
    <Chip.Group
      multiple
      value={Array.isArray(value) ? [...(value as readonly string[])] : []}
      onChange={(next) => onChange(next.length === 0 ? undefined : next)}
    >
      <Group gap={6}>
        {field.choices?.map(({ key, label }) => (
          <Chip key={key} value={key} size="xs" radius={3} variant="light" disabled={disabled}>
            {label}
          </Chip>
        ))}
      </Group>
    </Chip.Group>
  );
}

export const field: EditorOf<FieldCondition> = {
  choices: ({ fields }) => fields.map(({ key, label }) => ({ value: key, label })),
  chosen: ({ field: key }) => key,
  begin: (choice, { fields }) => {
    const found = fields.find(({ key }) => key === choice);
    return (
      found && { kind: 'field', field: found.key, op: operatorsFor[found.type][0] ?? 'is filled' }
    );
  },
  Operand,
};
