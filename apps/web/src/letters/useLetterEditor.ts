// The text editor of a letter: made once, told of what comes from elsewhere.
import type { Editor, JSONContent } from '@tiptap/core';
import { useEditor } from '@tiptap/react';
import { useEffect, useRef, useState } from 'react';
import { useVocabularyQuery } from '../contacts';
import { kit, withoutNulls } from '../ui/richText';
import { PersonalFieldNode } from './PersonalFieldNode';

interface EditorOptions {
  readonly label: string;
  readonly content: JSONContent;
  /** One line: no formats, no line breaks. */
  readonly single: boolean;
  readonly disabled: boolean;
  readonly onChange: (json: JSONContent) => void;
}

export function useLetterEditor({
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
      kit({ single, undo: false }),
      PersonalFieldNode.configure({ labelOf: (field) => labels.of(field) }),
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
