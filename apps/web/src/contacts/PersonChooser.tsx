// Chooses one person by name or address.
import { Popover } from '@mantine/core';
import { useDebouncedValue } from '@mantine/hooks';
import { displayName, listName } from '@palabra/core/contacts';
import { IconChevronDown } from '@tabler/icons-react';
import { useState } from 'react';
import { usePeopleQuery, usePersonQuery } from './contacts.api';

interface PersonChooserProps {
  /** A word before the name. */
  readonly before?: string;
  /** What stands for nobody. */
  readonly nobody: string;
  readonly value: number | undefined;
  readonly onChange: (id: number | undefined) => void;
}

export function PersonChooser({ before, nobody, value, onChange }: PersonChooserProps) {
  const [opened, setOpened] = useState(false);
  const [text, setText] = useState('');
  const [q] = useDebouncedValue(text.trim(), 150);
  const person = usePersonQuery(value ?? 0, { skip: value === undefined });
  const found = usePeopleQuery({ q, limit: 8 }, { skip: !opened });
  const name =
    value === undefined
      ? nobody
      : person.data
        ? displayName(
            { given: person.data.givenName, family: person.data.familyName },
            person.data.address,
          )
        : '…';
  const choose = (id: number | undefined): void => {
    setOpened(false);
    onChange(id);
  };
  return (
    <Popover opened={opened} onChange={setOpened} trapFocus position="bottom-end" width={260}>
      <Popover.Target>
        <button
          type="button"
          className="act"
          style={{ color: 'var(--ink)' }}
          onClick={() => setOpened(!opened)}
        >
          {before && (
            <span className="soft" style={{ fontWeight: 400 }}>
              {before}
            </span>
          )}{' '}
          {name} <IconChevronDown size={14} aria-hidden />
        </button>
      </Popover.Target>
      <Popover.Dropdown p="xs">
        <input
          className="line-input"
          style={{ width: '100%', boxSizing: 'border-box' }}
          aria-label="Find a person"
          placeholder="find a person"
          data-autofocus
          value={text}
          onChange={(event) => setText(event.currentTarget.value)}
        />
        <ul className="rows" style={{ margin: '6px 0 0' }}>
          <li style={{ padding: '2px 0' }}>
            <button type="button" className="act" onClick={() => choose(undefined)}>
              {nobody}
            </button>
          </li>
          {found.data?.rows.map((row) => (
            <li key={row.id} style={{ padding: '2px 0' }}>
              <button
                type="button"
                className="act"
                style={{ color: 'var(--ink)' }}
                onClick={() => choose(row.id)}
              >
                {listName({ given: row.givenName, family: row.familyName }, row.address)}
              </button>
            </li>
          ))}
        </ul>
      </Popover.Dropdown>
    </Popover>
  );
}
