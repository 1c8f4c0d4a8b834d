// Bold, italic, lists, links.
import { ActionIcon, Group, TextInput } from '@mantine/core';
import { RichTextEditor } from '@mantine/tiptap';
import { IconLink } from '@tabler/icons-react';
import type { Editor } from '@tiptap/core';
import { useEditorState } from '@tiptap/react';
import { useState } from 'react';
import classes from './richText.module.css';
import { Act } from './text';

export function Formats({ editor }: { readonly editor: Editor }) {
  return (
    <Group gap={2} role="toolbar" aria-label="Format">
      <RichTextEditor.Bold aria-label="Bold" title="Bold" />
      <RichTextEditor.Italic aria-label="Italic" title="Italic" />
      <RichTextEditor.BulletList aria-label="List" title="List" />
      <RichTextEditor.OrderedList aria-label="Numbered list" title="Numbered list" />
      <LinkTool editor={editor} />
    </Group>
  );
}

function LinkTool({ editor }: { readonly editor: Editor }) {
  const link = useEditorState({
    editor,
    selector: ({ editor: one }) => ({
      isActive: one.isActive('link'),
      href: String(one.getAttributes('link')['href'] ?? ''),
    }),
  });
  const [href, setHref] = useState<string>();
  const apply = (): void => {
    const chain = editor.chain().focus().extendMarkRange('link');
    const target = (href ?? '').trim();
    if (target === '') chain.unsetLink().run();
    else chain.setLink({ href: /^[a-z]+:/i.test(target) ? target : `https://${target}` }).run();
    setHref(undefined);
  };
  return (
    <>
      <ActionIcon
        aria-label="Link"
        aria-pressed={link.isActive}
        variant={link.isActive ? 'light' : 'subtle'}
        onClick={() => setHref(href === undefined ? link.href : undefined)}
      >
        <IconLink size={16} />
      </ActionIcon>
      {href !== undefined && (
        <span className={classes.link}>
          leads to
          <TextInput
            variant="line"
            autoFocus
            aria-label="Where the link leads"
            placeholder="https://"
            value={href}
            onChange={(event) => setHref(event.currentTarget.value)}
            onKeyDown={(event) => {
              if (event.key === 'Enter') apply();
              if (event.key === 'Escape') setHref(undefined);
            }}
          />
          <Act onClick={apply}>{href.trim() === '' ? 'No link' : 'Set'}</Act>
        </span>
      )}
    </>
  );
}
