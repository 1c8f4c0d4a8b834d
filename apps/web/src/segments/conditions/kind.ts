// How one kind of condition is asked for on the screen.
import type { TagReply } from '@palabra/contract/contacts';
import type { RuleContext } from '@palabra/core/segments';
import type { ComponentType } from 'react';

export type EditorContext = Omit<RuleContext, 'tags'> & { readonly tags: readonly TagReply[] };

export interface Choice {
  readonly value: string;
  readonly label: string;
}

export interface EditorOf<C> {
  /** What “What is asked” offers; the values of all kinds together are distinct. */
  readonly choices: (context: EditorContext) => readonly Choice[];
  readonly chosen: (condition: C) => string;
  /** What a condition of it is called in its line, where the choice says more than that. */
  readonly title?: string;
  /** A new condition for one of the choices. */
  readonly begin: (choice: string, context: EditorContext) => C | undefined;
  /** What stands behind it: how it is asked, and what for. */
  readonly Operand: ComponentType<{
    readonly condition: C;
    readonly context: EditorContext;
    readonly disabled: boolean;
    readonly onChange: (condition: C) => void;
  }>;
}
