// What the server tells as it happens.
import { useEffect, useEffectEvent, useState } from 'react';

/**
 * The latest of a stream of events, as long as there is a path to follow. `onNext` is called for each. The server ends a
 * stream when nothing moves any more; who still has a path then is told anew after a while, by the browser's own
 * reconnecting: something may have been set going while that end was on its way.
 */
export function useStream<T>(
  path: string | undefined,
  onNext: (next: T, before: T | undefined) => void,
): T | undefined {
  const [latest, setLatest] = useState<{ path: string; value: T }>();
  const next = useEffectEvent(onNext);
  useEffect(() => {
    if (path === undefined) return undefined;
    const source = new EventSource(`/api${path}`);
    let before: T | undefined;
    source.onmessage = (event: MessageEvent<string>) => {
      const value = JSON.parse(event.data) as T;
      setLatest({ path, value });
      next(value, before);
      before = value;
    };
    return () => source.close();
  }, [path]);
  return latest?.path === path ? latest?.value : undefined;
}
