// Text edited where it stands: click or Enter to edit, Enter or leaving keeps it, Escape takes it back.
import { useRef, useState } from 'react';

interface InPlaceProps {
  readonly value: string;
  readonly label: string;
  readonly empty?: string;
  /** How the value is read when it is not being edited. */
  readonly shown?: string;
  readonly title?: boolean;
  readonly disabled?: boolean;
  readonly maxLength?: number;
  /** Rejects with a sentence when the value can't be kept; what was typed stays. */
  readonly onSave: (value: string) => Promise<void> | void;
}

export function InPlace({
  value,
  label,
  empty = 'none',
  shown = value,
  title = false,
  disabled = false,
  maxLength = 1000,
  onSave,
}: InPlaceProps) {
  const [draft, setDraft] = useState<string>();
  const [error, setError] = useState<string>();
  const button = useRef<HTMLButtonElement>(null);
  const close = (): void => {
    setDraft(undefined);
    setError(undefined);
    requestAnimationFrame(() => button.current?.focus());
  };
  const save = async (): Promise<void> => {
    if (draft === undefined) return;
    if (draft.trim() === value) return close();
    try {
      await onSave(draft.trim());
      close();
    } catch (reason) {
      setError(reason instanceof Error ? reason.message : String(reason));
    }
  };
  if (disabled)
    return (
      <span className={`inplace ${title ? 'title' : ''}`}>
        {shown || <span className="soft">{empty}</span>}
      </span>
    );
  if (draft === undefined) {
    return (
      <button
        ref={button}
        type="button"
        className={`inplace ${title ? 'title' : ''}`}
        aria-label={`${label}: ${shown || empty}. Edit`}
        onClick={() => setDraft(value)}
      >
        {shown || <span className="soft">{empty}</span>}
      </button>
    );
  }
  return (
    <span>
      <input
        className={`inplace-input ${title ? 'title' : ''}`}
        aria-label={label}
        aria-invalid={error !== undefined}
        autoFocus
        maxLength={maxLength}
        value={draft}
        onFocus={(event) => event.currentTarget.select()}
        onChange={(event) => setDraft(event.currentTarget.value)}
        onBlur={() => void save()}
        onKeyDown={(event) => {
          if (event.key === 'Enter') void save();
          if (event.key === 'Escape') {
            event.stopPropagation();
            close();
          }
        }}
      />
      {error && (
        <span className="wrong small" role="alert">
          {error}
        </span>
      )}
    </span>
  );
}
