// What stands beside a way of asking a field: one control for each kind of operand.
import { Autocomplete, Chip, Group, MultiSelect, NumberInput, TextInput } from '@mantine/core';
import {
  monthName,
  spanUnits,
  type OperandName,
  type Operands,
  type Span,
} from '@palabra/core/segments';
import { useState, type ComponentType } from 'react';
import { Day } from '../../ui/Day';
import { Pick } from '../../ui/Pick';
import { count } from '../../ui/numbers';
import { Small, Soft } from '../../ui/text';
import classes from '../segments.module.css';
import { Offered, offered, useOffered, type AnswerProps } from './offered';
import { Texts } from './Texts';

export type { AnswerProps };

function Text({ field, value, disabled, onChange }: AnswerProps<string>) {
  const { values, counts, want } = useOffered(field);
  return (
    <Autocomplete
      variant="line"
      aria-label="Value"
      data={[...values]}
      renderOption={offered(counts)}
      limit={8}
      disabled={disabled}
      maxLength={1000}
      value={value ?? ''}
      onFocus={want}
      onChange={(text) => onChange(text === '' ? undefined : text)}
    />
  );
}

interface AmountProps {
  readonly label: string;
  readonly width: number;
  readonly isWhole?: boolean;
  readonly value: number | null | undefined;
  readonly disabled: boolean;
  readonly onChange: (value: number | undefined) => void;
}

function Amount({ label, width, isWhole, value, disabled, onChange }: AmountProps) {
  return (
    <NumberInput
      variant="line"
      hideControls
      aria-label={label}
      w={width}
      min={isWhole ? 0 : undefined}
      allowDecimal={!isWhole}
      disabled={disabled}
      value={value ?? ''}
      onChange={(next) => onChange(typeof next === 'number' ? next : undefined)}
    />
  );
}

/** So many days, weeks or months. */
/** From one text to another, such as postcodes. */
function Bounds({ value = [null, null], disabled, onChange }: AnswerProps<Operands['bounds']>) {
  const end = (label: string, at: 0 | 1) => (
    <TextInput
      variant="line"
      aria-label={label}
      w={110}
      disabled={disabled}
      maxLength={200}
      value={value[at] ?? ''}
      onChange={(event) => {
        const text = event.currentTarget.value;
        onChange(value.with(at, text === '' ? null : text));
      }}
    />
  );
  return (
    <span className={classes.pair}>
      {end('From', 0)} and {end('To', 1)}
    </span>
  );
}

export function SpanAnswer({ value, disabled, onChange }: Omit<AnswerProps<Span>, 'field'>) {
  const [unit, setUnit] = useState<Span['unit']>(value?.unit ?? 'days');
  return (
    <>
      <Amount
        label="How many"
        width={60}
        isWhole
        value={value?.count}
        disabled={disabled}
        onChange={(next) => onChange(next === undefined ? undefined : { count: next, unit })}
      />
      <Pick
        label="Days, weeks or months"
        disabled={disabled}
        value={unit}
        options={spanUnits.map((one) => ({ value: one, label: one }))}
        onChange={(next) => {
          if (!next) return;
          setUnit(next);
          if (value) onChange({ count: value.count, unit: next });
        }}
      />
    </>
  );
}

/** Two ends; both missing is no value. */
const ends = <T,>(from: T | null, to: T | null): readonly (T | null)[] | undefined =>
  from === null && to === null ? undefined : [from, to];

const MONTHS = Array.from({ length: 12 }, (_, at) => ({ value: at + 1, label: monthName(at + 1) }));
const two = (number: number): string => String(number).padStart(2, '0');

function DayOfYear({ value, disabled, onChange }: AnswerProps<string>) {
  const [month = 1, day = 1] = (value ?? '').split('-').map(Number);
  const put = (nextMonth: number, nextDay: number): void => {
    const last = new Date(Date.UTC(2024, nextMonth, 0)).getUTCDate();
    onChange(`${two(nextMonth)}-${two(Math.min(Math.max(nextDay, 1), last))}`);
  };
  return (
    <>
      <Amount
        label="Day"
        width={44}
        isWhole
        value={value === undefined ? undefined : day}
        disabled={disabled}
        onChange={(next) => next !== undefined && put(value === undefined ? 1 : month, next)}
      />
      <Pick
        label="Month"
        disabled={disabled}
        value={value === undefined ? null : month}
        options={MONTHS}
        onChange={(next) => next && put(next, value === undefined ? 1 : day)}
      />
    </>
  );
}

/** So many choices stand side by side; more are found by typing. */
const SIDE_BY_SIDE = 12;

function Choices({ field, value = [], disabled, onChange }: AnswerProps<readonly string[]>) {
  const { counts, want } = useOffered(field);
  // One that is gone is still asked for where somebody may have it.
  const all = (field.choices ?? []).filter(
    ({ key, label, isGone }) => !isGone || value.includes(key) || counts.has(label),
  );
  const put = (next: string[]): void => onChange(next.length === 0 ? undefined : next);
  if (all.length > SIDE_BY_SIDE)
    return (
      <MultiSelect
        variant="line"
        aria-label="Choices"
        searchable
        disabled={disabled}
        data={all.map(({ key, label }) => ({ value: key, label }))}
        renderOption={({ option }) => (
          <Offered label={option.label} count={counts.get(option.label)} />
        )}
        value={[...value]}
        onFocus={want}
        onChange={put}
      />
    );
  return (
    <Chip.Group multiple value={[...value]} onChange={put}>
      <Group gap={6} role="group" aria-label="Choices" onFocus={want} onMouseEnter={want}>
        {all.map(({ key, label }) => (
          <Chip key={key} value={key} size="xs" radius={3} variant="light" disabled={disabled}>
            {label}
            {counts.has(label) && <Small> {count(counts.get(label) ?? 0)}</Small>}
          </Chip>
        ))}
      </Group>
    </Chip.Group>
  );
}

export const answers: { readonly [O in OperandName]: ComponentType<AnswerProps<Operands[O]>> } = {
  none: () => null,
  text: Text,
  texts: Texts,
  number: (props) => <Amount {...props} label="Value" width={110} />,
  numbers: ({ value, disabled, onChange }) => {
    const [from = null, to = null] = value ?? [];
    return (
      <span className={classes.pair}>
        <Amount
          label="From"
          width={80}
          value={from}
          disabled={disabled}
          onChange={(next) => onChange(ends(next ?? null, to))}
        />
        <Soft>and</Soft>
        <Amount
          label="To"
          width={80}
          value={to}
          disabled={disabled}
          onChange={(next) => onChange(ends(from, next ?? null))}
        />
      </span>
    );
  },
  day: ({ value, disabled, onChange }) => (
    <Day
      label="Day"
      disabled={disabled}
      value={value ?? ''}
      onChange={(day) => onChange(day === '' ? undefined : day)}
    />
  ),
  days: ({ value, disabled, onChange }) => {
    const [from = null, to = null] = value ?? [];
    return (
      <span className={classes.pair}>
        <Day
          label="From"
          disabled={disabled}
          value={from ?? ''}
          onChange={(day) => onChange(ends(day === '' ? null : day, to))}
        />
        <Soft>and</Soft>
        <Day
          label="To"
          disabled={disabled}
          value={to ?? ''}
          onChange={(day) => onChange(ends(from, day === '' ? null : day))}
        />
      </span>
    );
  },
  bounds: Bounds,
  span: SpanAnswer,
  'day of the year': DayOfYear,
  month: ({ value, disabled, onChange }) => (
    <Pick
      label="Month"
      disabled={disabled}
      value={value ?? null}
      options={MONTHS}
      onChange={(month) => onChange(month ?? undefined)}
    />
  ),
  choices: Choices,
};
