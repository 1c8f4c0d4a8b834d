import type { ChangeReply } from '@palabra/contract/contacts';
import type { ChangeSet } from './changes.store.js';

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
    (set.count > 0 || set.thingId !== null),
  leftAlone: set.leftAlone,
});
