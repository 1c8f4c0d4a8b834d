import { useDispatch, useSelector } from 'react-redux';
import { Link } from 'react-router';
import { problemOf } from '../app/api';
import type { RootState } from '../app/store';
import { count, peoplePath } from '../ui/numbers';
import { MarginPart } from '../ui/Page';
import { useUndoMutation } from './contacts.api';
import { did } from './justDone';

export function JustDonePart() {
  const done = useSelector((state: RootState) => state.justDone.done);
  const dispatch = useDispatch();
  const [undo, undoing] = useUndoMutation();
  if (!done) return null;
  const takeBack = async (changeSet: number): Promise<void> => {
    try {
      const { count: people, leftAlone } = await undo(changeSet).unwrap();
      const rest = leftAlone ? ` ${count(leftAlone)} had changed again since and were left as they are.` : '';
      dispatch(did({ text: `Taken back for ${count(people)} ${people === 1 ? 'person' : 'people'}.${rest}` }));
    } catch (error) {
      dispatch(did({ text: problemOf(error).detail }));
    }
  };
  return (
    <MarginPart title="Just done">
      <p className="soft" role="status">
        {done.people ? (
          <Link className="opens" to={peoplePath(done.people)}>
            {done.text}
          </Link>
        ) : (
          done.text
        )}{' '}
        {done.changeSet !== undefined && (
          <button type="button" className="act" disabled={undoing.isLoading} onClick={() => void takeBack(done.changeSet ?? 0)}>
            {undoing.isLoading ? 'Taking it back …' : 'Undo'}
          </button>
        )}
      </p>
    </MarginPart>
  );
}
