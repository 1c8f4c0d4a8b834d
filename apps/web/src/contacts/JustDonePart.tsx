import type { ChangeReply } from '@palabra/contract/contacts';
import { useEffect } from 'react';
import { useDispatch, useSelector } from 'react-redux';
import { Link } from 'react-router';
import { api, problemOf } from '../app/api';
import type { RootState } from '../app/store';
import { count, peoplePath } from '../ui/numbers';
import { MarginPart } from '../ui/Page';
import { useCancelChangeMutation, useChangeQuery, useUndoMutation } from './contacts.api';
import { did } from './justDone';

export function JustDonePart() {
  const done = useSelector((state: RootState) => state.justDone.done);
  if (!done) return null;
  return (
    <MarginPart title="Just done">
      {'text' in done ? (
        <p className="soft" role="status">
          {done.text}
        </p>
      ) : (
        <Followed key={done.changeSet} id={done.changeSet} meant={done.meant} />
      )}
    </MarginPart>
  );
}

const people = (number: number): string => `${count(number)} ${number === 1 ? 'person' : 'people'}`;
export const sentence = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

/** A change as it goes on; long ones are followed to their end. */
function Followed({ id, meant }: { readonly id: number; readonly meant?: number }) {
  const dispatch = useDispatch();
  const first = useChangeQuery(id);
  const isRunning = first.data?.isDone === false;
  const { data } = useChangeQuery(id, { pollingInterval: isRunning ? 500 : 0 });
  const [undo, undoing] = useUndoMutation();
  const [cancel] = useCancelChangeMutation();
  useEffect(() => {
    if (isRunning)
      return () =>
        void dispatch(api.util.invalidateTags(['People', 'Person', 'Segments', 'Campaigns']));
    return undefined;
  }, [isRunning, dispatch]);
  if (!data) return <p className="soft">{first.isError ? problemOf(first.error).detail : '…'}</p>;
  const takeBack = async (): Promise<void> => {
    try {
      dispatch(did({ changeSet: (await undo(id).unwrap()).id }));
    } catch (error) {
      dispatch(did({ text: problemOf(error).detail }));
    }
  };
  const already = data.isDone && meant !== undefined ? meant - data.count : 0;
  return (
    <p className="soft" role="status">
      <ChangeWords change={data} />
      {already > 0 && ` ${people(already)} needed no change.`}{' '}
      {!data.isDone && data.kind === 'tagging' && (
        <button type="button" className="act" onClick={() => void cancel(id)}>
          Stop here
        </button>
      )}
      {data.canUndo && (
        <button
          type="button"
          className="act"
          disabled={undoing.isLoading}
          onClick={() => void takeBack()}
        >
          {undoing.isLoading ? 'Taking it back …' : 'Undo'}
        </button>
      )}
      {data.isUndone && ' Taken back.'}
    </p>
  );
}

/** “Tagged “guest”: 12 people.” The numbers open. */
export function ChangeWords({ change }: { readonly change: ChangeReply }) {
  return (
    <>
      {sentence(change.what)}:{' '}
      {change.count > 0 ? (
        <Link className="opens" to={peoplePath(`change.${change.id}`)}>
          {people(change.count)}
        </Link>
      ) : (
        'nobody'
      )}
      {change.isDone ? '.' : ' so far …'}
      {change.leftAlone > 0 && (
        <>
          {' '}
          <Link className="opens" to={peoplePath(`change.${change.id}.left-alone`)}>
            {people(change.leftAlone)}
          </Link>{' '}
          had changed again since and {change.leftAlone === 1 ? 'was' : 'were'} left alone.
        </>
      )}
    </>
  );
}
