// The row over a list of people: a search, a tag, a standing, read as a sentence.
import { Pill, TextInput } from '@mantine/core';
import { useHotkeys } from '@mantine/hooks';
import { IconSearch } from '@tabler/icons-react';
import { useRef, useState, type ReactNode } from 'react';
import { Small } from '../ui/text';
import { useVocabularyQuery, type Filter } from './contacts.api';
import classes from './contacts.module.css';
import { Flag } from './Flag';
import { TagPicker } from './TagPicker';

export function Narrowing({
  filter,
  isLooking,
  onChange,
  children,
}: {
  readonly filter: Filter;
  readonly isLooking: boolean;
  readonly onChange: (change: Partial<Filter>) => void;
  /** Further ways to narrow. */
  readonly children?: ReactNode;
}) {
  const { data: vocabulary } = useVocabularyQuery();
  const tag = vocabulary?.tags.find(({ id }) => id === filter.tag);
  return (
    <div className={classes.narrow}>
      <SearchBox value={filter.q ?? ''} onChange={(q) => onChange({ q })} />
      {tag ? (
        <span>
          who have the tag{' '}
          <Flag
            kind={tag.kind}
            name={tag.name}
            colour={tag.colour}
            onTakeOff={() => onChange({ tag: undefined })}
          />
        </span>
      ) : (
        <TagPicker
          label="who have a tag …"
          among={vocabulary?.tags.map(({ id }) => ({ id })) ?? []}
          onPick={(id) => onChange({ tag: id })}
        />
      )}
      {filter.standing && (
        <Pill
          withRemoveButton
          size="md"
          removeButtonProps={{
            'aria-label': `Don’t narrow to: ${filter.standing}`,
            tabIndex: 0,
            'aria-hidden': false,
          }}
          onRemove={() => onChange({ standing: undefined })}
        >
          {filter.standing}
        </Pill>
      )}
      {children}
      {isLooking && <Small role="status">looking …</Small>}
    </div>
  );
}

function SearchBox({
  value,
  onChange,
}: {
  readonly value: string;
  readonly onChange: (text: string) => void;
}) {
  const [text, setText] = useState(value);
  const [seen, setSeen] = useState(value);
  if (value !== seen) {
    setSeen(value);
    if (value !== text.trim()) setText(value);
  }
  const input = useRef<HTMLInputElement>(null);
  useHotkeys([['/', () => input.current?.focus()]]);
  return (
    <TextInput
      ref={input}
      type="search"
      variant="line"
      className={classes.search}
      leftSection={<IconSearch size={15} aria-hidden />}
      leftSectionWidth={24}
      aria-label="Search by name, address, street, phone or tag"
      placeholder="name, address, street, phone or tag"
      maxLength={200}
      value={text}
      onChange={(event) => {
        setText(event.currentTarget.value);
        onChange(event.currentTarget.value.trim());
      }}
    />
  );
}
