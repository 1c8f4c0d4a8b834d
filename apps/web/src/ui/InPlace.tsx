// Text edited where it stands: click or Enter to edit, Enter or leaving keeps it, Escape takes it back. In several lines
// Enter begins another one, and with Ctrl keeps it.
import { Autocomplete, Textarea, TextInput, UnstyledButton } from '@mantine/core';
import { useRef, useState, type KeyboardEvent } from 'react';
import classes from './InPlace.module.css';
import { Act, Soft } from './text';

interface InPlaceProps {
  readonly value: string;
  readonly label: string;
  readonly empty?: string;
  /** How the value is read when it is not being edited. */
  readonly shown?: string;
  readonly title?: boolean;
  readonly disabled?: boolean;
  /** May have several lines. */
  readonly lines?: boolean;
  /** Stands under what is edited. */
  readonly help?: string;
  readonly maxLength?: number;
  /** What others have there, offered while typing. */
  readonly offered?: readonly string[];
  readonly onEdit?: () => void;
  /** Rejects with a sentence when the value can't be kept; what was typed stays. */
  readonly onSave: (value: string) => Promise<unknown> | void;
}

export function InPlace({
  value,
  label,
  empty = 'none',
  shown = value,
  title = false,
  disabled = false,
  lines = false,
  help,
  maxLength = 1000,
  offered,
  onEdit,
  onSave,
}: InPlaceProps) {
  const [draft, setDraft] = useState<string>();
  /** What was there when editing began. */
  const [from, setFrom] = useState(value);
  /** What is on its way to be kept: as the value it is nobody else's. */
  const [sent, setSent] = useState<string>();
  const [error, setError] = useState<string>();
  const button = useRef<HTMLButtonElement>(null);
  const hasFocus = useRef(false);
  const isOnItsWay = useRef(false);
  const place = title ? classes.title : lines ? classes.lines : undefined;
  const close = (): void => {
    setDraft(undefined);
    setError(undefined);
    // Who went elsewhere meanwhile stays there.
    if (hasFocus.current) requestAnimationFrame(() => button.current?.focus());
  };
  const save = async (text = draft): Promise<void> => {
    if (text === undefined || isOnItsWay.current) return;
    const kept = text.trim();
    // Who only looked writes nothing over what somebody else wrote meanwhile.
    if (kept === value || kept === from) return close();
    isOnItsWay.current = true;
    setSent(kept);
    try {
      await onSave(kept);
      close();
    } catch (reason) {
      setError(reason instanceof Error ? reason.message : String(reason));
    }
    isOnItsWay.current = false;
    setSent(undefined);
  };
  const words = shown || <Soft>{empty}</Soft>;
  if (disabled) return <span className={`${classes.still} ${place ?? ''}`}>{words}</span>;
  if (draft === undefined)
    return (
      <UnstyledButton
        ref={button}
        className={`${classes.text} ${place ?? ''}`}
        aria-label={`${label}: ${shown || empty}. Edit`}
        onClick={() => {
          onEdit?.();
          setDraft(value);
          setFrom(value);
        }}
      >
        {words}
      </UnstyledButton>
    );
  const props = {
    variant: 'line',
    classNames: { root: classes.root, input: `${classes.input} ${place ?? ''}` },
    'aria-label': label,
    autoFocus: true,
    maxLength,
    error,
    value: draft,
    readOnly: sent !== undefined,
    description:
      value === from || value === sent ? (
        help
      ) : (
        <span role="status">
          Changed elsewhere to “{shown || empty}” meanwhile.{' '}
          <Act onMouseDown={(event) => event.preventDefault()} onClick={close}>
            Take that
          </Act>
        </span>
      ),
    onFocus: (event: { currentTarget: HTMLInputElement | HTMLTextAreaElement }) => {
      hasFocus.current = true;
      event.currentTarget.select();
    },
    onBlur: () => {
      hasFocus.current = false;
      void save();
    },
    onKeyDown: (event: KeyboardEvent) => {
      if (event.key === 'Enter' && (!lines || event.ctrlKey || event.metaKey)) void save();
      if (event.key === 'Escape') {
        event.stopPropagation();
        close();
      }
    },
  };
  if (lines)
    return (
      <Textarea
        {...props}
        autosize
        maxRows={12}
        onChange={(event) => setDraft(event.currentTarget.value)}
      />
    );
  return offered === undefined ? (
    <TextInput {...props} onChange={(event) => setDraft(event.currentTarget.value)} />
  ) : (
    <Autocomplete
      {...props}
      data={[...offered]}
      limit={8}
      onChange={setDraft}
      onOptionSubmit={(text) => void save(text)}
    />
  );
}
