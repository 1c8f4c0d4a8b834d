// How the saving of a draft goes: the quiet word beside a heading, and what to do when it did not work.
import type { Draft, SaveState } from '../api/drafts';
import { Note } from './states';
import { Act, Wrongly } from './text';

const words = { saved: 'saved', saving: 'saving …', unsaved: 'not saved yet' } as const;

export function SaveWord({ state }: { readonly state: SaveState<unknown> }) {
  if (state.kind === 'wrong') return <Wrongly>not saved</Wrongly>;
  if (state.kind === 'conflict') return <Wrongly>changed elsewhere</Wrongly>;
  return <span role="status">{words[state.kind]}</span>;
}

export function SaveTrouble<T>({
  draft,
  what,
}: {
  readonly draft: Draft<T>;
  readonly what: string;
}) {
  const { state } = draft;
  if (state.kind === 'wrong')
    return (
      <Note kind="wrong">
        Not saved: {state.text} <Act onClick={() => void draft.flush()}>Try again</Act>
      </Note>
    );
  if (state.kind !== 'conflict') return null;
  return (
    <div role="alert">
      <Note kind="caution">
        This {what} was changed elsewhere, perhaps in another tab. Neither state is lost yet; choose
        which one goes on. <Act onClick={draft.keepMine}>Keep what I have here</Act>{' '}
        <Act onClick={draft.takeTheirs}>Take the other one</Act>
      </Note>
    </div>
  );
}
