import { mayAskWhen, tagOperators, type TagCondition } from '@palabra/core/segments';
import type { ComponentProps } from 'react';
import { Flag, Flags, TagPicker } from '../../contacts';
import { Pick } from '../../ui/Pick';
import { SpanAnswer } from './answers';
import type { EditorOf } from './kind';

function Operand({
  condition,
  context: { tags },
  disabled,
  onChange,
}: ComponentProps<EditorOf<TagCondition>['Operand']>) {
  const isOne = (op: TagCondition['op']): boolean => op === 'has' || op === 'has not';
  const canAdd = !isOne(condition.op) || condition.tags.length === 0;
  const { within, ...base } = condition;
  const put = (ids: TagCondition['tags']): void => onChange({ ...condition, tags: ids });
  return (
    <>
      <Pick
        label="How the tag is asked for"
        disabled={disabled}
        value={condition.op}
        options={tagOperators.map((op) => ({ value: op, label: op }))}
        onChange={(op) =>
          op &&
          onChange({
            ...(mayAskWhen(op) ? condition : base),
            op,
            tags: isOne(op) ? condition.tags.slice(0, 1) : condition.tags,
          })
        }
      />
      <Flags wrap>
        {condition.tags.map((id) => {
          const tag = tags.find((one) => one.id === id);
          const takeOff = (): void => put(condition.tags.filter((one) => one !== id));
          return (
            <Flag
              key={id}
              name={tag?.name ?? 'a tag that is gone'}
              colour={tag?.colour ?? 'slate'}
              onTakeOff={disabled ? undefined : takeOff}
            />
          );
        })}
        {canAdd && !disabled && (
          <TagPicker
            label={condition.tags.length === 0 ? 'choose a tag' : '+ tag'}
            leaveOut={condition.tags}
            onPick={(id) => put([...condition.tags, id])}
          />
        )}
      </Flags>
      {mayAskWhen(condition.op) && (
        <Pick
          label="Put on when"
          disabled={disabled}
          value={within ? 'within' : 'ever'}
          options={[
            { value: 'ever', label: 'put on at any time' },
            { value: 'within', label: 'put on within the last' },
          ]}
          onChange={(next) =>
            onChange(next === 'within' ? { ...base, within: { count: 30, unit: 'days' } } : base)
          }
        />
      )}
      {within && (
        <SpanAnswer
          value={within}
          disabled={disabled}
          onChange={(span) => span && onChange({ ...base, within: span })}
        />
      )}
    </>
  );
}

export const tag: EditorOf<TagCondition> = {
  choices: () => [{ value: 'tag', label: 'tag' }],
  chosen: () => 'tag',
  begin: (choice) => (choice === 'tag' ? { kind: 'tag', op: 'has', tags: [] } : undefined),
  Operand,
};
