// A whole number in a sentence.
import { NumberInput } from '@mantine/core';

export function Whole({
  label,
  least = 1,
  most,
  value,
  disabled,
  onChange,
}: {
  readonly label: string;
  readonly least?: number;
  readonly most: number;
  readonly value: number | undefined;
  readonly disabled: boolean;
  readonly onChange: (value: number | undefined) => void;
}) {
  return (
    <NumberInput
      variant="line"
      hideControls
      aria-label={label}
      w={48}
      min={least}
      max={most}
      clampBehavior="strict"
      allowDecimal={false}
      disabled={disabled}
      value={value ?? ''}
      onChange={(next) => onChange(typeof next === 'number' && next >= least ? next : undefined)}
    />
  );
}
