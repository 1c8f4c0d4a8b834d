// What letters are written in: lines with personal fields, texts with marks and lists, links; and how received JSON becomes one.
import { urlOf } from '../kernel/index.js';

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

export const LIMITS = { blocks: 200, text: 20_000, line: 1000, depth: 6 } as const;

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

/** The line as it is read with `values`; an empty value takes the fallback. */
export const lineText = (line: Line, value: (field: string) => string = () => ''): string =>
  line
    .map((part) => (typeof part === 'string' ? part : value(part.field) || part.fallback))
    .join('');

export type Raw = Record<string, unknown>;
export const isObject = (value: unknown): value is Raw =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
// eslint-disable-next-line no-control-regex -- control signs are what is being removed
const clean = (text: string): string => text.replace(/[\u0000-\u0008\u000b-\u001f\u007f]/g, '');

/** Why a letter is not taken, in words for whoever sent it. */
export class Refusal extends Error {}
export const refuse = (text: string): never => {
  throw new Refusal(text);
};

export const text = (value: unknown, limit: number, place: string): string => {
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
  const url = urlOf(href);
  if (!url) return false;
  if (url.protocol === 'mailto:' || url.protocol === 'tel:') return true;
  return (
    (url.protocol === 'http:' || url.protocol === 'https:') &&
    url.hostname !== '' &&
    url.username === '' &&
    url.password === ''
  );
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

export const richText = (raw: unknown): RichText => {
  if (!isObject(raw) || raw['type'] !== 'doc' || !Array.isArray(raw['content']))
    return refuse('A text is broken.');
  return { type: 'doc', content: raw['content'].map((node: unknown) => textNode(node, 0)) };
};

/** Links of a text with the words that stand on them. */
export function textLinks(
  nodes: readonly TextNode[],
): { readonly href: string; readonly words: string }[] {
  return nodes.flatMap((node) =>
    node.type === 'paragraph'
      ? (node.content ?? []).flatMap((inline) =>
          inline.type === 'text'
            ? (inline.marks ?? []).flatMap((mark) =>
                mark.type === 'link' ? [{ href: mark.attrs.href, words: inline.text }] : [],
              )
            : [],
        )
      : node.content.flatMap((item) => textLinks(item.content)),
  );
}

/** The personal fields of a text. */
export const textFields = (nodes: readonly TextNode[]): PersonalField[] =>
  nodes.flatMap((node) =>
    node.type === 'paragraph'
      ? (node.content ?? []).flatMap((inline) =>
          inline.type === 'personalField' ? [inline.attrs] : [],
        )
      : node.content.flatMap((item) => textFields(item.content)),
  );

export const isEmptyText = (text: RichText): boolean =>
  text.content.every(
    (node) =>
      node.type === 'paragraph' &&
      (node.content ?? []).every((inline) => inline.type === 'text' && inline.text.trim() === ''),
  );

/** The personal fields of a line. */
export const lineFields = (line: Line): PersonalField[] =>
  line.flatMap((part) => (typeof part === 'string' ? [] : [part]));
