// Finds a tag by typing, or makes a new one with a colour on the way.
import { ColorSwatch, Group } from '@mantine/core';
import { IconCheck } from '@tabler/icons-react';
import { tagColours, tagKey, type TagColour } from '@palabra/core/contacts';
import { useState, type ReactNode } from 'react';
import { command } from '../ui/command';
import { Finder } from '../ui/Finder';
import { count } from '../ui/numbers';
import { Flag } from './Flag';
import { useAddTagMutation, useVocabularyQuery } from './contacts.api';

interface TagPickerProps {
  readonly label: ReactNode;
  /** Only these tags, with how many have each; without it every tag, and new ones can be made. */
  readonly among?: readonly { readonly id: number; readonly count?: number }[];
  readonly leaveOut?: readonly number[];
  readonly disabled?: boolean;
  readonly onPick: (tag: number) => void;
}

export function TagPicker({ label, among, leaveOut = [], disabled, onPick }: TagPickerProps) {
  const [colour, setColour] = useState<TagColour>('iris');
  const { data } = useVocabularyQuery();
  const [addTag] = useAddTagMutation();
  const counts = new Map(among?.map((one) => [one.id, one.count]));
  const tags = data?.tags ?? [];
  const make = async (name: string): Promise<void> => {
    const tag = await command({ run: () => addTag({ name, colour }).unwrap() });
    if (tag) onPick(tag.id);
  };
  return (
    <Finder
      words={label}
      label={among ? 'Find a tag among these people' : 'Find or make a tag'}
      placeholder={among ? 'find a tag' : 'find or make a tag'}
      none={among ? 'None of these people has such a tag.' : 'Type a name to make the first tag.'}
      disabled={disabled}
      options={tags
        .filter(({ id }) => (!among || counts.has(id)) && !leaveOut.includes(id))
        .map((tag) => {
          const own = counts.get(tag.id);
          return {
            key: String(tag.id),
            text: tag.name,
            view: <Flag name={tag.name} colour={tag.colour} />,
            note: own === undefined ? undefined : count(own),
          };
        })}
      make={
        among
          ? undefined
          : {
              label: (name) => `Make the tag “${name}”`,
              can: (name) => !tags.some((tag) => tagKey(tag.name) === tagKey(name)),
              run: (name) => void make(name),
            }
      }
      below={!among && <Colours value={colour} onChange={setColour} />}
      onPick={({ key }) => onPick(Number(key))}
    />
  );
}

function Colours({
  value,
  onChange,
}: {
  readonly value: TagColour;
  readonly onChange: (colour: TagColour) => void;
}) {
  return (
    <Group gap={6} role="radiogroup" aria-label="Colour of a new tag">
      {tagColours.map((one) => (
        <ColorSwatch
          key={one}
          component="button"
          type="button"
          role="radio"
          aria-checked={one === value}
          aria-label={one}
          title={one}
          size={24}
          radius={3}
          color={`var(--tag-${one})`}
          withShadow={false}
          onClick={() => onChange(one)}
        >
          {one === value && <IconCheck size={15} color="var(--paper)" aria-hidden />}
        </ColorSwatch>
      ))}
    </Group>
  );
}
