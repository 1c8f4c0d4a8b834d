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
 * flickers while somebody types; `isCurrent` says which it is, `isPending` whether one is on its way: not any more where
 * it could not be had. Without a question there is no answer.
 */
export function useLatest<Q, R>(
  ask: (question: Q) => unknown,
  question: Q | undefined,
): {
  readonly answer: R | undefined;
  readonly isCurrent: boolean;
  readonly isPending: boolean;
} {
  const dispatch = useDispatch();
  const key = question === undefined ? undefined : JSON.stringify(question);
  const [got, setGot] = useState<{ readonly key: string; readonly answer: R }>();
  const [failed, setFailed] = useState<string>();
  const start = useEffectEvent(() => dispatch(ask(question as Q) as never) as Asked<R>);
  useEffect(() => {
    if (key === undefined) return undefined;
    let isGivenUp = false;
    const asked = start();
    asked.unwrap().then(
      (answer) => setGot({ key, answer }),
      () => {
        if (!isGivenUp) setFailed(key);
      },
    );
    return () => {
      isGivenUp = true;
      asked.abort();
      asked.unsubscribe();
    };
  }, [key]);
  return key === undefined
    ? { answer: undefined, isCurrent: true, isPending: false }
    : {
        answer: got?.answer,
        isCurrent: got?.key === key,
        isPending: got?.key !== key && failed !== key,
      };
}
