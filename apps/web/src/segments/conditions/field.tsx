import {
  operandOf,
  operatorsFor,
  type FieldCondition,
  type OperandValue,
} from '@palabra/core/segments';
import type { ComponentProps, ComponentType } from 'react';
import { Pick } from '../../ui/Pick';
import { Wrongly } from '../../ui/text';
import { answers, type AnswerProps } from './answers';
import type { EditorOf } from './kind';

type OperandProps = ComponentProps<EditorOf<FieldCondition>['Operand']>;

function Operand({ condition, context: { fields }, disabled, onChange }: OperandProps) {
  const field = fields.find(({ key }) => key === condition.field);
  if (!field) return <Wrongly>this field is gone</Wrongly>;
  const operand = operandOf(field.type, condition.op);
  // A value is always one of the condition's own operand.
  const Answer = answers[operand] as ComponentType<AnswerProps<OperandValue>>;
  const put = (value: OperandValue): void => {
    const { value: _, ...base } = condition;
    onChange(value === undefined ? base : { ...base, value });
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
        options={operatorsFor(field.type).map((op) => ({ value: op, label: op }))}
        onChange={ask}
      />
      <Answer
        key={operand}
        field={field}
        disabled={disabled}
        value={condition.value}
        onChange={put}
      />
    </>
  );
}

export const field: EditorOf<FieldCondition> = {
  choices: ({ fields }) => fields.map(({ key, label }) => ({ value: key, label })),
  chosen: ({ field: key }) => key,
  begin: (choice, { fields }) => {
    const found = fields.find(({ key }) => key === choice);
    return (
      found && { kind: 'field', field: found.key, op: operatorsFor(found.type)[0] ?? 'is filled' }
    );
  },
  Operand,
};
