// Puts a personal field in; when one is selected, changes it.
import { TextInput } from '@mantine/core';
import type { Editor } from '@tiptap/core';
import { NodeSelection } from '@tiptap/pm/state';
import { useEditorState } from '@tiptap/react';
import { useVocabularyQuery } from '../contacts';
import { Finder } from '../ui/Finder';
import { Pick } from '../ui/Pick';
import classes from './letters.module.css';

interface Attrs {
  readonly field: string;
  readonly fallback: string;
}

const notPersonal = new Set(['owner', 'shared_with', 'permission', 'closeness', 'source', 'stage']);

export function FieldTools({ editor }: { readonly editor: Editor }) {
  const { data } = useVocabularyQuery();
  const selected = useEditorState({
    editor,
    selector: ({ editor: one }) =>
      one.isActive('personalField') ? (one.getAttributes('personalField') as Attrs) : null,
  });
  const fields = data?.fields.filter(({ key, isFact }) => !isFact && !notPersonal.has(key)) ?? [];
  if (selected) return <Selected editor={editor} attrs={selected} fields={fields} />;
  return (
    <Finder
      words="+ personal field"
      label="Put a personal field in"
      placeholder="find a field"
      none="No field of that name."
      options={fields.map(({ key, label }) => ({ key, text: label }))}
      onPick={({ key: field }) =>
        editor
          .chain()
          .focus()
          .insertContent([
            {
              type: 'personalField',
              attrs: { field, fallback: field === 'given_name' ? 'friend' : '' },
            },
          ])
          .run()
      }
    />
  );
}

function Selected({
  editor,
  attrs,
  fields,
}: {
  readonly editor: Editor;
  readonly attrs: Attrs;
  readonly fields: readonly { readonly key: string; readonly label: string }[];
}) {
  /** What is changed stays selected, so that the next key finds it. */
  const put = (change: Partial<Attrs>): void =>
    void editor.commands.command(({ tr }) => {
      const { from } = tr.selection;
      tr.setNodeMarkup(from, undefined, { ...attrs, ...change });
      tr.setSelection(NodeSelection.create(tr.doc, from));
      return true;
    });
  return (
    <>
      <span className={classes.setting}>
        field
        <Pick
          label="Personal field"
          value={attrs.field}
          options={fields.map(({ key, label }) => ({ value: key, label }))}
          onChange={(field) => field && put({ field })}
        />
      </span>
      <span className={classes.setting}>
        where it is missing
        <TextInput
          variant="line"
          aria-label="Where it is missing"
          maxLength={200}
          value={attrs.fallback}
          onChange={(event) => put({ fallback: event.currentTarget.value })}
        />
      </span>
    </>
  );
}
