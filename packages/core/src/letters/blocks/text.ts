import { richTextHtml } from '../render.js';
import {
  isEmptyText,
  isSafeHref,
  paragraph,
  richText,
  textFields,
  textLinks,
  type RichText,
} from '../text.js';
import type { Base, BlockKindOf } from './kind.js';

export interface TextBlock extends Base {
  readonly kind: 'text';
  readonly text: RichText;
}

export const text: BlockKindOf<TextBlock> = {
  words: 'Text',
  isAddable: true,
  empty: (id) => ({ id, kind: 'text', text: { type: 'doc', content: [paragraph()] } }),
  parse: (raw, id) => ({ id, kind: 'text', text: richText(raw['text']) }),
  mjml: (block, sentinels) => {
    return `<mj-text css-class="ink">${richTextHtml(block.text, sentinels)}</mj-text>`;
  },
  saysSomething: ({ text }) => !isEmptyText(text),
  lacks: ({ text }) =>
    textLinks(text.content)
      .filter(({ href }) => !isSafeHref(href))
      .map(({ words }) => ({ lacks: 'target', what: `“${words}”` })),
  fields: ({ text }) => textFields(text.content),
  children: () => [],
};
