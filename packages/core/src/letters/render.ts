// What every block is written with. Personal fields and the way out become sentinels: words that occur nowhere else,
// at which the finished HTML and text are split again.
import { unreachable } from '../kernel/index.js';
import type { Inline, Line, Mark, PersonalField, RichText, TextNode } from './text.js';

export interface LetterLook {
  readonly officeName: string;
  readonly postalAddress: string;
  /** Of the letter, as a language tag (BCP 47). */
  readonly language: string;
  /** Where the office's pictures are served, without a slash at the end. */
  readonly baseUrl: string;
  /** Whether the letter carries a link that no person can see. */
  readonly hiddenLink?: boolean;
}

export type Slot =
  | ({ readonly slot: 'field' } & PersonalField)
  | { readonly slot: 'leave' }
  | { readonly slot: 'open' }
  | { readonly slot: 'link'; readonly link: number };

/** Hands out sentinels for one letter. `nonce`: random lower-case letters and digits, at least 16. */
export class Sentinels {
  readonly slots: Slot[] = [];

  constructor(readonly nonce: string) {
    if (!/^[a-z0-9]{16,}$/.test(nonce))
      throw new Error('a sentinel needs at least 16 letters or digits');
  }

  put(slot: Slot): string {
    this.slots.push(slot);
    return `${this.nonce}n${this.slots.length - 1}z`;
  }
}

export const escapeHtml = (text: string): string =>
  text.replace(
    /[&<>"']/g,
    (sign) =>
      ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' })[sign] ?? sign,
  );

export const COLOURS = {
  ink: '#1F1B2E',
  soft: '#625C73',
  line: '#E4E1EC',
  ground: '#F7F6FA',
  accent: '#2B6B55',
  paper: '#FFFFFF',
} as const;
/** The same in the dark, where a mail program asks for it; the button stays as it is. */
export const DARK = {
  ink: '#ECE9F4',
  soft: '#ABA5BB',
  line: '#443E54',
  ground: '#14121B',
  accent: '#7FCDB0',
  paper: '#1E1B28',
} as const;

/** What each class wears in the dark. Colours stand at the elements, as mail programs want it, so only `!important` gets past them. */
export const darkStyles = `
  :root { color-scheme: light dark; supported-color-schemes: light dark; }
  @media (prefers-color-scheme: dark) {
    .ground, .ground > div { background-color: ${DARK.ground} !important; }
    .paper, .paper > table { background: ${DARK.paper} !important; background-color: ${DARK.paper} !important; }
    .ink, .ink div, .ink h1 { color: ${DARK.ink} !important; }
    .soft, .soft div, .soft a { color: ${DARK.soft} !important; }
    .ink a { color: ${DARK.accent} !important; }
    .line p { border-top-color: ${DARK.line} !important; }
  }`;

export const lineHtml = (line: Line, sentinels: Sentinels): string =>
  line
    .map((part) =>
      typeof part === 'string' ? escapeHtml(part) : sentinels.put({ slot: 'field', ...part }),
    )
    .join('');

function withMarks(html: string, marks: readonly Mark[] = []): string {
  return marks.reduce((inner, mark) => {
    switch (mark.type) {
      case 'bold':
        return `<strong>${inner}</strong>`;
      case 'italic':
        return `<em>${inner}</em>`;
      case 'link':
        return mark.attrs.href === ''
          ? inner
          : `<a href="${escapeHtml(mark.attrs.href)}" style="color:${COLOURS.accent}">${inner}</a>`;
      default:
        return unreachable(mark);
    }
  }, html);
}

function inlineHtml(inline: Inline, sentinels: Sentinels): string {
  switch (inline.type) {
    case 'text':
      return withMarks(escapeHtml(inline.text), inline.marks);
    case 'hardBreak':
      return '<br />';
    case 'personalField':
      return withMarks(sentinels.put({ slot: 'field', ...inline.attrs }), inline.marks);
    default:
      return unreachable(inline);
  }
}

function nodeHtml(node: TextNode, sentinels: Sentinels): string {
  if (node.type === 'paragraph') {
    const inner = (node.content ?? []).map((inline) => inlineHtml(inline, sentinels)).join('');
    return `<p style="margin:0 0 12px">${inner || '&nbsp;'}</p>`;
  }
  const tag = node.type === 'bulletList' ? 'ul' : 'ol';
  const items = node.content
    .map((item) => `<li>${item.content.map((one) => nodeHtml(one, sentinels)).join('')}</li>`)
    .join('');
  return `<${tag} style="margin:0 0 12px;padding-left:24px">${items}</${tag}>`;
}

export const richTextHtml = (text: RichText, sentinels: Sentinels): string =>
  text.content.map((node) => nodeHtml(node, sentinels)).join('');
