// Lines of a letter as documents of the text editor, and back.
import type { Line } from '@palabra/core/letters';
import type { JSONContent } from '@tiptap/core';

export const lineToDoc = (line: Line): JSONContent => ({
  type: 'doc',
  content: [
    {
      type: 'paragraph',
      content: line.flatMap((part): JSONContent[] =>
        typeof part === 'string'
          ? part === ''
            ? []
            : [{ type: 'text', text: part }]
          : [{ type: 'personalField', attrs: { ...part } }],
      ),
    },
  ],
});

export const docToLine = (doc: JSONContent): Line =>
  (doc.content ?? [])
    .flatMap((paragraph, at) => [
      ...(at > 0 ? [{ type: 'text', text: ' ' }] : []),
      ...(paragraph.content ?? []),
    ])
    .flatMap((inline): (string | { field: string; fallback: string })[] => {
      if (inline.type === 'text') return [inline.text ?? ''];
      if (inline.type !== 'personalField') return [' '];
      const { field, fallback } = inline.attrs as { field: string; fallback: string };
      return [{ field, fallback }];
    });
