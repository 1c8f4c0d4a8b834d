// Finds a tag by typing, or makes a new one with a colour on the way.
import { ColorSwatch, Popover, ScrollArea } from '@mantine/core';
import { searchKey, tagColours, tagKey, type TagColour } from '@palabra/core/contacts';
import { useId, useState, type ReactNode } from 'react';
import { problemOf } from '../app/api';
import { count } from '../ui/numbers';
import { Flag } from './Flag';
import { useAddTagMutation, useVocabularyQuery } from './contacts.api';

interface TagPickerProps {
  readonly label: ReactNode;
  /** Only these tags, with how many have each; without it every tag, and new ones can be made. */
  readonly among?: readonly { readonly id: number; readonly count: number }[];
  readonly leaveOut?: readonly number[];
  readonly disabled?: boolean;
  readonly onPick: (tag: number) => void;
}

export function TagPicker({ label, among, leaveOut = [], disabled, onPick }: TagPickerProps) {
  const [opened, setOpened] = useState(false);
  const [text, setText] = useState('');
  const [at, setAt] = useState(0);
  const [colour, setColour] = useState<TagColour>('iris');
  const [error, setError] = useState<string>();
  const listId = useId();
  const { data } = useVocabularyQuery();
  const [addTag, adding] = useAddTagMutation();
  const counts = new Map(among?.map((one) => [one.id, one.count]));
  const found = (data?.tags ?? []).filter(
    (tag) =>
      (!among || counts.has(tag.id)) &&
      !leaveOut.includes(tag.id) &&
      searchKey(tag.name).includes(searchKey(text)),
  );
  const canMake =
    !among &&
    text.trim() !== '' &&
    !(data?.tags ?? []).some((tag) => tagKey(tag.name) === tagKey(text));
  const choices = found.length + (canMake ? 1 : 0);
  const active = Math.min(at, Math.max(choices - 1, 0));

  const pick = (tag: number): void => {
    setOpened(false);
    setText('');
    onPick(tag);
  };
  const make = async (): Promise<void> => {
    try {
      pick((await addTag({ name: text, colour }).unwrap()).id);
    } catch (reason) {
      setError(problemOf(reason).detail);
    }
  };
  const take = (index: number): void => {
    const tag = found[index];
    if (tag) pick(tag.id);
    else if (canMake) void make();
  };

  return (
    <Popover opened={opened} onChange={setOpened} position="bottom-start" trapFocus width={280}>
      <Popover.Target>
        <button
          type="button"
          className="act"
          disabled={disabled}
          onClick={() => setOpened(!opened)}
        >
          {label}
        </button>
      </Popover.Target>
      <Popover.Dropdown p="xs">
        <input
          className="line-input"
          style={{ width: '100%', boxSizing: 'border-box' }}
          role="combobox"
          aria-label={among ? 'Find a tag among these people' : 'Find or make a tag'}
          aria-expanded
          aria-controls={listId}
          aria-activedescendant={`${listId}-${active}`}
          placeholder={among ? 'find a tag' : 'find or make a tag'}
          data-autofocus
          maxLength={60}
          value={text}
          onChange={(event) => {
            setText(event.currentTarget.value);
            setAt(0);
            setError(undefined);
          }}
          onKeyDown={(event) => {
            if (event.key === 'ArrowDown') setAt(Math.min(active + 1, choices - 1));
            else if (event.key === 'ArrowUp') setAt(Math.max(active - 1, 0));
            else if (event.key === 'Enter') take(active);
            else return;
            event.preventDefault();
          }}
        />
        <ScrollArea.Autosize mah={260} mt={6} viewportProps={{ tabIndex: -1 }}>
          <div role="listbox" id={listId} aria-label="Tags">
            {found.map((tag, index) => (
              <div
                key={tag.id}
                id={`${listId}-${index}`}
                role="option"
                aria-selected={index === active}
                className="tag-option"
                onMouseEnter={() => setAt(index)}
                onClick={() => pick(tag.id)}
              >
                <Flag name={tag.name} colour={tag.colour} />
                {among && (
                  <span className="figure small soft">{count(counts.get(tag.id) ?? 0)}</span>
                )}
              </div>
            ))}
            {canMake && (
              <div
                id={`${listId}-${found.length}`}
                role="option"
                aria-selected={active === found.length}
                className="tag-option"
                onMouseEnter={() => setAt(found.length)}
                onClick={() => void make()}
              >
                {adding.isLoading ? 'Making …' : `Make the tag “${text.trim()}”`}
              </div>
            )}
          </div>
        </ScrollArea.Autosize>
        {choices === 0 && (
          <p className="soft small">
            {among ? 'None of these people has such a tag.' : 'Type a name to make the first tag.'}
          </p>
        )}
        {canMake && (
          <div
            role="radiogroup"
            aria-label="Colour of the new tag"
            style={{ display: 'flex', gap: 6, marginTop: 8 }}
          >
            {tagColours.map((one) => (
              <ColorSwatch
                key={one}
                component="button"
                type="button"
                role="radio"
                aria-checked={one === colour}
                aria-label={one}
                title={one}
                size={24}
                radius={3}
                color={`var(--tag-${one})`}
                withShadow={false}
                onClick={() => setColour(one)}
              >
                {one === colour && <span style={{ color: '#fff', fontWeight: 800 }}>✓</span>}
              </ColorSwatch>
            ))}
          </div>
        )}
        {error && (
          <p className="wrong small" role="alert">
            {error}
          </p>
        )}
      </Popover.Dropdown>
    </Popover>
  );
}
