// What a letter consists of: subject, preview line and blocks, and how stored or received JSON becomes one.
import { fail, ok, type Result } from '../kernel/index.js';

/** A place filled per reader: the key of a field, and what stands there when the field is empty. */
export interface PersonalField {
  readonly field: string;
  readonly fallback: string;
}

/** One line of text with personal fields in it. */
export type Line = readonly (string | PersonalField)[];

export type Mark =
  | { readonly type: 'bold' }
  | { readonly type: 'italic' }
  | { readonly type: 'link'; readonly attrs: { readonly href: string } };

export type Inline =
  | { readonly type: 'text'; readonly text: string; readonly marks?: readonly Mark[] }
  | { readonly type: 'hardBreak' }
  | {
      readonly type: 'personalField';
      readonly attrs: PersonalField;
      readonly marks?: readonly Mark[];
    };

export interface Paragraph {
  readonly type: 'paragraph';
  readonly content?: readonly Inline[];
}
export interface ListItem {
  readonly type: 'listItem';
  readonly content: readonly TextNode[];
}
export interface List {
  readonly type: 'bulletList' | 'orderedList';
  readonly content: readonly ListItem[];
}
export type TextNode = Paragraph | List;

export interface RichText {
  readonly type: 'doc';
  readonly content: readonly TextNode[];
}

interface Base {
  /** Stays with the block while it is moved and edited. */
  readonly id: string;
}
export interface HeadingBlock extends Base {
  readonly kind: 'heading';
  readonly text: Line;
}
export interface TextBlock extends Base {
  readonly kind: 'text';
  readonly text: RichText;
}
export interface PictureBlock extends Base {
  readonly kind: 'picture';
  /** Content address of the stored picture; empty until one is chosen. */
  readonly file: string;
  readonly width: number;
  readonly height: number;
  readonly alt: string;
  readonly href: string;
}
export interface ButtonBlock extends Base {
  readonly kind: 'button';
  readonly label: Line;
  readonly href: string;
}
export interface DividerBlock extends Base {
  readonly kind: 'divider';
}
/** Always the last block and always there: postal address, reason, way out. */
export interface FooterBlock extends Base {
  readonly kind: 'footer';
  readonly reason: string;
}

export type Block =
  HeadingBlock | TextBlock | PictureBlock | ButtonBlock | DividerBlock | FooterBlock;
export type BlockKind = Block['kind'];
/** What can be put in; the footer is there already. */
export const addableKinds = [
  'heading',
  'text',
  'picture',
  'button',
  'divider',
] as const satisfies readonly BlockKind[];

export interface LetterContent {
  readonly v: 1;
  readonly subject: Line;
  readonly preview: Line;
  readonly blocks: readonly Block[];
}

export const DEFAULT_REASON =
  'You receive this letter because you asked for news from us or are our customer.';

const LIMITS = { blocks: 200, text: 20_000, line: 1000, depth: 6 } as const;

export const paragraph = (...content: (string | PersonalField)[]): Paragraph => ({
  type: 'paragraph',
  content: content
    .filter((part) => part !== '')
    .map((part) =>
      typeof part === 'string'
        ? { type: 'text', text: part }
        : { type: 'personalField', attrs: part },
    ),
});

export function emptyBlock(kind: BlockKind, id: string): Block {
  switch (kind) {
    case 'heading':
      return { id, kind, text: [] };
    case 'text':
      return { id, kind, text: { type: 'doc', content: [paragraph()] } };
    case 'picture':
      return { id, kind, file: '', width: 0, height: 0, alt: '', href: '' };
    case 'button':
      return { id, kind, label: [], href: '' };
    case 'divider':
      return { id, kind };
    case 'footer':
      return { id, kind, reason: DEFAULT_REASON };
  }
}

export const emptyLetter = (id: string): LetterContent => ({
  v: 1,
  subject: [],
  preview: [],
  blocks: [emptyBlock('footer', id)],
});

/** The line as it is read with `values`; an empty value takes the fallback. */
export const lineText = (line: Line, value: (field: string) => string = () => ''): string =>
  line
    .map((part) => (typeof part === 'string' ? part : value(part.field) || part.fallback))
    .join('');

type Raw = Record<string, unknown>;
const isObject = (value: unknown): value is Raw =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
// eslint-disable-next-line no-control-regex -- control signs are what is being removed
const clean = (text: string): string => text.replace(/[\u0000-\u0008\u000b-\u001f\u007f]/g, '');

class Refusal extends Error {}
const refuse = (text: string): never => {
  throw new Refusal(text);
};

const text = (value: unknown, limit: number, place: string): string => {
  if (typeof value !== 'string') return refuse(`${place} must be text.`);
  if (value.length > limit) return refuse(`${place} is longer than ${limit} signs.`);
  return clean(value);
};

const isFieldKey = (value: unknown): value is string =>
  typeof value === 'string' && /^[a-z][a-z0-9_]{0,40}$/.test(value);

function personalField(raw: unknown, place: string): PersonalField {
  if (!isObject(raw) || !isFieldKey(raw['field']))
    return refuse(`${place} has a personal field without a name.`);
  return {
    field: raw['field'],
    fallback: unbroken(text(raw['fallback'] ?? '', 200, `The fallback in ${place}`)),
  };
}

/** A line stays one: a subject is a header of a mail. */
const unbroken = (part: string): string => part.replace(/[\r\n\t\u0085\u2028\u2029]+/g, ' ');

export function parseLine(raw: unknown, place: string): Line {
  if (!Array.isArray(raw) || raw.length > 100) return refuse(`${place} must be a line of text.`);
  return raw.map((part: unknown) =>
    typeof part === 'string'
      ? unbroken(text(part, LIMITS.line, place))
      : personalField(part, place),
  );
}

/** Web addresses only; everything a letter may lead to. Empty stays empty until it is filled. */
export function parseHref(raw: unknown, place: string): string {
  const href = text(raw ?? '', 2000, `The link in ${place}`).trim();
  if (href === '' || isSafeHref(href)) return href;
  return refuse(`The link in ${place} must begin with https://, http://, mailto: or tel:.`);
}

export function isSafeHref(href: string): boolean {
  try {
    const url = new URL(href);
    if (url.protocol === 'mailto:' || url.protocol === 'tel:') return true;
    return (
      (url.protocol === 'http:' || url.protocol === 'https:') &&
      url.hostname !== '' &&
      url.username === '' &&
      url.password === ''
    );
  } catch {
    return false;
  }
}

function marks(raw: unknown): { marks?: Mark[] } {
  if (raw === undefined) return {};
  if (!Array.isArray(raw)) return refuse('A mark in a text is not known.');
  const read = raw.map((mark: unknown): Mark => {
    if (!isObject(mark)) return refuse('A mark in a text is not known.');
    if (mark['type'] === 'bold' || mark['type'] === 'italic') return { type: mark['type'] };
    if (mark['type'] === 'link' && isObject(mark['attrs']))
      return { type: 'link', attrs: { href: parseHref(mark['attrs']['href'], 'a text') } };
    return refuse(`“${String(mark['type'])}” can't be used in a letter's text.`);
  });
  return read.length > 0 ? { marks: read } : {};
}

function inline(raw: unknown): Inline {
  if (!isObject(raw)) return refuse('A piece of a text is missing.');
  switch (raw['type']) {
    case 'text':
      return {
        type: 'text',
        text: text(raw['text'], LIMITS.text, 'A text'),
        ...marks(raw['marks']),
      };
    case 'hardBreak':
      return { type: 'hardBreak' };
    case 'personalField':
      return {
        type: 'personalField',
        attrs: personalField(raw['attrs'], 'a text'),
        ...marks(raw['marks']),
      };
    default:
      return refuse(`“${String(raw['type'])}” can't be used in a letter's text.`);
  }
}

function textNode(raw: unknown, depth: number): TextNode {
  if (!isObject(raw) || depth > LIMITS.depth) return refuse('A text is nested too deeply.');
  const content = raw['content'] ?? [];
  if (!Array.isArray(content)) return refuse('A text is broken.');
  switch (raw['type']) {
    case 'paragraph':
      return { type: 'paragraph', content: content.map(inline) };
    case 'bulletList':
    case 'orderedList':
      return {
        type: raw['type'],
        content: content.map((item: unknown): ListItem => {
          if (!isObject(item) || item['type'] !== 'listItem' || !Array.isArray(item['content']))
            return refuse('A list in a text is broken.');
          return {
            type: 'listItem',
            content: item['content'].map((node: unknown) => textNode(node, depth + 1)),
          };
        }),
      };
    default:
      return refuse(`“${String(raw['type'])}” can't be used in a letter's text.`);
  }
}

const richText = (raw: unknown): RichText => {
  if (!isObject(raw) || raw['type'] !== 'doc' || !Array.isArray(raw['content']))
    return refuse('A text is broken.');
  return { type: 'doc', content: raw['content'].map((node: unknown) => textNode(node, 0)) };
};

const size = (raw: unknown): number =>
  typeof raw === 'number' && Number.isInteger(raw) && raw >= 0 && raw <= 20_000
    ? raw
    : refuse('A picture has no size.');

function block(raw: unknown): Block {
  if (!isObject(raw) || typeof raw['id'] !== 'string' || !/^[\w-]{1,40}$/.test(raw['id']))
    return refuse('A block has no id.');
  const id = raw['id'];
  switch (raw['kind']) {
    case 'heading':
      return { id, kind: 'heading', text: parseLine(raw['text'], 'A heading') };
    case 'text':
      return { id, kind: 'text', text: richText(raw['text']) };
    case 'picture': {
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
    }
    case 'button':
      return {
        id,
        kind: 'button',
        label: parseLine(raw['label'], 'A button'),
        href: parseHref(raw['href'], 'a button'),
      };
    case 'divider':
      return { id, kind: 'divider' };
    case 'footer':
      return { id, kind: 'footer', reason: text(raw['reason'], 500, 'The reason in the footer') };
    default:
      return refuse(`“${String(raw['kind'])}” is not a kind of block.`);
  }
}

/** Reads a letter from JSON, allowing only what a letter may hold. The error says what to change. */
export function parseLetter(raw: unknown): Result<LetterContent, string> {
  try {
    if (!isObject(raw) || raw['v'] !== 1)
      return fail('The letter is not of a version this program knows.');
    if (!Array.isArray(raw['blocks']) || raw['blocks'].length > LIMITS.blocks)
      return fail(`A letter has ${LIMITS.blocks} blocks at the most.`);
    const blocks = raw['blocks'].map(block);
    if (new Set(blocks.map(({ id }) => id)).size !== blocks.length)
      return fail('Two blocks have the same id.');
    const footers = blocks.filter(({ kind }) => kind === 'footer').length;
    if (footers !== 1 || blocks.at(-1)?.kind !== 'footer')
      return fail('A letter ends with its footer, and has one.');
    return ok({
      v: 1,
      subject: parseLine(raw['subject'], 'The subject'),
      preview: parseLine(raw['preview'], 'The preview line'),
      blocks,
    });
  } catch (error) {
    if (error instanceof Refusal) return fail(error.message);
    throw error;
  }
}
