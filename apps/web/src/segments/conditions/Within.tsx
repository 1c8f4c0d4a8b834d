// At any time, or within so long.
import type { Span } from '@palabra/core/segments';
import { Pick } from '../../ui/Pick';
import { SpanAnswer } from './answers';

interface WithinProps {
  readonly label: string;
  /** What the two choices begin with: “put on ”. */
  readonly what?: string;
  readonly value: Span | undefined;
  readonly disabled: boolean;
  readonly onChange: (value: Span | undefined) => void;
}

const AT_FIRST: Span = { count: 30, unit: 'days' };

export function Within({ label, what = '', value, disabled, onChange }: WithinProps) {
  return (
    <>
      <Pick
        label={label}
        disabled={disabled}
        value={value ? 'within' : 'ever'}
        options={[
          { value: 'ever', label: `${what}at any time` },
          { value: 'within', label: `${what}within the last` },
        ]}
        onChange={(next) => onChange(next === 'within' ? (value ?? AT_FIRST) : undefined)}
      />
      {value && (
        <SpanAnswer value={value} disabled={disabled} onChange={(span) => span && onChange(span)} />
      )}
    </>
  );
}
