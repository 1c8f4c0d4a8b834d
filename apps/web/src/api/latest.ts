// Questions asked with every key: the answer to the last one counts, what was overtaken is given up.
import { useEffect, useEffectEvent, useState } from 'react';
import { useDispatch } from 'react-redux';

interface Asked<R> {
  readonly unwrap: () => Promise<R>;
  readonly abort: () => void;
  readonly unsubscribe: () => void;
}

/**
 * Asks at once, whenever `question` changes. Until its answer is there, the one before is still given, so that nothing
 * flickers while somebody types; `isCurrent` says which it is. Without a question there is no answer.
 */
export function useLatest<Q, R>(
  ask: (question: Q) => unknown,
  question: Q | undefined,
): { readonly answer: R | undefined; readonly isCurrent: boolean } {
  const dispatch = useDispatch();
  const key = question === undefined ? undefined : JSON.stringify(question);
  const [got, setGot] = useState<{ readonly key: string; readonly answer: R }>();
  const start = useEffectEvent(() => dispatch(ask(question as Q) as never) as Asked<R>);
  useEffect(() => {
    if (key === undefined) return undefined;
    const asked = start();
    asked.unwrap().then(
      (answer) => setGot({ key, answer }),
      () => undefined,
    );
    return () => {
      asked.abort();
      asked.unsubscribe();
    };
  }, [key]);
  return key === undefined
    ? { answer: undefined, isCurrent: true }
    : { answer: got?.answer, isCurrent: got?.key === key };
}
