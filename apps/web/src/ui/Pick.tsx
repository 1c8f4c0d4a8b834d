// A choice that stands in a sentence or a sheet; from seven choices on it is searched by typing.
import { Select, type SelectProps } from '@mantine/core';

interface PickProps<T extends string | number> extends Omit<
  SelectProps,
  'data' | 'value' | 'onChange' | 'label'
> {
  readonly label: string;
  readonly value: T | null;
  readonly options: readonly {
    readonly value: T;
    readonly label: string;
    readonly off?: boolean;
  }[];
  /** What stands for nothing chosen; without it something is always chosen. */
  readonly nothing?: string;
  readonly onChange: (value: T | null) => void;
}

const SEARCHED_FROM = 7;
const NOTHING = '\0';

export function Pick<T extends string | number>({
  label,
  value,
  options,
  nothing,
  onChange,
  ...rest
}: PickProps<T>) {
  const all = [
    ...(nothing === undefined ? [] : [{ value: NOTHING, label: nothing, disabled: false }]),
    ...options.map((one) => ({
      value: String(one.value),
      label: one.label,
      disabled: one.off ?? false,
    })),
  ];
  return (
    <Select
      variant="word"
      aria-label={label}
      data={all}
      value={value === null ? (nothing === undefined ? null : NOTHING) : String(value)}
      searchable={options.length >= SEARCHED_FROM}
      comboboxProps={{ position: 'bottom-start', width: 'max-content' }}
      {...(rest.disabled ? { rightSection: null, rightSectionWidth: 0 } : {})}
      onChange={(next) => {
        const found = options.find((one) => String(one.value) === next);
        onChange(found ? found.value : null);
      }}
      {...rest}
    />
  );
}
