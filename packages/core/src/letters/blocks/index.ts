// Every kind of block. A new one is a file beside this, named in the two lists here; the compiler names the rest.
import { isObject, refuse, type PersonalField } from '../text.js';
import type { LetterLook, Sentinels } from '../render.js';
import { button, type ButtonBlock } from './button.js';
import { divider, type DividerBlock } from './divider.js';
import { footer, type FooterBlock } from './footer.js';
import { heading, type HeadingBlock } from './heading.js';
import type { BlockKindOf } from './kind.js';
import { picture, type PictureBlock } from './picture.js';
import { text, type TextBlock } from './text.js';

export type Block =
  HeadingBlock | TextBlock | PictureBlock | ButtonBlock | DividerBlock | FooterBlock;
export type BlockKind = Block['kind'];
export type BlockOf<K extends BlockKind> = Extract<Block, { readonly kind: K }>;

/** In the order in which they are offered. */
const blocks = { heading, text, picture, button, divider, footer } satisfies {
  readonly [K in BlockKind]: BlockKindOf<BlockOf<K>, Block>;
};

type AnyBlock = BlockKindOf<Block, Block>;
export const blockKinds = Object.keys(blocks) as readonly BlockKind[];

/** The one place that pairs a block with its kind; each is only ever given blocks of its own. */
const kindOf = (kind: BlockKind): AnyBlock => blocks[kind] as unknown as AnyBlock;

export const blockWords = (kind: BlockKind): string => kindOf(kind).words;
/** What can be put in; the footer is there already. */
export const addableKinds: readonly BlockKind[] = blockKinds.filter(
  (kind) => kindOf(kind).isAddable,
);

export const emptyBlock = (kind: BlockKind, id: string): Block => kindOf(kind).empty(id);

export function parseBlock(raw: unknown): Block {
  if (!isObject(raw) || typeof raw['id'] !== 'string' || !/^[\w-]{1,40}$/.test(raw['id']))
    return refuse('A block has no id.');
  const kind = blockKinds.find((one) => one === raw['kind']);
  return kind
    ? kindOf(kind).parse(raw, raw['id'])
    : refuse(`“${String(raw['kind'])}” is not a kind of block.`);
}

export const blockMjml = (block: Block, sentinels: Sentinels, look: LetterLook): string =>
  kindOf(block.kind).mjml(block, sentinels, look);

/** Blocks and those within them, in the order in which they are read. */
export const withChildren = (all: readonly Block[]): Block[] =>
  all.flatMap((block) => [block, ...withChildren(kindOf(block.kind).children(block))]);

export const saysSomething = (block: Block): boolean => kindOf(block.kind).saysSomething(block);
export type { Lack } from './kind.js';
export const lacksOf = (block: Block): ReturnType<AnyBlock['lacks']> =>
  kindOf(block.kind).lacks(block);
export const fieldsOf = (block: Block): readonly PersonalField[] =>
  kindOf(block.kind).fields(block);
