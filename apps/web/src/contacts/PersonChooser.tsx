// Chooses one person by name or address; namesakes are told apart by town and address.
import type { PeoplePage, PeopleQuery } from '@palabra/contract/contacts';
import { displayName, listName } from '@palabra/core/contacts';
import { IconChevronDown } from '@tabler/icons-react';
import { useState } from 'react';
import { useLatest } from '../api/latest';
import { Finder } from '../ui/Finder';
import { Soft } from '../ui/text';
import { contactsApi, usePersonQuery } from './contacts.api';

interface PersonChooserProps {
  readonly label?: string;
  /** A word before the name. */
  readonly before?: string;
  /** What stands for nobody. */
  readonly nobody: string;
  readonly pool?: number;
  readonly value: number | undefined;
  readonly onChange: (id: number | undefined) => void;
}

const NOBODY = 'nobody';
const SHOWN = 8;

export function PersonChooser({
  label = 'Find a person',
  before,
  nobody,
  pool,
  value,
  onChange,
}: PersonChooserProps) {
  const [text, setText] = useState('');
  const q = text.trim();
  const person = usePersonQuery(value ?? 0, { skip: value === undefined });
  const { answer, isCurrent } = useLatest<PeopleQuery, PeoplePage>(
    contactsApi.endpoints.people.initiate,
    q === '' ? undefined : { q, pool, limit: SHOWN },
  );
  const rows = (q === '' ? undefined : answer?.rows) ?? [];
  const name =
    value === undefined
      ? nobody
      : person.data
        ? displayName(
            { given: person.data.givenName, family: person.data.familyName },
            person.data.address,
          )
        : '…';
  return (
    <Finder
      words={
        <>
          {before && <Soft fw={400}>{before}&nbsp;</Soft>}
          {name} <IconChevronDown size={14} aria-hidden />
        </>
      }
      label={label}
      placeholder="name or address"
      none={q === '' ? 'Type a name or an address.' : 'Nobody of that name.'}
      asked={{ text, onText: setText, isCurrent }}
      options={[
        ...(value === undefined ? [] : [{ key: NOBODY, text: nobody }]),
        ...rows.map((row) => ({
          key: String(row.id),
          text: listName({ given: row.givenName, family: row.familyName }, row.address),
          note: [row.town, row.address].filter(Boolean).join(', '),
        })),
      ]}
      button={{ 'data-ink': true }}
      onPick={({ key }) => onChange(key === NOBODY ? undefined : Number(key))}
    />
  );
}
