// The personal field as a node of the text editor: a chip that says what stands there, and what when there is nothing.
import { mergeAttributes, Node } from '@tiptap/core';
import { chipClass, fieldWords } from './FieldChip';

export interface PersonalFieldOptions {
  labelOf: (field: string) => string;
}

export const PersonalFieldNode = Node.create<PersonalFieldOptions>({
  name: 'personalField',
  group: 'inline',
  inline: true,
  atom: true,
  selectable: true,
  addOptions: () => ({ labelOf: (field) => field }),
  addAttributes: () => ({
    field: {
      default: 'given_name',
      parseHTML: (element) => element.getAttribute('data-field'),
      renderHTML: ({ field }) => ({ 'data-field': String(field) }),
    },
    fallback: {
      default: '',
      parseHTML: (element) => element.getAttribute('data-fallback') ?? '',
      renderHTML: ({ fallback }) => ({ 'data-fallback': String(fallback) }),
    },
  }),
  parseHTML: () => [{ tag: 'span[data-field]' }],
  renderHTML({ node, HTMLAttributes }) {
    const { field, fallback } = node.attrs as { field: string; fallback: string };
    return [
      'span',
      mergeAttributes(HTMLAttributes, { class: chipClass }),
      fieldWords(this.options.labelOf(field), fallback),
    ];
  },
});
