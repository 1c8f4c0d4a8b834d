// A note where it stands: on the timeline, or kept in sight; whose it is changes it there.
import { Button } from '@mantine/core';
import type { NoteReply } from '@palabra/contract/notes';
import { noteKinds, plainText, type NoteKind } from '@palabra/core/notes';
import { useState } from 'react';
import { useMay } from '../office';
import { command } from '../ui/command';
import { Act, Soft } from '../ui/text';
import { Words } from '../ui/Words';
import { NoteEditor } from './NoteEditor';
import { NoteOptions } from './NoteOptions';
import { NoteText } from './NoteText';
import { useChangeNoteMutation, useRemoveNoteMutation, useRestoreNoteMutation } from './notes.api';
import classes from './notes.module.css';

const lead: Readonly<Record<NoteKind, string>> = { note: 'Note', call: 'Called', meeting: 'Met' };

export function NoteEntry({ note }: { readonly note: NoteReply }) {
  const [isEditing, setEditing] = useState(false);
  const may = useMay('change people') && note.mayChange;
  if (isEditing) return <EditNote note={note} onDone={() => setEditing(false)} />;
  const told = note.told.map(({ name }) => name).join(', ');
  return (
    <span className={classes.note}>
      <Soft>
        {lead[note.kind]}, {note.by.name}
        {told && `; told ${told}`}
      </Soft>
      {may && <Acts note={note} onEdit={() => setEditing(true)} />}
      <NoteText text={note.text} />
    </span>
  );
}

function Acts({ note, onEdit }: { readonly note: NoteReply; readonly onEdit: () => void }) {
  const [change] = useChangeNoteMutation();
  const [remove] = useRemoveNoteMutation();
  const [restore] = useRestoreNoteMutation();
  const { id, version, kind, text, pinned } = note;
  const tell = note.told.map((one) => one.id);
  const pin = (): Promise<unknown> =>
    command({ run: () => change({ id, version, kind, text, tell, pinned: !pinned }).unwrap() });
  return (
    <span className={classes.acts}>
      <Act data-quiet onClick={() => void pin()}>
        {pinned ? 'Unpin' : 'Pin'}
      </Act>
      <Act data-quiet onClick={onEdit}>
        Edit
      </Act>
      <Act
        data-quiet
        onClick={() =>
          void command({
            run: () => remove(id).unwrap(),
            says: () => 'The note was deleted.',
            undo: () => restore(id).unwrap(),
          })
        }
      >
        Delete
      </Act>
    </span>
  );
}

function EditNote({ note, onDone }: { readonly note: NoteReply; readonly onDone: () => void }) {
  const [kind, setKind] = useState(note.kind);
  const [text, setText] = useState(note.text);
  const [options, setOptions] = useState({
    pinned: note.pinned,
    tell: note.told.map(({ id }) => id),
  });
  const [change, changing] = useChangeNoteMutation();
  const isEmpty = plainText(text.content).trim() === '';
  const save = async (): Promise<void> => {
    const { id, version } = note;
    const kept = await command({
      run: () => change({ id, version, kind, text, ...options }).unwrap(),
    });
    if (kept) onDone();
  };
  return (
    <span className={classes.note} role="group" aria-label="Change the note">
      <Words label="What it is" value={kind} options={noteKinds} onChange={setKind} />
      <NoteEditor
        label="What you heard"
        initial={note.text}
        onChange={setText}
        onSubmit={() => void save()}
      />
      <span className={classes.foot}>
        <NoteOptions value={options} onChange={setOptions} />
        <span>
          <Act onClick={onDone}>As it was</Act>{' '}
          <Button
            size="xs"
            disabled={isEmpty}
            loading={changing.isLoading}
            onClick={() => void save()}
          >
            Keep it
          </Button>
        </span>
      </span>
    </span>
  );
}
