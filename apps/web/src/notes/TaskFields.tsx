// What a task is: what to do, until when, by whom.
import { Switch, TextInput } from '@mantine/core';
import { NOTE_LIMITS, taskKinds, taskWords, type TaskKind } from '@palabra/core/notes';
import { useVocabularyQuery } from '../contacts';
import { Day } from '../ui/Day';
import { Pick } from '../ui/Pick';
import classes from './notes.module.css';

export interface TaskDraft {
  readonly kind: TaskKind;
  readonly text: string;
  /** `YYYY-MM-DD`, or empty. */
  readonly due: string;
  /** An account; 0 is the owner of each. */
  readonly assignee: number;
  readonly remind: boolean;
}

interface TaskFieldsProps {
  readonly value: TaskDraft;
  readonly onChange: (value: TaskDraft) => void;
  /** Whether it may be for the owner of each. */
  readonly forEach?: boolean;
}

export function TaskFields({ value, onChange, forEach }: TaskFieldsProps) {
  const owners = useVocabularyQuery().data?.owners ?? [];
  const put = (change: Partial<TaskDraft>): void => onChange({ ...value, ...change });
  return (
    <div className={classes.fields}>
      <Pick
        label="What to do"
        value={value.kind}
        options={taskKinds.map((kind) => ({ value: kind, label: taskWords[kind] }))}
        onChange={(kind) => kind && put({ kind })}
      />
      <TextInput
        className={classes.grow}
        variant="line"
        data-autofocus
        aria-label="What about"
        placeholder="what about"
        maxLength={NOTE_LIMITS.task}
        value={value.text}
        onChange={(event) => put({ text: event.currentTarget.value })}
      />
      by
      <Day
        label="Until when"
        nothing="any day"
        value={value.due}
        onChange={(due) => put({ due })}
      />
      for
      <Pick
        label="Who does it"
        value={value.assignee}
        options={[
          ...(forEach ? [{ value: 0, label: 'the owner of each' }] : []),
          ...owners
            .filter(({ isGone }) => !isGone)
            .map(({ key, label }) => ({ value: Number(key), label })),
        ]}
        onChange={(assignee) => assignee !== null && put({ assignee: Number(assignee) })}
      />
      <Switch
        size="sm"
        label="a mail that morning"
        disabled={value.due === ''}
        checked={value.remind && value.due !== ''}
        onChange={(event) => put({ remind: event.currentTarget.checked })}
      />
    </div>
  );
}

export const taskRequest = ({ kind, text, due, assignee, remind }: TaskDraft) => ({
  kind,
  text,
  due: due === '' ? null : due,
  assignee,
  remind: remind && due !== '',
});
