// Texts with bold, italic, lists and links, as the library's editor is set up for them.
import type { JSONContent } from '@tiptap/core';
import StarterKit from '@tiptap/starter-kit';

/** `single`: one line, no formats; `undo`: with a history of its own. */
export const kit = ({ single, undo }: { readonly single: boolean; readonly undo: boolean }) =>
  StarterKit.configure({
    heading: false,
    blockquote: false,
    codeBlock: false,
    code: false,
    horizontalRule: false,
    strike: false,
    underline: false,
    ...(undo ? {} : { undoRedo: false }),
    trailingNode: false,
    bold: single ? false : {},
    italic: single ? false : {},
    bulletList: single ? false : {},
    orderedList: single ? false : {},
    listItem: single ? false : {},
    hardBreak: single ? false : {},
    link: single
      ? false
      : {
          openOnClick: false,
          autolink: true,
          defaultProtocol: 'https',
          protocols: ['http', 'https', 'mailto', 'tel'],
          HTMLAttributes: { rel: null, target: null, class: null },
        },
  });

/** Link marks carry attributes of the editor that are not kept. */
export function withoutNulls(node: JSONContent): JSONContent {
  const marks = node.marks?.map((mark) =>
    mark.type === 'link'
      ? { type: 'link', attrs: { href: (mark.attrs as { href?: string }).href ?? '' } }
      : { type: mark.type },
  );
  const keepsAttrs = node.type === 'personalField';
  return {
    type: node.type,
    ...(node.text === undefined ? {} : { text: node.text }),
    ...(marks ? { marks } : {}),
    ...(keepsAttrs ? { attrs: node.attrs } : {}),
    ...(node.content ? { content: node.content.map(withoutNulls) } : {}),
  };
}
