// Undo and redo of a letter. Typing in one place counts as one step until there is a pause.
import { useCallback, useReducer } from 'react';
import type { LetterContent } from '@palabra/core/letters';

const SAME_STEP_MS = 900;
const MOST = 200;

interface History {
  readonly past: readonly LetterContent[];
  readonly present: LetterContent;
  readonly future: readonly LetterContent[];
  readonly place: string;
  readonly at: number;
}

export type Step =
  | {
      readonly kind: 'change';
      readonly content: LetterContent;
      readonly place: string;
      readonly at: number;
    }
  | { readonly kind: 'undo' | 'redo' }
  | { readonly kind: 'replace'; readonly content: LetterContent };

export const beginHistory = (present: LetterContent): History => ({
  past: [],
  present,
  future: [],
  place: '',
  at: 0,
});

export function step(history: History, action: Step): History {
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

export function useHistory(content: LetterContent) {
  const [history, dispatch] = useReducer(step, content, beginHistory);
  const change = useCallback(
    (next: LetterContent, place = '') =>
      dispatch({ kind: 'change', content: next, place, at: Date.now() }),
    [],
  );
  return {
    content: history.present,
    canUndo: history.past.length > 0,
    canRedo: history.future.length > 0,
    change,
    undo: useCallback(() => dispatch({ kind: 'undo' }), []),
    redo: useCallback(() => dispatch({ kind: 'redo' }), []),
    replace: useCallback((next: LetterContent) => dispatch({ kind: 'replace', content: next }), []),
  };
}
