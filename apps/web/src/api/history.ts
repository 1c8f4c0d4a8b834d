// Undo and redo of what is edited. Typing in one place counts as one step until there is a pause.
import { useState } from 'react';

const SAME_STEP_MS = 900;
const MOST = 200;

interface History<T> {
  readonly past: readonly T[];
  readonly present: T;
  readonly future: readonly T[];
  readonly place: string;
  readonly at: number;
}

export type Step<T> =
  | {
      readonly kind: 'change';
      readonly content: T;
      readonly place: string;
      readonly at: number;
    }
  | { readonly kind: 'undo' | 'redo' }
  | { readonly kind: 'replace'; readonly content: T };

export const beginHistory = <T>(present: T): History<T> => ({
  past: [],
  present,
  future: [],
  place: '',
  at: 0,
});

export function step<T>(history: History<T>, action: Step<T>): History<T> {
  switch (action.kind) {
    case 'change': {
      const sameStep =
        action.place !== '' &&
        action.place === history.place &&
        action.at - history.at < SAME_STEP_MS;
      const past = sameStep ? history.past : [...history.past, history.present].slice(-MOST);
      return { past, present: action.content, future: [], place: action.place, at: action.at };
    }
    case 'undo': {
      const before = history.past.at(-1);
      return before
        ? {
            past: history.past.slice(0, -1),
            present: before,
            future: [history.present, ...history.future],
            place: '',
            at: 0,
          }
        : history;
    }
    case 'redo': {
      const [after, ...future] = history.future;
      return after
        ? { past: [...history.past, history.present], present: after, future, place: '', at: 0 }
        : history;
    }
    case 'replace':
      return beginHistory(action.content);
  }
}

export interface Undoing<T> {
  readonly canUndo: boolean;
  readonly canRedo: boolean;
  readonly change: (content: T, place?: string) => void;
  readonly undo: () => void;
  readonly redo: () => void;
}

/** The steps that led to `present`, which is held elsewhere; a state that came from elsewhere begins a new history. */
export function useHistory<T>(present: T, put: (content: T) => void): Undoing<T> {
  const [kept, setKept] = useState(() => beginHistory(present));
  const history = kept.present === present ? kept : beginHistory(present);
  const go = (action: Step<T>): void => {
    const next = step(history, action);
    if (next === history) return;
    setKept(next);
    put(next.present);
  };
  return {
    canUndo: history.past.length > 0,
    canRedo: history.future.length > 0,
    change: (content, place = '') => go({ kind: 'change', content, place, at: Date.now() }),
    undo: () => go({ kind: 'undo' }),
    redo: () => go({ kind: 'redo' }),
  };
}
