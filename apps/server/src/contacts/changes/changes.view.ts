import type { ChangeReply } from '@palabra/contract/contacts';
import { whyLeft } from '@palabra/core/contacts';
import type { ChangeSet } from './changes.store.js';

/** What a tag or a field became is so for everybody. */
export const mayStop = ({ todo }: ChangeSet): boolean =>
  todo !== null && !('tagGone' in todo) && !('retyped' in todo);

export const changeReply = (
  set: ChangeSet,
  by: string | null,
  person: string | null = null,
): ChangeReply => ({
  id: set.id,
  kind: set.kind,
  what: set.what,
  by,
  count: set.count,
  person,
  at: set.at.toISOString(),
  isDone: set.finishedAt !== null,
  isUndone: set.undoneAt !== null,
  canUndo:
    set.undoable &&
    set.undoneAt === null &&
    set.finishedAt !== null &&
    (set.count > 0 ||
      set.leftAlone > 0 ||
      set.thingId !== null ||
      (set.todo !== null && 'tagGone' in set.todo)),
  canStop: set.finishedAt === null && mayStop(set),
  leftAlone: set.leftAlone,
  whyLeft: set.todo && 'deed' in set.todo ? whyLeft(set.todo.deed) : 'changed again since',
});
