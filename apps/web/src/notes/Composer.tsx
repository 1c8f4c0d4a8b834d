// What one heard, or is to do, written down where the person is.
import { Button, UnstyledButton } from '@mantine/core';
import { useSessionStorage } from '@mantine/hooks';
import { plainText, type NoteKind } from '@palabra/core/notes';
import type { RichText } from '@palabra/core/letters';
import { useState } from 'react';
import { useOffice } from '../office';
import { command } from '../ui/command';
import { Act } from '../ui/text';
import { Words } from '../ui/Words';
import { NoteEditor } from './NoteEditor';
import { noOptions, NoteOptions } from './NoteOptions';
import { useAddNoteMutation, useAddTaskMutation } from './notes.api';
import classes from './notes.module.css';
import { TaskFields, taskRequest, type TaskDraft } from './TaskFields';

export const emptyText: RichText = { type: 'doc', content: [{ type: 'paragraph' }] };

type What = NoteKind | 'to do';

export function Composer({ person }: { readonly person: number }) {
  const [isOpen, setOpen] = useState(false);
  const [what, setWhat] = useState<What>('note');
  if (!isOpen)
    return (
      <div className={classes.composer}>
        <UnstyledButton className={classes.closed} onClick={() => setOpen(true)}>
          What did you hear? A note, a call, a thing to do …
        </UnstyledButton>
      </div>
    );
  return (
    <div className={`${classes.composer} ${classes.open}`} role="group" aria-label="Write down">
      <Words
        label="What it is"
        value={what}
        options={['note', 'call', 'meeting', 'to do']}
        onChange={setWhat}
      />
      {what === 'to do' ? (
        <NewTask person={person} onDone={() => setOpen(false)} />
      ) : (
        <NewNote person={person} kind={what} onDone={() => setOpen(false)} />
      )}
    </div>
  );
}

function NewNote({
  person,
  kind,
  onDone,
}: {
  readonly person: number;
  readonly kind: NoteKind;
  readonly onDone: () => void;
}) {
  // A reload in the middle loses nothing.
  const [text, setText, forget] = useSessionStorage<RichText>({
    key: `palabra.note.${person}`,
    defaultValue: emptyText,
    getInitialValueInEffect: false,
  });
  const [options, setOptions] = useState(noOptions);
  const [add, adding] = useAddNoteMutation();
  const isEmpty = plainText(text.content).trim() === '';
  const save = async (): Promise<void> => {
    if (isEmpty || adding.isLoading) return;
    const made = await command({
      run: () => add({ person, kind, text, ...options }).unwrap(),
    });
    if (!made) return;
    forget();
    onDone();
  };
  return (
    <>
      <NoteEditor
        label="What you heard"
        initial={text}
        onChange={setText}
        onSubmit={() => void save()}
      />
      <div className={classes.foot}>
        <NoteOptions value={options} onChange={setOptions} />
        <span>
          <Act onClick={onDone}>Not now</Act>{' '}
          <Button
            size="xs"
            disabled={isEmpty}
            loading={adding.isLoading}
            onClick={() => void save()}
          >
            Write it down
          </Button>
        </span>
      </div>
    </>
  );
}

function NewTask({ person, onDone }: { readonly person: number; readonly onDone: () => void }) {
  const { user } = useOffice();
  const [task, setTask] = useState<TaskDraft>({
    kind: 'call',
    text: '',
    due: '',
    assignee: user.id,
    remind: false,
  });
  const [add, adding] = useAddTaskMutation();
  const save = async (): Promise<void> => {
    const made = await command({ run: () => add({ person, ...taskRequest(task) }).unwrap() });
    if (made) onDone();
  };
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      <TaskFields value={task} onChange={setTask} />
      <div className={classes.foot}>
        <span>
          <Act onClick={onDone}>Not now</Act>{' '}
          <Button size="xs" type="submit" loading={adding.isLoading}>
            Make it a task
          </Button>
        </span>
      </div>
    </form>
  );
}
