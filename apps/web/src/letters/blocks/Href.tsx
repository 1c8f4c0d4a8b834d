// Where a block leads.
import { TextInput } from '@mantine/core';
import { isSafeHref } from '@palabra/core/letters';
import { useState } from 'react';
import classes from '../letters.module.css';

export function Href({
  value,
  disabled,
  onChange,
}: {
  readonly value: string;
  readonly disabled: boolean;
  readonly onChange: (href: string) => void;
}) {
  const [text, setText] = useState(value);
  const [seen, setSeen] = useState(value);
  if (value !== seen) {
    setSeen(value);
    setText(value);
  }
  // Half an address is kept here and not in the letter, which holds whole ones only.
  const wrong = text !== '' && !isSafeHref(text);
  const leave = (): void => {
    const target =
      text.trim() === '' || /^[a-z]+:/i.test(text.trim()) ? text.trim() : `https://${text.trim()}`;
    setText(target);
    if (target === '' || isSafeHref(target)) onChange(target);
  };
  return (
    <label className={`${classes.setting} ${classes.wide}`}>
      leads to
      <TextInput
        variant="line"
        placeholder="https://"
        maxLength={2000}
        disabled={disabled}
        error={wrong && 'not a whole address yet'}
        value={text}
        onChange={(event) => {
          const next = event.currentTarget.value;
          setText(next);
          if (next === '' || isSafeHref(next)) onChange(next);
        }}
        onBlur={leave}
      />
    </label>
  );
}
