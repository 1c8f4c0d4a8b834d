import { doNotMailReasons, doNotMailWords } from '@palabra/core/contacts';
import type { DoNotMailCondition } from '@palabra/core/segments';
import type { EditorOf } from './kind';
import { Several } from './Several';
import { Within } from './Within';

export const doNotMail: EditorOf<DoNotMailCondition> = {
  choices: () => [{ value: 'do not mail', label: 'on do not mail' }],
  chosen: () => 'do not mail',
  begin: (choice) => (choice === 'do not mail' ? { kind: 'do not mail', reasons: [] } : undefined),
  Operand: ({ condition, disabled, onChange }) => {
    const { within, ...base } = condition;
    return (
      <>
        <Several
          label="Why"
          disabled={disabled}
          value={condition.reasons}
          options={doNotMailReasons.map((value) => ({ value, label: doNotMailWords[value] }))}
          onChange={(reasons) => onChange({ ...condition, reasons })}
        />
        <Within
          label="Since when"
          disabled={disabled}
          value={within}
          onChange={(next) => onChange(next ? { ...base, within: next } : base)}
        />
      </>
    );
  },
};
