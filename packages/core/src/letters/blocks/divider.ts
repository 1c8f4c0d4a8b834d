import { COLOURS } from '../render.js';
import type { Base, BlockKindOf } from './kind.js';

export interface DividerBlock extends Base {
  readonly kind: 'divider';
}

export const divider: BlockKindOf<DividerBlock> = {
  words: 'Divider',
  isAddable: true,
  empty: (id) => ({ id, kind: 'divider' }),
  parse: (_, id) => ({ id, kind: 'divider' }),
  mjml: () => {
    return `<mj-divider css-class="line" border-width="1px" border-color="${COLOURS.line}" />`;
  },
  saysSomething: () => false,
  lacks: () => [],
  fields: () => [],
  children: () => [],
};
