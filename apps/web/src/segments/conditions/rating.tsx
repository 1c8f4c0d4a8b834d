import { MOVED_WITHIN, ratingMoves, type RatingCondition } from '@palabra/core/segments';
import { Pick } from '../../ui/Pick';
import type { EditorOf } from './kind';
import { Whole } from './Whole';

export const rating: EditorOf<RatingCondition> = {
  choices: () => [{ value: 'rating moved', label: 'rating rose or fell' }],
  chosen: () => 'rating moved',
  begin: (choice) =>
    choice === 'rating moved' ? { kind: 'rating', op: 'rose', by: 20, within: 30 } : undefined,
  Operand: ({ condition, disabled, onChange }) => {
    const { by, within, ...base } = condition;
    return (
      <>
        <Pick
          label="How the rating went"
          disabled={disabled}
          value={condition.op}
          options={ratingMoves.map((op) => ({ value: op, label: op }))}
          onChange={(op) => op && onChange({ ...condition, op })}
        />
        by
        <Whole
          label="By how many points"
          most={100}
          disabled={disabled}
          value={by}
          onChange={(next) =>
            onChange({
              ...base,
              ...(within === undefined ? {} : { within }),
              ...(next === undefined ? {} : { by: next }),
            })
          }
        />
        within
        <Whole
          label="Within how many days"
          most={MOVED_WITHIN}
          disabled={disabled}
          value={within}
          onChange={(next) =>
            onChange({
              ...base,
              ...(by === undefined ? {} : { by }),
              ...(next === undefined ? {} : { within: next }),
            })
          }
        />
        days
      </>
    );
  },
};
