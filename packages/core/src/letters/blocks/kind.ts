// What one kind of block can do, all in one place.
import type { PersonalField, Raw } from '../text.js';
import type { LetterLook, Sentinels } from '../render.js';

export interface Base {
  /** Stays with the block while it is moved and edited. */
  readonly id: string;
}

/** What a block still lacks; `nowhere` are words that lead nowhere. */
export type Lack =
  | { readonly lacks: 'target'; readonly what: string }
  | { readonly lacks: 'picture' }
  | { readonly lacks: 'alt text' };

export interface BlockKindOf<B, Child = never> {
  readonly words: string;
  /** Whether it can be put in; what can't is there already. */
  readonly isAddable: boolean;
  readonly empty: (id: string) => B;
  /** Reads stored or received JSON; throws a `Refusal`. */
  readonly parse: (raw: Raw, id: string) => B;
  readonly mjml: (block: B, sentinels: Sentinels, look: LetterLook) => string;
  /** Whether it gives its readers something to read or see. */
  readonly saysSomething: (block: B) => boolean;
  readonly lacks: (block: B) => readonly Lack[];
  /** The personal fields in it. */
  readonly fields: (block: B) => readonly PersonalField[];
  /** Blocks within it. */
  readonly children: (block: B) => readonly Child[];
}
