import { escapeHtml } from '../render.js';
import { parseHref, refuse, text } from '../text.js';
import type { Base, BlockKindOf } from './kind.js';

export interface PictureBlock extends Base {
  readonly kind: 'picture';
  /** Content address of the stored picture; empty until one is chosen. */
  readonly file: string;
  readonly width: number;
  readonly height: number;
  readonly alt: string;
  readonly href: string;
}

const size = (raw: unknown): number =>
  typeof raw === 'number' && Number.isInteger(raw) && raw >= 0 && raw <= 20_000
    ? raw
    : refuse('A picture has no size.');

export const picture: BlockKindOf<PictureBlock> = {
  words: 'Picture',
  isAddable: true,
  empty: (id) => ({ id, kind: 'picture', file: '', width: 0, height: 0, alt: '', href: '' }),
  parse: (raw, id) => {
    const file = raw['file'];
    if (typeof file !== 'string' || !/^([0-9a-f]{64})?$/.test(file))
      return refuse('A picture is not one that was uploaded.');
    return {
      id,
      kind: 'picture',
      file,
      width: size(raw['width']),
      height: size(raw['height']),
      alt: text(raw['alt'], 500, 'The alt text'),
      href: parseHref(raw['href'], 'a picture'),
    };
  },
  mjml: (block, _, look) => {
    if (block.file === '') return '';
    const link = block.href === '' ? '' : ` href="${escapeHtml(block.href)}"`;
    return `<mj-image src="${escapeHtml(`${look.baseUrl}/files/${block.file}`)}" alt="${escapeHtml(block.alt)}" width="${Math.min(528, block.width)}px"${link} />`;
  },
  saysSomething: ({ file }) => file !== '',
  lacks: ({ file, alt }) =>
    file === '' ? [{ lacks: 'picture' }] : alt.trim() === '' ? [{ lacks: 'alt text' }] : [],
  fields: () => [],
  children: () => [],
};
