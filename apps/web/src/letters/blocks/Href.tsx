// Where a block leads.
import { isSafeHref } from '@palabra/core/letters';
import { useState } from 'react';

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
    <label style={{ flex: '1 1 240px' }}>
      leads to
      <input
        className="line-input"
        style={{ flex: 1 }}
        placeholder="https://"
        maxLength={2000}
        disabled={disabled}
        aria-invalid={wrong}
        value={text}
        onChange={(event) => {
          const next = event.currentTarget.value;
          setText(next);
          if (next === '' || isSafeHref(next)) onChange(next);
        }}
        onBlur={leave}
      />
      {wrong && <span className="wrong small">not a whole address yet</span>}
    </label>
  );
}
