import { COLOURS, escapeHtml, lineHtml } from '../render.js';
import { isSafeHref, lineFields, lineText, parseHref, parseLine, type Line } from '../text.js';
import type { Base, BlockKindOf } from './kind.js';

export interface ButtonBlock extends Base {
  readonly kind: 'button';
  readonly label: Line;
  readonly href: string;
}

export const button: BlockKindOf<ButtonBlock> = {
  words: 'Button',
  isAddable: true,
  empty: (id) => ({ id, kind: 'button', label: [], href: '' }),
  parse: (raw, id) => ({
    id,
    kind: 'button',
    label: parseLine(raw['label'], 'A button'),
    href: parseHref(raw['href'], 'a button'),
  }),
  mjml: (block, sentinels) => {
    return `<mj-button background-color="${COLOURS.accent}" color="#FFFFFF" font-weight="700" inner-padding="12px 22px" border-radius="3px"${block.href === '' ? '' : ` href="${escapeHtml(block.href)}"`}>${lineHtml(block.label, sentinels)}</mj-button>`;
  },
  saysSomething: () => false,
  lacks: ({ label, href }) => {
    const words = lineText(label);
    return isSafeHref(href)
      ? []
      : [{ lacks: 'target', what: words === '' ? 'A button' : `“${words}”` }];
  },
  fields: ({ label }) => lineFields(label),
  children: () => [],
};
