// What was done to people, said as it goes on, and taken back from where it is said.
import type { ChangeReply } from '@palabra/contract/contacts';
import { useEffect } from 'react';
import { useDispatch } from 'react-redux';
import { problemOf } from '../api/problems';
import { server } from '../api/server';
import { tell, command } from '../ui/command';
import { Opens, people, peoplePath } from '../ui/numbers';
import { Act, sentence } from '../ui/text';
import { useCancelChangeMutation, useChangeQuery, useUndoMutation } from './contacts.api';

/** Tells of a change and follows it to its end; `meant` is for how many people it was meant. */
export const tellChange = (changeSet: number, meant?: number): void =>
  tell(<Followed key={changeSet} id={changeSet} meant={meant} />);

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
        void dispatch(server.util.invalidateTags(['People', 'Person', 'Segment', 'Campaign']));
    return undefined;
  }, [isRunning, dispatch]);
  if (!data) return <>{first.isError ? problemOf(first.error).detail : '…'}</>;
  const takeBack = async (): Promise<void> => {
    const change = await command({ run: () => undo(id).unwrap() });
    if (change) tellChange(change.id);
  };
  const already = data.isDone && meant !== undefined ? meant - data.count - data.leftAlone : 0;
  return (
    <>
      <ChangeWords change={data} />
      {already > 0 && ` ${people(already)} needed no change.`}{' '}
      {data.canStop && (
        <Act onClick={() => void command({ run: () => cancel(id).unwrap() })}>Stop here</Act>
      )}
      {data.canUndo && (
        <Act loading={undoing.isLoading} onClick={() => void takeBack()}>
          Undo
        </Act>
      )}
      {data.isUndone && ' Taken back.'}
    </>
  );
}

/** Kinds whose words say what they were about. */
const named: ReadonlySet<ChangeReply['kind']> = new Set(['deletion', 'export', 'erasing']);

/** “Tagged “guest”: 12 people.” The numbers open. */
export function ChangeWords({ change }: { readonly change: ChangeReply }) {
  const isOfPeople = !named.has(change.kind);
  return (
    <>
      {sentence(change.what)}
      {isOfPeople && ': '}
      {change.count > 0 ? (
        <Opens to={peoplePath(`change.${change.id}`)}>
          {change.person ?? people(change.count)}
        </Opens>
      ) : (
        isOfPeople && 'nobody'
      )}
      {change.isDone ? '.' : ' so far …'}
      {change.leftAlone > 0 && (
        <>
          {' '}
          <Opens to={peoplePath(`change.${change.id}.left-alone`)}>
            {people(change.leftAlone)}
          </Opens>{' '}
          {change.leftAlone === 1 ? 'was' : 'were'} left as they are: {change.whyLeft}.
        </>
      )}
    </>
  );
}
