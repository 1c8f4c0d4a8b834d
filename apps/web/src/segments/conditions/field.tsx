import { operandOf, operatorsFor, type FieldCondition } from '@palabra/core/segments';
import type { Field } from '@palabra/core/contacts';
import type { ComponentProps } from 'react';
import type { EditorOf } from './kind';

function Operand({
  condition,
  context: { fields },
  disabled,
  onChange,
}: ComponentProps<EditorOf<FieldCondition>['Operand']>) {
  const field = fields.find(({ key }) => key === condition.field);
  if (!field) return <span className="wrong">this field is gone</span>;
  const operand = operandOf(field.type, condition.op);
  const put = (value: FieldCondition['value']): void => {
    const { value: _, ...base } = condition;
    onChange(value === undefined || value === '' ? base : { ...base, value });
  };
  const number = (text: string): number | undefined =>
    text === '' || Number.isNaN(Number(text)) ? undefined : Number(text);
  return (
    <>
      <select
        aria-label="How the field is asked"
        disabled={disabled}
        value={condition.op}
        onChange={(event) => {
          const op = operatorsFor[field.type].find((one) => one === event.currentTarget.value);
          if (op)
            onChange(
              operandOf(field.type, op) === operand
                ? { ...condition, op }
                : { kind: 'field', field: field.key, op },
            );
        }}
      >
        {operatorsFor[field.type].map((op) => (
          <option key={op}>{op}</option>
        ))}
      </select>
      {operand === 'text' && (
        <input
          className="line-input"
          aria-label="Value"
          disabled={disabled}
          maxLength={1000}
          value={String(condition.value ?? '')}
          onChange={(event) => put(event.currentTarget.value)}
        />
      )}
      {operand === 'number' && (
        <input
          className="line-input"
          aria-label="Value"
          type="number"
          step="any"
          disabled={disabled}
          value={String(condition.value ?? '')}
          onChange={(event) => put(number(event.currentTarget.value))}
          style={{ width: 110 }}
        />
      )}
      {operand === 'count of days' && (
        <span>
          <input
            className="line-input"
            aria-label="Number of days"
            type="number"
            min={0}
            max={36500}
            step={1}
            disabled={disabled}
            value={String(condition.value ?? '')}
            onChange={(event) => put(number(event.currentTarget.value))}
            style={{ width: 70 }}
          />{' '}
          days
        </span>
      )}
      {operand === 'day' && (
        <input
          className="line-input"
          aria-label="Day"
          type="date"
          disabled={disabled}
          value={String(condition.value ?? '')}
          onChange={(event) => put(event.currentTarget.value)}
        />
      )}
      {operand === 'choices' && (
        <Choices
          field={field}
          value={Array.isArray(condition.value) ? (condition.value as readonly string[]) : []}
          disabled={disabled}
          onChange={put}
        />
      )}
    </>
  );
}

function Choices({
  field,
  value,
  disabled,
  onChange,
}: {
  readonly field: Field;
  readonly value: readonly string[];
  readonly disabled: boolean;
  readonly onChange: (value: readonly string[] | undefined) => void;
}) {
  return (
    <span className="words">
      {field.choices?.map(({ key, label }) => {
        const on = value.includes(key);
        return (
          <button
            key={key}
            type="button"
            aria-pressed={on}
            disabled={disabled}
            onClick={() => {
              const next = on ? value.filter((one) => one !== key) : [...value, key];
              onChange(next.length === 0 ? undefined : next);
            }}
          >
            {label}
          </button>
        );
      })}
    </span>
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
