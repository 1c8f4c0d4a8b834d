// One of a few words: a choice written out in a line.
interface WordsProps<T extends string> {
  readonly label: string;
  readonly value: T;
  readonly options: readonly (T | { readonly value: T; readonly label: string })[];
  readonly disabled?: boolean;
  readonly onChange: (value: T) => void;
}

export function Words<T extends string>({
  label,
  value,
  options,
  disabled,
  onChange,
}: WordsProps<T>) {
  return (
    <span className="words" role="group" aria-label={label}>
      {options.map((option) => {
        const { value: own, label: text } =
          typeof option === 'string' ? { value: option, label: option } : option;
        return (
          <button
            key={own}
            type="button"
            aria-pressed={own === value}
            disabled={disabled}
            onClick={() => onChange(own)}
          >
            {text}
          </button>
        );
      })}
    </span>
  );
}
