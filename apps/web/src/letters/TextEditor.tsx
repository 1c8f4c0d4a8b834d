// Rich text and single lines of a letter, with personal fields. The letter's own history does undo and redo.
import type { Line, RichText } from '@palabra/core/letters';
import { IconBold, IconItalic, IconLink, IconList, IconListNumbers } from '@tabler/icons-react';
import type { JSONContent } from '@tiptap/core';
import { EditorContent, useEditor, useEditorState, type Editor } from '@tiptap/react';
import StarterKit from '@tiptap/starter-kit';
import { useEffect, useRef, useState } from 'react';
import { useVocabularyQuery } from '../contacts/contacts.api';
import { PersonalFieldNode } from './PersonalFieldNode';

interface TextEditorProps {
  readonly label: string;
  readonly value: RichText;
  readonly placeholder?: string;
  readonly disabled?: boolean;
  /** Whether the bar with formats is shown. */
  readonly chosen: boolean;
  readonly onChange: (value: RichText) => void;
}

export function TextEditor({ label, value, disabled = false, chosen, onChange }: TextEditorProps) {
  const editor = useLetterEditor({
    label,
    content: value,
    single: false,
    disabled,
    onChange: (json) => onChange(json as unknown as RichText),
  });
  return (
    <>
      <EditorContent editor={editor} />
      {chosen && editor && !disabled && (
        <div className="block-settings">
          <Formats editor={editor} />
          <FieldTools editor={editor} />
        </div>
      )}
    </>
  );
}

interface LineEditorProps {
  readonly label: string;
  readonly value: Line;
  readonly disabled?: boolean;
  readonly className?: string;
  readonly tools: 'settings' | 'beside' | 'none';
  readonly onChange: (value: Line) => void;
}

export function LineEditor({
  label,
  value,
  disabled = false,
  className = '',
  tools,
  onChange,
}: LineEditorProps) {
  const editor = useLetterEditor({
    label,
    content: lineToDoc(value),
    single: true,
    disabled,
    onChange: (json) => onChange(docToLine(json)),
  });
  return (
    <>
      <div className={`one-line ${className}`}>
        <EditorContent editor={editor} />
      </div>
      {tools === 'settings' && editor && !disabled && (
        <div className="block-settings">
          <FieldTools editor={editor} />
        </div>
      )}
      {tools === 'beside' && editor && !disabled && <FieldTools editor={editor} />}
    </>
  );
}

const lineToDoc = (line: Line): JSONContent => ({
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

const docToLine = (doc: JSONContent): Line =>
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

interface EditorOptions {
  readonly label: string;
  readonly content: RichText | JSONContent;
  readonly single: boolean;
  readonly disabled: boolean;
  readonly onChange: (json: JSONContent) => void;
}

function useLetterEditor({
  label,
  content,
  single,
  disabled,
  onChange,
}: EditorOptions): Editor | null {
  const { data } = useVocabularyQuery();
  const text = JSON.stringify(content);
  const own = useRef(text);
  const change = useRef(onChange);
  const [labels] = useState(() => new Labels(data?.fields ?? []));
  useEffect(() => {
    change.current = onChange;
    labels.take(data?.fields ?? []);
  });
  const editor = useEditor({
    extensions: [
      StarterKit.configure({
        heading: false,
        blockquote: false,
        codeBlock: false,
        code: false,
        horizontalRule: false,
        strike: false,
        underline: false,
        undoRedo: false,
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
      }),
      PersonalFieldNode.configure({
        labelOf: (field) => labels.of(field),
      }),
    ],
    content: JSON.parse(text) as JSONContent,
    editable: !disabled,
    injectCSS: false,
    editorProps: {
      attributes: { 'aria-label': label, role: 'textbox', 'aria-multiline': String(!single) },
      handleKeyDown: (_, event) => single && event.key === 'Enter',
      // A pasted text keeps its words; in a single line also its line breaks become spaces.
      transformPastedText: (pasted) => (single ? pasted.replace(/\s+/g, ' ') : pasted),
    },
    onUpdate: ({ editor: updated }) => {
      const json = withoutNulls(updated.getJSON());
      own.current = JSON.stringify(json);
      change.current(json);
    },
  });
  useEffect(() => {
    // Only what came from elsewhere (undo, another tab) is put in; the editor's own words are there already.
    if (text === own.current) return;
    own.current = text;
    editor.commands.setContent(JSON.parse(text) as JSONContent, { emitUpdate: false });
  }, [editor, text]);
  return editor;
}

/** What fields are called, for an editor that is made once. */
class Labels {
  private known = new Map<string, string>();

  constructor(fields: Parameters<Labels['take']>[0]) {
    this.take(fields);
  }

  take(fields: readonly { readonly key: string; readonly label: string }[]): void {
    this.known = new Map(fields.map(({ key, label }) => [key, label]));
  }

  of(field: string): string {
    return this.known.get(field) ?? 'a field that is gone';
  }
}

/** Link marks carry attributes of the editor that a letter does not keep. */
function withoutNulls(node: JSONContent): JSONContent {
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

function Formats({ editor }: { readonly editor: Editor }) {
  const state = useEditorState({
    editor,
    selector: ({ editor: one }) => ({
      bold: one.isActive('bold'),
      italic: one.isActive('italic'),
      bullets: one.isActive('bulletList'),
      numbers: one.isActive('orderedList'),
      link: one.isActive('link'),
      href: String(one.getAttributes('link')['href'] ?? ''),
    }),
  });
  const [linking, setLinking] = useState(false);
  const [href, setHref] = useState('');
  const apply = (): void => {
    const chain = editor.chain().focus().extendMarkRange('link');
    const target = href.trim();
    if (target === '') chain.unsetLink().run();
    else chain.setLink({ href: /^[a-z]+:/i.test(target) ? target : `https://${target}` }).run();
    setLinking(false);
  };
  return (
    <span className="format-bar" role="toolbar" aria-label="Format">
      <button
        type="button"
        aria-label="Bold"
        aria-pressed={state.bold}
        onClick={() => editor.chain().focus().toggleBold().run()}
      >
        <IconBold size={16} />
      </button>
      <button
        type="button"
        aria-label="Italic"
        aria-pressed={state.italic}
        onClick={() => editor.chain().focus().toggleItalic().run()}
      >
        <IconItalic size={16} />
      </button>
      <button
        type="button"
        aria-label="List"
        aria-pressed={state.bullets}
        onClick={() => editor.chain().focus().toggleBulletList().run()}
      >
        <IconList size={16} />
      </button>
      <button
        type="button"
        aria-label="Numbered list"
        aria-pressed={state.numbers}
        onClick={() => editor.chain().focus().toggleOrderedList().run()}
      >
        <IconListNumbers size={16} />
      </button>
      <button
        type="button"
        aria-label="Link"
        aria-pressed={state.link}
        onClick={() => {
          setHref(state.href);
          setLinking(!linking);
        }}
      >
        <IconLink size={16} />
      </button>
      {linking && (
        <label>
          leads to
          <input
            className="line-input"
            autoFocus
            aria-label="Where the link leads"
            placeholder="https://"
            value={href}
            onChange={(event) => setHref(event.currentTarget.value)}
            onKeyDown={(event) => {
              if (event.key === 'Enter') apply();
              if (event.key === 'Escape') setLinking(false);
            }}
          />
          <button type="button" className="act" onClick={apply}>
            {href.trim() === '' ? 'No link' : 'Set'}
          </button>
        </label>
      )}
    </span>
  );
}

/** Puts a personal field in; when one is selected, changes it. */
function FieldTools({ editor }: { readonly editor: Editor }) {
  const { data } = useVocabularyQuery();
  const selected = useEditorState({
    editor,
    selector: ({ editor: one }) =>
      one.isActive('personalField')
        ? (one.getAttributes('personalField') as { field: string; fallback: string })
        : null,
  });
  const fields =
    data?.fields.filter(
      ({ key }) => key !== 'owner' && key !== 'permission' && key !== 'came_in',
    ) ?? [];
  if (!selected) {
    return (
      <select
        className="plain-select"
        aria-label="Put a personal field in"
        value=""
        onChange={(event) => {
          const field = event.currentTarget.value;
          if (field)
            editor
              .chain()
              .focus()
              .insertContent([
                {
                  type: 'personalField',
                  attrs: { field, fallback: field === 'given_name' ? 'friend' : '' },
                },
              ])
              .run();
        }}
      >
        <option value="">+ personal field</option>
        {fields.map(({ key, label }) => (
          <option key={key} value={key}>
            {label}
          </option>
        ))}
      </select>
    );
  }
  const put = (attrs: { field?: string; fallback?: string }): void =>
    void editor.chain().updateAttributes('personalField', attrs).run();
  return (
    <>
      <label>
        field
        <select
          className="plain-select"
          value={selected.field}
          onChange={(event) => put({ field: event.currentTarget.value })}
        >
          {fields.map(({ key, label }) => (
            <option key={key} value={key}>
              {label}
            </option>
          ))}
        </select>
      </label>
      <label>
        where it is missing
        <input
          className="line-input"
          maxLength={200}
          value={selected.fallback}
          onChange={(event) => put({ fallback: event.currentTarget.value })}
        />
      </label>
    </>
  );
}
