// What every part of a rule’s editor is given.
import type { EditorContext } from './conditions';

/** Of groups in groups; the model has any depth. */
export const LEVELS = 2;

export interface EditorProps {
  readonly context: EditorContext;
  /** How many each condition holds for by itself, by its path; undefined until they are counted. */
  readonly alone: Readonly<Record<string, number>> | undefined;
  /** Where the people of a condition are, up to its path; while the rule is not saved, nowhere. */
  readonly to: string | undefined;
  readonly disabled: boolean;
  readonly lit: string | undefined;
  readonly onHover: (path: string | undefined) => void;
}
