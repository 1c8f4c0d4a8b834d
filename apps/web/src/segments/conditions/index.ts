// The editors of all kinds of condition, in the order in which they are offered.
import type { Condition, ConditionName, ConditionOf } from '@palabra/core/segments';
import { doNotMail } from './do-not-mail';
import { everybody } from './everybody';
import { field } from './field';
import type { Choice, EditorContext, EditorOf } from './kind';
import { letter } from './letter';
import { place } from './place';
import { rating } from './rating';
import { segment } from './segment';
import { since } from './since';
import { standing } from './standing';
import { tag } from './tag';
import { topic } from './topic';

export type { EditorContext } from './kind';

const editors = {
  tag,
  field,
  letter,
  since,
  place,
  segment,
  rating,
  standing,
  'do not mail': doNotMail,
  topic,
  everybody,
} satisfies {
  readonly [K in ConditionName]: EditorOf<ConditionOf<K>>;
};

/** Each is only ever given conditions of its own. */
export const editorOf = ({ kind }: Condition): EditorOf<Condition> =>
  editors[kind] as unknown as EditorOf<Condition>;

export const choices = (context: EditorContext): readonly Choice[] =>
  Object.values(editors).flatMap((editor) => editor.choices(context));

/** What a condition asks, in a word. */
export const labelOf = (condition: Condition, context: EditorContext): string => {
  const editor = editorOf(condition);
  const chosen = editor.chosen(condition);
  if (editor.title !== undefined) return editor.title;
  return editor.choices(context).find(({ value }) => value === chosen)?.label ?? 'something gone';
};

/** A new condition for what was chosen under “What is asked”. */
export function begin(choice: string, context: EditorContext): Condition | undefined {
  for (const editor of Object.values(editors)) {
    const condition = editor.begin(choice, context);
    if (condition) return condition;
  }
  return undefined;
}
