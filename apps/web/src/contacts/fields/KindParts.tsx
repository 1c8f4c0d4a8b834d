// What belongs to a kind of field beside its name: choices, a currency, the day it is counted from.
import { Select } from '@mantine/core';
import { sinceUnits, type Field, type FieldType, type SinceUnit } from '@palabra/core/contacts';
import { ChoicesEditor, choiceLine, type ChoiceLine } from './ChoicesEditor';
import { currencies } from './words';

/** Of a field, as it is written. */
export interface Kind {
  readonly type: FieldType;
  readonly choices: readonly ChoiceLine[];
  readonly currency: string;
  readonly day: string;
  readonly unit: SinceUnit;
}

export const noKind = (type: FieldType): Kind => ({
  type,
  choices: [choiceLine({ label: '' }), choiceLine({ label: '' })],
  currency: '',
  day: '',
  unit: 'years',
});

export const kindOf = (field: Field): Kind => ({
  type: field.type,
  choices: (field.choices ?? [])
    .filter(({ isGone }) => !isGone)
    .map(({ key, label }) => choiceLine({ key, label })),
  currency: field.currency ?? '',
  day: field.since?.day ?? '',
  unit: field.since?.unit ?? 'years',
});

/** As the server takes it; lines without a name are none. */
export const askedKind = ({ type, choices, currency, day, unit }: Kind) => ({
  ...(type === 'choice' || type === 'choices'
    ? {
        choices: choices
          .filter(({ label }) => label.trim() !== '')
          .map(({ key, label }) => ({ label, ...(key === undefined ? {} : { key }) })),
      }
    : {}),
  ...(type === 'money' && currency !== '' ? { currency } : {}),
  ...(type === 'computed' && day !== '' ? { since: { day, unit } } : {}),
});

interface KindPartsProps {
  readonly kind: Kind;
  readonly fields: readonly Field[];
  /** Lists stay within a popover. */
  readonly within?: boolean;
  readonly onChange: (kind: Kind) => void;
}

export function KindParts({ kind, fields, within = false, onChange }: KindPartsProps) {
  const list = { withinPortal: !within };
  switch (kind.type) {
    case 'choice':
    case 'choices':
      return (
        <ChoicesEditor
          value={kind.choices}
          onChange={(choices) => onChange({ ...kind, choices })}
        />
      );
    case 'money':
      return (
        <Select
          label="Currency"
          searchable
          limit={40}
          comboboxProps={list}
          data={currencies()}
          value={kind.currency === '' ? null : kind.currency}
          onChange={(currency) => onChange({ ...kind, currency: currency ?? '' })}
        />
      );
    case 'computed':
      return (
        <>
          <Select
            label="Counted from"
            searchable
            comboboxProps={list}
            data={fields
              .filter(({ type }) => type === 'date')
              .map(({ key, label }) => ({ value: key, label }))}
            value={kind.day === '' ? null : kind.day}
            onChange={(day) => onChange({ ...kind, day: day ?? '' })}
          />
          <Select
            label="In"
            mt="xs"
            allowDeselect={false}
            comboboxProps={list}
            data={sinceUnits.map((unit) => ({ value: unit, label: `full ${unit}` }))}
            value={kind.unit}
            onChange={(unit) => onChange({ ...kind, unit: unit === 'days' ? 'days' : 'years' })}
          />
        </>
      );
    default:
      return null;
  }
}
