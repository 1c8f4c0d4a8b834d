// Several texts to compare with: a few as words, many as a list with one on each line.
import { Button, Group, Modal, TagsInput, Textarea } from '@mantine/core';
import { OPERAND_LIMITS } from '@palabra/core/segments';
import { useState } from 'react';
import { count } from '../../ui/numbers';
import { Note } from '../../ui/states';
import { Act, Soft } from '../../ui/text';
import classes from '../segments.module.css';
import { offered, useOffered, type AnswerProps } from './offered';

/** More than these are shown by their number. */
const SHOWN = 24;

/** One on each line, or between commas, semicolons or tabs. */
export const splitTexts = (text: string): string[] => [
  ...new Set(
    text
      .split(/[\n\r\t,;]/)
      .map((one) => one.trim())
      .filter((one) => one !== ''),
  ),
];

export function Texts({ field, value = [], disabled, onChange }: AnswerProps<readonly string[]>) {
  const { values, counts, want } = useOffered(field);
  const [isListed, setListed] = useState(false);
  const put = (next: readonly string[]): void => onChange(next.length === 0 ? undefined : next);
  return (
    <>
      {value.length > SHOWN ? (
        <Soft>{count(value.length)} texts</Soft>
      ) : (
        <TagsInput
          variant="line"
          className={classes.values}
          aria-label="Values"
          placeholder={value.length === 0 ? 'type or paste' : undefined}
          data={[...values]}
          renderOption={offered(counts)}
          limit={8}
          disabled={disabled}
          splitChars={[',', ';', '\n', '\r', '\t']}
          value={[...value]}
          onFocus={want}
          onChange={put}
        />
      )}
      {!disabled && <Act onClick={() => setListed(true)}>as a list</Act>}
      {isListed && (
        <TextList
          label={field.label}
          value={value}
          onClose={() => setListed(false)}
          onChange={put}
        />
      )}
    </>
  );
}

function TextList({
  label,
  value,
  onClose,
  onChange,
}: {
  readonly label: string;
  readonly value: readonly string[];
  readonly onClose: () => void;
  readonly onChange: (value: readonly string[]) => void;
}) {
  const [text, setText] = useState(value.join('\n'));
  const texts = splitTexts(text);
  const tooMany = texts.length > OPERAND_LIMITS.texts;
  return (
    <Modal opened title={`${label}, one on each line`} onClose={onClose}>
      <Textarea
        aria-label="One on each line"
        autosize
        minRows={8}
        maxRows={16}
        data-autofocus
        value={text}
        onChange={(event) => setText(event.currentTarget.value)}
      />
      {tooMany && (
        <Note kind="wrong">
          {count(texts.length)} are too many: {count(OPERAND_LIMITS.texts)} are the most. Import
          them and tag them, then ask for the tag.
        </Note>
      )}
      <Group mt="md">
        <Button
          disabled={tooMany}
          onClick={() => {
            onChange(texts);
            onClose();
          }}
        >
          Ask for these {count(texts.length)}
        </Button>
      </Group>
    </Modal>
  );
}
