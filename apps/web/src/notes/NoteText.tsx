// A note as it is read.
import type { Inline, Mark, RichText, TextNode } from '@palabra/core/letters';
import type { ReactNode } from 'react';
import classes from './notes.module.css';

export function NoteText({ text }: { readonly text: RichText }) {
  return <div className={classes.text}>{text.content.map(block)}</div>;
}

function block(node: TextNode, at: number): ReactNode {
  if (node.type === 'paragraph') return <p key={at}>{(node.content ?? []).map(inline)}</p>;
  const items = node.content.map((item, own) => <li key={own}>{item.content.map(block)}</li>);
  return node.type === 'bulletList' ? <ul key={at}>{items}</ul> : <ol key={at}>{items}</ol>;
}

function inline(one: Inline, at: number): ReactNode {
  if (one.type === 'hardBreak') return <br key={at} />;
  if (one.type !== 'text') return null;
  return (
    <span key={at}>
      {(one.marks ?? []).reduce<ReactNode>((inner, mark) => marked(mark, inner), one.text)}
    </span>
  );
}

function marked(mark: Mark, inner: ReactNode): ReactNode {
  switch (mark.type) {
    case 'bold':
      return <b>{inner}</b>;
    case 'italic':
      return <i>{inner}</i>;
    case 'link':
      return (
        <a href={mark.attrs.href} target="_blank" rel="noopener noreferrer nofollow">
          {inner}
        </a>
      );
  }
}
