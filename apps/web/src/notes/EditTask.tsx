// A task changed where it stands.
import { Button } from '@mantine/core';
import type { TaskReply } from '@palabra/contract/notes';
import { useState } from 'react';
import { command } from '../ui/command';
import { Act } from '../ui/text';
import { useChangeTaskMutation } from './notes.api';
import classes from './notes.module.css';
import { TaskFields, taskRequest } from './TaskFields';

export function EditTask({
  task,
  onDone,
}: {
  readonly task: TaskReply;
  readonly onDone: () => void;
}) {
  const { id, version, kind, text, due, remind } = task;
  const [draft, setDraft] = useState({
    kind,
    text,
    due: due ?? '',
    remind,
    assignee: task.assignee.id,
  });
  const [change, changing] = useChangeTaskMutation();
  const save = async (): Promise<void> => {
    const kept = await command({
      run: () => change({ id, version, ...taskRequest(draft) }).unwrap(),
    });
    if (kept) onDone();
  };
  return (
    <form
      aria-label="Change the task"
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      <TaskFields value={draft} onChange={setDraft} />
      <div className={classes.foot}>
        <span>
          <Act onClick={onDone}>As it was</Act>{' '}
          <Button size="xs" type="submit" loading={changing.isLoading}>
            Keep it
          </Button>
        </span>
      </div>
    </form>
  );
}
