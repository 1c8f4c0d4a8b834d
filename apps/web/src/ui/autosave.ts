// Saved as it is made: one save at a time, the latest state wins, and a conflict loses neither.
import { useCallback, useEffect, useRef, useState } from 'react';
import { problemOf } from '../app/api';

export type SaveState =
  | { readonly kind: 'saved' | 'saving' | 'unsaved' }
  | { readonly kind: 'wrong'; readonly text: string }
  | { readonly kind: 'conflict'; readonly current: unknown };

interface Autosave<T> {
  readonly state: SaveState;
  /** Takes the new state and saves it soon. */
  readonly change: (value: T) => void;
  /** Saves now; resolves with the version the server then has, or undefined when it could not be saved. */
  readonly flush: () => Promise<number | undefined>;
  /** After a conflict: writes our state over the other one. */
  readonly keepMine: (version: number) => void;
  /** The value was replaced from outside at this version. */
  readonly reset: (version: number) => void;
}

const PAUSE_MS = 500;

export function useAutosave<T>(
  firstVersion: number,
  save: (value: T, version: number) => Promise<{ version: number }>,
): Autosave<T> {
  const [state, setState] = useState<SaveState>({ kind: 'saved' });
  const version = useRef(firstVersion);
  const waiting = useRef<{ value: T } | undefined>(undefined);
  const last = useRef<T | undefined>(undefined);
  const running = useRef<Promise<number | undefined> | undefined>(undefined);
  const timer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  const saver = useRef(save);
  useEffect(() => {
    saver.current = save;
  });

  const flush = useCallback((): Promise<number | undefined> => {
    clearTimeout(timer.current);
    running.current ??= (async () => {
      while (waiting.current) {
        const { value } = waiting.current;
        waiting.current = undefined;
        setState({ kind: 'saving' });
        try {
          const saved = await saver.current(value, version.current);
          version.current = saved.version;
        } catch (error) {
          const problem = problemOf(error);
          waiting.current ??= { value };
          setState(
            problem.status === 409
              ? { kind: 'conflict', current: problem['current'] }
              : { kind: 'wrong', text: problem.detail },
          );
          return undefined;
        }
      }
      setState({ kind: 'saved' });
      return version.current;
    })().finally(() => {
      running.current = undefined;
    });
    return running.current;
  }, []);

  const change = useCallback(
    (value: T): void => {
      last.current = value;
      waiting.current = { value };
      setState((before) => (before.kind === 'conflict' ? before : { kind: 'unsaved' }));
      clearTimeout(timer.current);
      timer.current = setTimeout(() => void flush(), PAUSE_MS);
    },
    [flush],
  );

  useEffect(() => {
    const leave = (event: BeforeUnloadEvent): void => {
      if (!waiting.current) return;
      void flush();
      event.preventDefault();
    };
    window.addEventListener('beforeunload', leave);
    return () => {
      window.removeEventListener('beforeunload', leave);
      if (waiting.current) void flush();
    };
  }, [flush]);

  return {
    state,
    change,
    flush,
    keepMine: (current) => {
      version.current = current;
      if (last.current !== undefined) waiting.current = { value: last.current };
      void flush();
    },
    reset: (current) => {
      version.current = current;
      waiting.current = undefined;
      setState({ kind: 'saved' });
    },
  };
}
