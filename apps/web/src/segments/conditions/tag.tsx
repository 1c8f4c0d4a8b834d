import { tagOperators, type TagCondition } from '@palabra/core/segments';
import type { ComponentProps } from 'react';
import { Flag } from '../../contacts/Flag';
import { TagPicker } from '../../contacts/TagPicker';
import type { EditorOf } from './kind';

function Operand({
  condition,
  context: { tags },
  disabled,
  onChange,
}: ComponentProps<EditorOf<TagCondition>['Operand']>) {
  const several = condition.op !== 'has' && condition.op !== 'has not';
  const canAdd = several || condition.tags.length === 0;
  return (
    <>
      <select
        aria-label="How the tag is asked for"
        disabled={disabled}
        value={condition.op}
        onChange={(event) => {
          const op = tagOperators.find((one) => one === event.currentTarget.value) ?? 'has';
          onChange({
            ...condition,
            op,
            tags: op === 'has' || op === 'has not' ? condition.tags.slice(0, 1) : condition.tags,
          });
        }}
      >
        {tagOperators.map((op) => (
          <option key={op}>{op}</option>
        ))}
      </select>
      <span className="flags wrap">
        {condition.tags.map((id) => {
          const tag = tags.find((one) => one.id === id);
          return (
            <Flag
              key={id}
              name={tag?.name ?? 'a tag that is gone'}
              colour={tag?.colour ?? 'slate'}
              onTakeOff={
                disabled
                  ? undefined
                  : () =>
                      onChange({ ...condition, tags: condition.tags.filter((one) => one !== id) })
              }
            />
          );
        })}
        {canAdd && !disabled && (
          <TagPicker
            label={condition.tags.length === 0 ? 'choose a tag' : '+ tag'}
            leaveOut={condition.tags}
            onPick={(id) => onChange({ ...condition, tags: [...condition.tags, id] })}
          />
        )}
      </span>
    </>
  );
}

export const tag: EditorOf<TagCondition> = {
  choices: () => [{ value: 'tag', label: 'tag' }],
  chosen: () => 'tag',
  begin: (choice) => (choice === 'tag' ? { kind: 'tag', op: 'has', tags: [] } : undefined),
  Operand,
};
