// A task for each of the chosen people: “call these”.
import { Button, Group, Modal, Stack } from '@mantine/core';
import type { PeopleSelection } from '@palabra/contract/contacts';
import { useState } from 'react';
import { useMay } from '../office';
import { command } from '../ui/command';
import { count, people as peopleWords } from '../ui/numbers';
import { Act, Soft } from '../ui/text';
import { useAddTasksMutation, useDropTasksMutation } from './notes.api';
import { TaskFields, taskRequest, type TaskDraft } from './TaskFields';

interface ForEachProps {
  readonly people: PeopleSelection;
  readonly size: number;
}

const atFirst: TaskDraft = { kind: 'call', text: '', due: '', assignee: 0, remind: false };

export function ForEach({ people, size }: ForEachProps) {
  const [isOpen, setOpen] = useState(false);
  const [task, setTask] = useState(atFirst);
  const [add, adding] = useAddTasksMutation();
  const [drop] = useDropTasksMutation();
  if (!useMay('change people')) return null;
  const make = async (): Promise<void> => {
    const { assignee, ...rest } = taskRequest(task);
    const made = await command({
      run: () =>
        add({
          people,
          task: assignee === 0 ? rest : { ...rest, assignee },
        }).unwrap(),
      says: ({ count: number, leftOut }) =>
        `${count(number)} ${number === 1 ? 'task was' : 'tasks were'} made.${
          leftOut > 0
            ? ` For ${peopleWords(leftOut)} none was: whoever it is for does not see them, or has left.`
            : ''
        }`,
      undo: ({ batch }) => drop(batch).unwrap(),
    });
    if (made) setOpen(false);
  };
  return (
    <>
      <Act onClick={() => setOpen(true)}>A task for each</Act>
      <Modal
        opened={isOpen}
        onClose={() => setOpen(false)}
        size="lg"
        title={size === 1 ? 'A task' : `A task for each of ${peopleWords(size)}`}
      >
        <form
          onSubmit={(event) => {
            event.preventDefault();
            void make();
          }}
        >
          <Stack gap="md">
            <TaskFields value={task} onChange={setTask} forEach />
            <Soft>It stands on the desk of whoever is to do it, and on the person’s page.</Soft>
            <Group>
              <Button type="submit" loading={adding.isLoading}>
                Make {size === 1 ? 'the task' : `${count(size)} tasks`}
              </Button>
            </Group>
          </Stack>
        </form>
      </Modal>
    </>
  );
}
