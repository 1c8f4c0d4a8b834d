// A thing that is edited and saved as it is made: one save at a time, the latest state wins, and when somebody else
// was faster neither state is lost.
import { useCallback, useEffect, useEffectEvent, useRef, useState } from 'react';
import { problemOf } from './problems';

export type SaveState<T> =
  | { readonly kind: 'saved' | 'saving' | 'unsaved' }
  | { readonly kind: 'wrong'; readonly text: string }
  /** Somebody else saved `theirs` meanwhile. */
  | { readonly kind: 'conflict'; readonly theirs: T; readonly version: number };

interface Versioned {
  readonly version: number;
}

export interface Entity<T> {
  /** What was read, and its version; a thing that is not kept yet has version 0. */
  readonly value: T;
  readonly version: number;
  /** Writes over the given version; the server answers 409 with the other state when there is a newer one. */
  readonly save: (value: T, version: number) => Promise<Versioned>;
  /** The state in a conflict's answer. */
  readonly read: (current: never) => T;
  /**
   * Called when a newer state of somebody else was read and taken over, because nothing of ours waited. Without it, newer
   * states are met only when saving.
   */
  readonly follow?: (value: T) => void;
}

export interface Draft<T> {
  readonly value: T;
  readonly state: SaveState<T>;
  /** Takes the new state and saves it soon; when it is taken back to what is saved, nothing is saved. */
  readonly change: (next: T | ((before: T) => T)) => void;
  /** Saves now; resolves with the version the server then has, or undefined when it could not be saved. */
  readonly flush: () => Promise<number | undefined>;
  /** Does something else to the thing, which gives it another version: after what is to be saved, and before what is changed meanwhile. */
  readonly apart: <R extends Versioned>(
    work: (version: number) => Promise<R | undefined>,
  ) => Promise<R | undefined>;
  /** After a conflict: writes our state over the other one, or takes the other one. */
  readonly keepMine: () => void;
  readonly takeTheirs: () => void;
  /** The same, with a state made of both. */
  readonly settle: (value: T) => void;
}

const PAUSE_MS = 500;

export function useDraft<T>(entity: Entity<T>): Draft<T> {
  const [value, setValue] = useState(entity.value);
  const [state, setState] = useState<SaveState<T>>({ kind: 'saved' });
  const latest = useRef(entity.value);
  const version = useRef(entity.version);
  const waiting = useRef(false);
  const running = useRef<Promise<number | undefined> | undefined>(undefined);
  const timer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  const save = useEffectEvent(entity.save);
  const read = useEffectEvent(entity.read);
  const saver = useRef<() => Promise<number | undefined>>(() => Promise.resolve(undefined));

  useEffect(() => {
    saver.current = async () => {
      while (waiting.current) {
        waiting.current = false;
        setState({ kind: 'saving' });
        try {
          version.current = (await save(latest.current, version.current)).version;
        } catch (error) {
          waiting.current = true;
          const problem = problemOf(error);
          const current = problem['current'] as Versioned | undefined;
          setState(
            problem.status === 409 && current
              ? { kind: 'conflict', theirs: read(current as never), version: current.version }
              : { kind: 'wrong', text: problem.errors?.[0]?.message ?? problem.detail },
          );
          return undefined;
        }
      }
      setState({ kind: 'saved' });
      return version.current;
    };
  }, []);

  const follow = useEffectEvent((next: number): void => {
    if (!entity.follow || next <= version.current || waiting.current || running.current) return;
    version.current = next;
    latest.current = entity.value;
    setValue(entity.value);
    entity.follow(entity.value);
  });
  useEffect(() => follow(entity.version), [entity.version]);

  const flush = useCallback((): Promise<number | undefined> => {
    clearTimeout(timer.current);
    running.current ??= saver.current().finally(() => {
      running.current = undefined;
    });
    return running.current;
  }, []);

  const apart = useCallback(
    async <R extends Versioned>(
      work: (version: number) => Promise<R | undefined>,
    ): Promise<R | undefined> => {
      const seen = await flush();
      if (seen === undefined) return undefined;
      const doing = work(seen);
      running.current = doing
        .then((done) => {
          version.current = done?.version ?? version.current;
          return saver.current();
        })
        .finally(() => {
          running.current = undefined;
        });
      return doing;
    },
    [flush],
  );

  const change = useCallback(
    (next: T | ((before: T) => T)): void => {
      const made = typeof next === 'function' ? (next as (before: T) => T)(latest.current) : next;
      if (Object.is(made, latest.current)) return;
      latest.current = made;
      waiting.current = true;
      setValue(made);
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

  const settle = (made: T): void => {
    if (state.kind !== 'conflict') return;
    version.current = state.version;
    latest.current = made;
    waiting.current = true;
    setValue(made);
    void flush();
  };
  return {
    value,
    state,
    change,
    flush,
    settle,
    apart,
    keepMine: () => settle(latest.current),
    takeTheirs: () => {
      if (state.kind !== 'conflict') return;
      clearTimeout(timer.current);
      version.current = state.version;
      latest.current = state.theirs;
      waiting.current = false;
      setValue(state.theirs);
      setState({ kind: 'saved' });
    },
  };
}
