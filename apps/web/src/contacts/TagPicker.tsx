// Finds a tag by typing, or makes a new one with a colour on the way.
import { tagKey, type TagColour } from '@palabra/core/contacts';
import { useState, type ReactNode } from 'react';
import { command } from '../ui/command';
import { Finder } from '../ui/Finder';
import { count } from '../ui/numbers';
import { Flag } from './Flag';
import { Colours } from './tags/Colours';
import { useAddTagMutation, useVocabularyQuery } from './contacts.api';

interface TagPickerProps {
  readonly label: ReactNode;
  /** Only these tags, with how many have each; without it every tag, and new ones can be made. */
  readonly among?: readonly { readonly id: number; readonly count?: number }[];
  readonly leaveOut?: readonly number[];
  /** Those, too, that nobody puts on by hand. */
  readonly withAutomatic?: boolean;
  /** No new ones are made here. */
  readonly isFixed?: boolean;
  readonly disabled?: boolean;
  readonly onPick: (tag: number) => void;
}

export function TagPicker({
  label,
  among,
  leaveOut = [],
  withAutomatic = among !== undefined,
  isFixed = among !== undefined,
  disabled,
  onPick,
}: TagPickerProps) {
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
      label={
        among ? 'Find a tag among these people' : isFixed ? 'Find a tag' : 'Find or make a tag'
      }
      placeholder={isFixed ? 'find a tag' : 'find or make a tag'}
      none={
        among
          ? 'None of these people has such a tag.'
          : isFixed
            ? 'There is no such tag.'
            : 'Type a name to make the first tag.'
      }
      disabled={disabled}
      options={tags
        .filter(
          ({ id, kind }) =>
            (!among || counts.has(id)) &&
            (withAutomatic || kind === 'office') &&
            !leaveOut.includes(id),
        )
        .map((tag) => {
          const own = counts.get(tag.id);
          return {
            key: String(tag.id),
            text: tag.name,
            view: <Flag name={tag.name} colour={tag.colour} kind={tag.kind} />,
            note: own === undefined ? undefined : count(own),
          };
        })}
      make={
        isFixed
          ? undefined
          : {
              label: (name) => `Make the tag “${name}”`,
              can: (name) => !tags.some((tag) => tagKey(tag.name) === tagKey(name)),
              run: (name) => void make(name),
            }
      }
      below={
        !isFixed && <Colours label="Colour of a new tag" value={colour} onChange={setColour} />
      }
      onPick={({ key }) => onPick(Number(key))}
    />
  );
}
