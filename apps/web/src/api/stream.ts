// What the server tells as it happens.
import { useEffect, useEffectEvent, useState } from 'react';

/**
 * The latest of a stream of events, while there is something to follow. `onNext` is called for each;
 * once it says that this was the last, the stream is closed.
 */
export function useStream<T>(
  path: string | undefined,
  onNext: (next: T, before: T | undefined) => 'more' | 'last',
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
      if (next(value, before) === 'last') source.close();
      before = value;
    };
    return () => source.close();
  }, [path]);
  return latest?.path === path ? latest?.value : undefined;
}
