// Any of a few words, each on or off.
import { Chip, Group } from '@mantine/core';

interface SeveralProps<T extends string> {
  readonly label: string;
  readonly value: readonly T[];
  readonly options: readonly { readonly value: T; readonly label: string }[];
  readonly disabled: boolean;
  readonly onChange: (value: readonly T[]) => void;
}

export function Several<T extends string>({
  label,
  value,
  options,
  disabled,
  onChange,
}: SeveralProps<T>) {
  return (
    <Chip.Group
      multiple
      value={[...value]}
      onChange={(next) =>
        onChange(options.flatMap((one) => (next.includes(one.value) ? [one.value] : [])))
      }
    >
      <Group gap={6} role="group" aria-label={label}>
        {options.map((one) => (
          <Chip
            key={one.value}
            value={one.value}
            size="xs"
            radius={3}
            variant="light"
            disabled={disabled}
          >
            {one.label}
          </Chip>
        ))}
      </Group>
    </Chip.Group>
  );
}
