// A field of a person, filled in where it stands, by its type.
import { MultiSelect } from '@mantine/core';
import { offered, type Field } from '@palabra/core/contacts';
import { useState } from 'react';
import { InPlace } from '../../ui/InPlace';
import { longDate } from '../../ui/time';
import { useOccurringQuery } from '../contacts.api';
import { joinLabels, splitLabels } from './FieldInput';
import classes from './fields.module.css';

interface FieldInPlaceProps {
  readonly field: Field;
  /** As it is typed. */
  readonly text: string;
  readonly disabled: boolean;
  readonly onSave: (text: string) => Promise<void>;
}

/** What names one person is not offered to others. */
const personal: ReadonlySet<string> = new Set([
  'address',
  'given_name',
  'family_name',
  'external_number',
]);
const offersWhatOccurs = ({ key, type }: Field): boolean => type === 'text' && !personal.has(key);

export function FieldInPlace(props: FieldInPlaceProps) {
  const { field, text, disabled, onSave } = props;
  const [isEdited, setEdited] = useState(false);
  const occurring = useOccurringQuery(
    { field: field.key },
    { skip: !isEdited || !offersWhatOccurs(field) },
  );
  if (field.type === 'choices' && !disabled) return <SeveralInPlace {...props} />;
  const isDay = field.type === 'date' && /^\d{4}-\d{2}-\d{2}$/.test(text);
  return (
    <span className={classes.value}>
      <InPlace
        value={text}
        shown={isDay ? longDate(text) : undefined}
        label={field.label}
        disabled={disabled || field.isFact === true}
        lines={field.type === 'long text'}
        help={field.help}
        maxLength={field.type === 'long text' ? 10_000 : 1000}
        offered={offeredFor(
          field,
          occurring.data?.map(({ value }) => value),
        )}
        onEdit={() => setEdited(true)}
        onSave={onSave}
      />
      {field.type === 'link' && text !== '' && (
        <a href={text} target="_blank" rel="noopener noreferrer nofollow">
          Open
        </a>
      )}
    </span>
  );
}

function offeredFor(
  field: Field,
  occurring: readonly string[] | undefined,
): readonly string[] | undefined {
  if (field.type === 'yes or no') return ['yes', 'no'];
  if (field.choices) return offered(field).map(({ label }) => label);
  return offersWhatOccurs(field) ? (occurring ?? []) : undefined;
}

/** Several choices: what is chosen is kept when one leaves. */
function SeveralInPlace({ field, text, onSave }: FieldInPlaceProps) {
  const [chosen, setChosen] = useState<string[]>();
  const [error, setError] = useState<string>();
  if (chosen === undefined)
    return (
      <InPlace
        value={text}
        label={field.label}
        onEdit={() => setChosen(splitLabels(text))}
        onSave={onSave}
      />
    );
  const keep = async (): Promise<void> => {
    try {
      if (joinLabels(chosen) !== text) await onSave(joinLabels(chosen));
      setChosen(undefined);
    } catch (reason) {
      setError(reason instanceof Error ? reason.message : String(reason));
    }
  };
  return (
    <MultiSelect
      variant="line"
      aria-label={field.label}
      description={field.help}
      autoFocus
      defaultDropdownOpened
      searchable
      hidePickedOptions
      error={error}
      data={offered(field).map(({ label }) => label)}
      value={chosen}
      onChange={setChosen}
      onBlur={() => void keep()}
      onKeyDown={(event) => {
        if (event.key !== 'Escape') return;
        event.stopPropagation();
        setChosen(undefined);
      }}
    />
  );
}
