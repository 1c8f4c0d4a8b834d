// A task where it stands: ticked off, changed, or deleted there.
import { Checkbox } from '@mantine/core';
import type { TaskReply } from '@palabra/contract/notes';
import { displayName } from '@palabra/core/contacts';
import { dueness, taskWords } from '@palabra/core/notes';
import { dayIn } from '@palabra/core/office';
import { lazy, Suspense, useState } from 'react';
import { useMay, useOffice } from '../office';
import { command } from '../ui/command';
import { Name, Row } from '../ui/Rows';
import { Ghost } from '../ui/states';
import { Act, Soft, Wrongly } from '../ui/text';
import { day, longDate } from '../ui/time';
import { useRemoveTaskMutation, useRestoreTaskMutation, useSetTaskDoneMutation } from './notes.api';
import classes from './notes.module.css';

/** The parts for days come when they are wanted: the desk does without. */
const EditTask = lazy(async () => ({ default: (await import('./EditTask')).EditTask }));

interface TaskLineProps {
  readonly task: TaskReply;
  /** Whether the person is named; not where one is on their page. */
  readonly named?: boolean;
  /** Whether it can be changed here, beside being ticked off: in the line, or at the end of a row of its own. */
  readonly changes?: boolean;
  readonly as?: 'row';
}

export function TaskLine({ task, named, changes, as }: TaskLineProps) {
  const { user } = useOffice();
  const [isEditing, setEditing] = useState(false);
  const [setDone] = useSetTaskDoneMutation();
  const may = useMay('change people') && task.mayChange;
  const { id, person } = task;
  const name = displayName({ given: person.givenName, family: person.familyName }, person.address);
  const what = `${taskWords[task.kind]} ${name}`;
  const tick = (done: boolean): Promise<unknown> =>
    command({
      run: () => setDone({ id, done }).unwrap(),
      says: () => (done ? `Done: ${what}.` : `To do again: ${what}.`),
      undo: () => setDone({ id, done: !done }).unwrap(),
    });
  const acts = may && <Acts task={task} what={what} onEdit={() => setEditing(true)} />;
  const line = isEditing ? (
    <Suspense fallback={<Ghost lines={1} />}>
      <EditTask task={task} onDone={() => setEditing(false)} />
    </Suspense>
  ) : (
    <span className={classes.task}>
      <Checkbox
        mt={2}
        aria-label={`Done: ${what}`}
        disabled={!may}
        checked={task.doneAt !== null}
        onChange={(event) => void tick(event.currentTarget.checked)}
      />
      <span>
        <span className={task.doneAt === null ? undefined : classes.done}>
          {named ? (
            <>
              {taskWords[task.kind]} <Name to={`/contacts/${person.id}`}>{name}</Name>
            </>
          ) : (
            <b>{taskWords[task.kind]}</b>
          )}
          {task.text && `: ${task.text}`}
        </span>{' '}
        <When task={task} />
        {named && person.phone && task.kind === 'call' && (
          <>
            {' '}
            <a href={`tel:${person.phone.replace(/[^+0-9]/g, '')}`}>{person.phone}</a>
          </>
        )}
        {task.assignee.id !== user.id && (
          <Soft>
            {' '}
            for {task.assignee.name}
            {task.assignee.isClosed && ', who has left'}
          </Soft>
        )}
        {changes && acts}
      </span>
    </span>
  );
  return as === 'row' ? <Row end={isEditing ? undefined : acts}>{line}</Row> : line;
}

function When({ task }: { readonly task: TaskReply }) {
  const { office } = useOffice();
  if (task.doneAt)
    return (
      <Soft>
        done {day(office.timeZone, task.doneAt)}
        {task.doneBy && ` by ${task.doneBy}`}
      </Soft>
    );
  if (task.due === null) return null;
  switch (dueness(task.due, dayIn(office.timeZone, new Date()))) {
    case 'overdue':
      return <Wrongly>overdue since {longDate(task.due)}</Wrongly>;
    case 'today':
      return <b>today</b>;
    default:
      return <Soft>by {longDate(task.due)}</Soft>;
  }
}

function Acts({
  task: { id },
  what,
  onEdit,
}: {
  readonly task: TaskReply;
  readonly what: string;
  readonly onEdit: () => void;
}) {
  const [remove] = useRemoveTaskMutation();
  const [restore] = useRestoreTaskMutation();
  return (
    <span className={classes.acts}>
      <Act data-quiet aria-label={`Edit: ${what}`} onClick={onEdit}>
        Edit
      </Act>
      <Act
        data-quiet
        aria-label={`Delete: ${what}`}
        onClick={() =>
          void command({
            run: () => remove(id).unwrap(),
            says: () => `The task was deleted: ${what}.`,
            undo: () => restore(id).unwrap(),
          })
        }
      >
        Delete
      </Act>
    </span>
  );
}
