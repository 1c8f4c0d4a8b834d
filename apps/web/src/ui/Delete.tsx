// A thing is deleted without a question, and comes back from where it is told.
import { command } from './command';
import { Act } from './text';

interface DeleteProps {
  readonly name: string;
  readonly remove: () => Promise<unknown>;
  readonly restore: () => Promise<unknown>;
  /** Shows why it can't be deleted now; nothing is deleted then. */
  readonly instead?: () => void;
}

export function Delete({ name, remove, restore, instead }: DeleteProps) {
  const go = (): void =>
    void command({ run: remove, says: () => `“${name}” was deleted.`, undo: restore });
  return (
    <Act aria-label={`Delete ${name}`} onClick={instead ?? go}>
      Delete
    </Act>
  );
}
