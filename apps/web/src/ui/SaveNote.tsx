import { Note } from './states';
import type { SaveState } from './autosave';

const words = { saved: 'saved', saving: 'saving …', unsaved: 'not saved yet' } as const;

/** The quiet word beside a heading. */
export function SaveWord({ state }: { readonly state: SaveState }) {
  if (state.kind === 'wrong') return <span className="wrong">not saved</span>;
  if (state.kind === 'conflict') return <span className="wrong">changed elsewhere</span>;
  return (
    <span className="soft" role="status">
      {words[state.kind]}
    </span>
  );
}

interface SaveTroubleProps {
  readonly state: SaveState;
  readonly what: string;
  readonly onAgain: () => void;
  readonly onTheirs: (current: unknown) => void;
  readonly onMine: (version: number) => void;
}

/** What to do when saving did not work. */
export function SaveTrouble({ state, what, onAgain, onTheirs, onMine }: SaveTroubleProps) {
  if (state.kind === 'wrong') {
    return (
      <div role="alert">
        <Note kind="wrong">
          Not saved: {state.text}{' '}
          <button type="button" className="act" onClick={onAgain}>
            Try again
          </button>
        </Note>
      </div>
    );
  }
  if (state.kind !== 'conflict') return null;
  const { version } = state.current as { version: number };
  return (
    <div role="alert">
      <Note kind="caution">
        This {what} was changed elsewhere, perhaps in another tab. Neither state is lost yet; choose
        which one goes on.{' '}
        <button type="button" className="act" onClick={() => onMine(version)}>
          Keep what I have here
        </button>{' '}
        <button type="button" className="act" onClick={() => onTheirs(state.current)}>
          Take the other one
        </button>
      </Note>
    </div>
  );
}
