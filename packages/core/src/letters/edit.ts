// Moves in the letter editor. The footer stays where it is.
import type { Block } from './blocks/index.js';
import type { LetterContent } from './content.js';

const withBlocks = (letter: LetterContent, blocks: readonly Block[]): LetterContent => ({
  ...letter,
  blocks,
});

/** Puts a block in at `at`, never below the footer. */
export function insertBlock(letter: LetterContent, block: Block, at: number): LetterContent {
  const place = Math.max(0, Math.min(at, letter.blocks.length - 1));
  return withBlocks(letter, [
    ...letter.blocks.slice(0, place),
    block,
    ...letter.blocks.slice(place),
  ]);
}

export const changeBlock = (letter: LetterContent, block: Block): LetterContent =>
  withBlocks(
    letter,
    letter.blocks.map((one) => (one.id === block.id ? block : one)),
  );

export const removeBlock = (letter: LetterContent, id: string): LetterContent =>
  withBlocks(
    letter,
    letter.blocks.filter((block) => block.id !== id || block.kind === 'footer'),
  );

/** Moves a block by `by` places; what can't move stays, and the same letter comes back. */
export function moveBlock(letter: LetterContent, id: string, by: number): LetterContent {
  const from = letter.blocks.findIndex((block) => block.id === id);
  const moving = letter.blocks[from];
  if (!moving || moving.kind === 'footer') return letter;
  const to = Math.max(0, Math.min(from + by, letter.blocks.length - 2));
  if (to === from) return letter;
  const rest = letter.blocks.filter((block) => block !== moving);
  return withBlocks(letter, [...rest.slice(0, to), moving, ...rest.slice(to)]);
}
