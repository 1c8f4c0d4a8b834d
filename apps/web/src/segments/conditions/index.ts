// The editors of all kinds of condition, in the order in which they are offered.
import type { Condition, ConditionName, ConditionOf } from '@palabra/core/segments';
import { field } from './field';
import type { Choice, EditorContext, EditorOf } from './kind';
import { tag } from './tag';

export type { EditorContext } from './kind';

const editors = { tag, field } satisfies {
  readonly [K in ConditionName]: EditorOf<ConditionOf<K>>;
};

/** Each is only ever given conditions of its own. */
export const editorOf = ({ kind }: Condition): EditorOf<Condition> =>
  editors[kind] as unknown as EditorOf<Condition>;

export const choices = (context: EditorContext): readonly Choice[] =>
  Object.values(editors).flatMap((editor) => editor.choices(context));

/** A new condition for what was chosen under “What is asked”. */
export function begin(choice: string, context: EditorContext): Condition | undefined {
  for (const editor of Object.values(editors)) {
    const condition = editor.begin(choice, context);
    if (condition) return condition;
  }
  return undefined;
}
