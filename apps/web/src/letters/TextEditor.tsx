// Rich text and single lines of a letter, with personal fields. The letter's own history does undo and redo.
import { RichTextEditor } from '@mantine/tiptap';
import '@mantine/tiptap/styles.css';
import type { Line, RichText } from '@palabra/core/letters';
import type { Editor, JSONContent } from '@tiptap/core';
import { docToLine, lineToDoc } from './documents';
import { FieldTools } from './FieldTools';
import { Formats } from '../ui/Formats';
import classes from './letters.module.css';
import { useLetterEditor } from './useLetterEditor';

interface TextEditorProps {
  readonly label: string;
  readonly value: RichText;
  readonly disabled?: boolean;
  /** Whether the bar with formats is shown. */
  readonly chosen: boolean;
  readonly onChange: (value: RichText) => void;
}

export function TextEditor({ label, value, disabled = false, chosen, onChange }: TextEditorProps) {
  const editor = useLetterEditor({
    label,
    content: value as unknown as JSONContent,
    single: false,
    disabled,
    onChange: (json) => onChange(json as unknown as RichText),
  });
  return (
    <Framed editor={editor} className={classes.editor}>
      {chosen && editor && !disabled && (
        <div className={classes.settings}>
          <Formats editor={editor} />
          <FieldTools editor={editor} />
        </div>
      )}
    </Framed>
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
  const canInsert = tools !== 'none' && editor && !disabled;
  return (
    <>
      <Framed editor={editor} className={`${classes.editor} ${classes.oneLine} ${className}`}>
        {canInsert && tools === 'settings' && (
          <div className={classes.settings}>
            <FieldTools editor={editor} />
          </div>
        )}
      </Framed>
      {canInsert && tools === 'beside' && <FieldTools editor={editor} />}
    </>
  );
}

/** The library's editor without its frame: a letter is written on paper. */
function Framed({
  editor,
  className,
  children,
}: {
  readonly editor: Editor | null;
  readonly className: string | undefined;
  readonly children: React.ReactNode;
}) {
  return (
    <RichTextEditor
      editor={editor}
      withTypographyStyles={false}
      classNames={{ root: classes.bare, content: classes.bare }}
    >
      <div className={className}>
        <RichTextEditor.Content />
      </div>
      {children}
    </RichTextEditor>
  );
}
