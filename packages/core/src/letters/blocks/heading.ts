import { lineHtml } from '../render.js';
import { lineFields, lineText, parseLine, type Line } from '../text.js';
import type { Base, BlockKindOf } from './kind.js';

export interface HeadingBlock extends Base {
  readonly kind: 'heading';
  readonly text: Line;
}

export const heading: BlockKindOf<HeadingBlock> = {
  words: 'Heading',
  isAddable: true,
  empty: (id) => ({ id, kind: 'heading', text: [] }),
  parse: (raw, id) => ({ id, kind: 'heading', text: parseLine(raw['text'], 'A heading') }),
  mjml: (block, sentinels) => {
    return `<mj-text css-class="ink" font-size="26px" font-weight="700" line-height="1.25"><h1 style="margin:0;font-size:26px;line-height:1.25">${lineHtml(block.text, sentinels)}</h1></mj-text>`;
  },
  saysSomething: ({ text }) => lineText(text) !== '',
  lacks: () => [],
  fields: ({ text }) => lineFields(text),
  children: () => [],
};
