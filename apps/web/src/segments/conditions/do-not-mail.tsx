import { doNotMailReasons, doNotMailWords } from '@palabra/core/contacts';
import type { DoNotMailCondition } from '@palabra/core/segments';
import { Pick } from '../../ui/Pick';
import { SpanAnswer } from './answers';
import type { EditorOf } from './kind';
import { Several } from './Several';

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
        <Pick
          label="Since when"
          disabled={disabled}
          value={within ? 'within' : 'ever'}
          options={[
            { value: 'ever', label: 'at any time' },
            { value: 'within', label: 'within the last' },
          ]}
          onChange={(next) =>
            onChange(next === 'within' ? { ...base, within: { count: 30, unit: 'days' } } : base)
          }
        />
        {within && (
          <SpanAnswer
            value={within}
            disabled={disabled}
            onChange={(span) => span && onChange({ ...base, within: span })}
          />
        )}
      </>
    );
  },
};
