// One of a few words: a choice written out in a line.
import { SegmentedControl } from '@mantine/core';

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
    <SegmentedControl<T>
      aria-label={label}
      value={value}
      data={options.map((option) =>
        typeof option === 'string' ? { value: option, label: option } : option,
      )}
      disabled={disabled}
      onChange={onChange}
    />
  );
}
