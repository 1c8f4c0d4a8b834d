import { standings } from '@palabra/core/contacts';
import type { StandingCondition } from '@palabra/core/segments';
import type { EditorOf } from './kind';
import { Several } from './Several';

export const standing: EditorOf<StandingCondition> = {
  choices: () => [{ value: 'standing', label: 'may be mailed, or why not' }],
  chosen: () => 'standing',
  begin: (choice) => (choice === 'standing' ? { kind: 'standing', any: [] } : undefined),
  Operand: ({ condition, disabled, onChange }) => (
    <Several
      label="How they stand"
      disabled={disabled}
      value={condition.any}
      options={standings.map((value) => ({ value, label: value }))}
      onChange={(any) => onChange({ ...condition, any })}
    />
  ),
};
