// What a note is beside its text: whether it is kept in sight, and which colleagues find it on their desk.
import { MultiSelect, Switch } from '@mantine/core';
import type { NoteRequest } from '@palabra/contract/notes';
import { useVocabularyQuery } from '../contacts';
import { useOffice } from '../office';
import classes from './notes.module.css';

type Options = Pick<NoteRequest, 'pinned' | 'tell'>;

export const noOptions: Options = { pinned: false, tell: [] };

export function NoteOptions({
  value,
  onChange,
}: {
  readonly value: Options;
  readonly onChange: (value: Options) => void;
}) {
  const { user } = useOffice();
  const owners = useVocabularyQuery().data?.owners ?? [];
  return (
    <>
      <Switch
        size="sm"
        label="keep it in sight"
        checked={value.pinned}
        onChange={(event) => onChange({ ...value, pinned: event.currentTarget.checked })}
      />
      <MultiSelect
        variant="line"
        className={classes.grow}
        aria-label="Tell colleagues"
        placeholder={value.tell.length === 0 ? 'tell a colleague' : undefined}
        searchable
        hidePickedOptions
        data={owners
          .filter(({ key, isGone }) => key !== String(user.id) && !isGone)
          .map(({ key, label }) => ({ value: key, label }))}
        value={value.tell.map(String)}
        onChange={(keys) => onChange({ ...value, tell: keys.map(Number) })}
      />
    </>
  );
}
