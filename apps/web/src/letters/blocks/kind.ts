// How one kind of block is written on the screen.
import type { ComponentType } from 'react';

export interface BodyProps<B> {
  readonly block: B;
  readonly chosen: boolean;
  readonly disabled: boolean;
  readonly onChoose: () => void;
  readonly onChange: (block: B) => void;
}

/** What it shows, and its settings under it while it is chosen. */
export type Body<B> = ComponentType<BodyProps<B>>;
