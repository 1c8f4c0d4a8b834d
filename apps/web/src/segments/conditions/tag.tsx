import { automaticTag } from '@palabra/core/contacts';
import { mayAskWhen, tagOperators, type TagCondition } from '@palabra/core/segments';
import type { ComponentProps } from 'react';
import { Flag, Flags, TagPicker } from '../../contacts';
import { Pick } from '../../ui/Pick';
import type { EditorOf } from './kind';
import { Within } from './Within';

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
              kind={tag?.kind}
              purpose={tag?.purpose}
              onTakeOff={disabled ? undefined : takeOff}
            />
          );
        })}
        {canAdd && !disabled && (
          <TagPicker
            label={condition.tags.length === 0 ? 'choose a tag' : '+ tag'}
            leaveOut={condition.tags}
            withAutomatic
            onPick={(id) => put([...condition.tags, id])}
          />
        )}
      </Flags>
      {mayAskWhen(condition.op) && !condition.tags.some(automaticTag) && (
        <Within
          label="Put on when"
          what="put on "
          disabled={disabled}
          value={within}
          onChange={(next) => onChange(next ? { ...base, within: next } : base)}
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
