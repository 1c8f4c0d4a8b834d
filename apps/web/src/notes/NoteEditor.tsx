// Where a note is written: marks, lists and links, its own undo.
import { RichTextEditor } from '@mantine/tiptap';
import '@mantine/tiptap/styles.css';
import type { RichText } from '@palabra/core/letters';
import { useEditor } from '@tiptap/react';
import type { JSONContent } from '@tiptap/core';
import { Formats } from '../ui/Formats';
import { kit, withoutNulls } from '../ui/richText';
import classes from './notes.module.css';

interface NoteEditorProps {
  readonly label: string;
  /** What it begins with; what is written later is told by `onChange`. */
  readonly initial: RichText;
  readonly onChange: (text: RichText) => void;
  readonly onSubmit: () => void;
}

export function NoteEditor({ label, initial, onChange, onSubmit }: NoteEditorProps) {
  const editor = useEditor({
    extensions: [kit({ single: false, undo: true })],
    content: initial as unknown as JSONContent,
    autofocus: 'end',
    injectCSS: false,
    editorProps: {
      attributes: { 'aria-label': label, role: 'textbox', 'aria-multiline': 'true' },
      handleKeyDown: (_, event) => {
        if (event.key !== 'Enter' || !(event.ctrlKey || event.metaKey)) return false;
        onSubmit();
        return true;
      },
    },
    onUpdate: ({ editor: updated }) =>
      onChange(withoutNulls(updated.getJSON()) as unknown as RichText),
  });
  return (
    <RichTextEditor
      editor={editor}
      withTypographyStyles={false}
      classNames={{ root: classes.bare, content: classes.bare }}
    >
      <div className={classes.editor}>
        <RichTextEditor.Content />
      </div>
      <Formats editor={editor} />
    </RichTextEditor>
  );
}
