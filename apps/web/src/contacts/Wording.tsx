// What people agreed to, as it stood there.
import { Textarea } from '@mantine/core';
import { WORDING_LIMIT } from '@palabra/core/contacts';

interface WordingProps {
  readonly value: string;
  readonly onChange: (text: string) => void;
}

export const Wording = ({ value, onChange }: WordingProps) => (
  <Textarea
    label="What they agreed to, word for word"
    placeholder="Yes, send me the letter. I can leave it at any time."
    autosize
    maxRows={6}
    maxLength={WORDING_LIMIT}
    value={value}
    onChange={(event) => onChange(event.currentTarget.value)}
  />
);
