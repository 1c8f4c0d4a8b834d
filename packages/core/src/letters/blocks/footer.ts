import { COLOURS, escapeHtml } from '../render.js';
import { text } from '../text.js';
import type { Base, BlockKindOf } from './kind.js';

/** Always the last block and always there: postal address, reason, way out. */
export interface FooterBlock extends Base {
  readonly kind: 'footer';
  readonly reason: string;
}

export const DEFAULT_REASON =
  'You receive this letter because you asked for news from us or are our customer.';

export const footer: BlockKindOf<FooterBlock> = {
  words: 'Footer',
  isAddable: false,
  empty: (id) => ({ id, kind: 'footer', reason: DEFAULT_REASON }),
  parse: (raw, id) => ({
    id,
    kind: 'footer',
    reason: text(raw['reason'], 500, 'The reason in the footer'),
  }),
  mjml: (block, sentinels, look) => {
    return (
      `<mj-divider css-class="line" border-width="1px" border-color="${COLOURS.line}" />` +
      `<mj-text css-class="soft" font-size="13px" color="${COLOURS.soft}" line-height="1.5"><p style="margin:0 0 6px"><strong>${escapeHtml(look.officeName)}</strong><br />${escapeHtml(look.postalAddress).replace(/\r?\n/g, '<br />')}</p>` +
      `<p style="margin:0 0 6px">${escapeHtml(block.reason)}</p>` +
      `<p style="margin:0"><a href="${sentinels.put({ slot: 'leave' })}" style="color:${COLOURS.soft}">Leave these letters</a></p></mj-text>`
    );
  },
  saysSomething: () => false,
  lacks: () => [],
  fields: () => [],
  children: () => [],
};
