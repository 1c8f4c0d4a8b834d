import { groupWords, isGroup, type Group, type RuleNode } from '@palabra/core/segments';
import { DropPlace, SortableItems } from '../ui/Sortable';
import { Act, Small } from '../ui/text';
import { Words } from '../ui/Words';
import { ConditionEditor } from './ConditionEditor';
import { begin } from './conditions';
import { LEVELS, type EditorProps } from './editing';
import classes from './segments.module.css';

interface GroupEditorProps extends EditorProps {
  readonly group: Group;
  readonly path: string;
  readonly level: number;
  readonly onChange: (group: Group) => void;
  readonly onRemove?: () => void;
  readonly onStep: (path: string, by: 1 | -1) => void;
}

export function GroupEditor({ group, path, level, onChange, onRemove, ...rest }: GroupEditorProps) {
  const { disabled, context } = rest;
  const put = (items: readonly RuleNode[]): void => onChange({ ...group, items });
  const at = (index: number): string => (path === '' ? String(index) : `${path}.${index}`);
  const parts = (index: number) => ({
    ...rest,
    path: at(index),
    onChange: (node: RuleNode) =>
      put(group.items.map((item, own) => (own === index ? node : item))),
    onRemove: () => put(group.items.filter((_, own) => own !== index)),
  });
  const add = (): void => {
    const condition = begin(context.tags.length > 0 ? 'tag' : 'town', context);
    if (condition) put([...group.items, condition]);
  };
  return (
    <div
      className={`${classes.group} ${classes[group.of]}`}
      role="group"
      aria-label={`${group.of} of`}
    >
      <div className={classes.head}>
        <Words
          label="How the conditions count"
          value={group.of}
          disabled={disabled}
          options={groupWords.map((value) => ({ value, label: `${value} of` }))}
          onChange={(of) => onChange({ ...group, of })}
        />
        {onRemove && !disabled && <Act onClick={onRemove}>Take this group out</Act>}
      </div>
      <SortableItems ids={group.items.map((_, index) => at(index))}>
        <DropPlace id={`in:${path}`}>
          {group.items.length === 0 && (
            <Small>
              {level > 1
                ? 'No condition yet: this group asks nothing.'
                : group.of === 'any'
                  ? 'No condition yet: nobody.'
                  : 'No condition yet: everybody.'}
            </Small>
          )}
          {group.items.map((item, index) =>
            isGroup(item) ? (
              <GroupEditor key={index} group={item} level={level + 1} {...parts(index)} />
            ) : (
              <ConditionEditor key={index} condition={item} {...parts(index)} />
            ),
          )}
        </DropPlace>
      </SortableItems>
      {!disabled && (
        <div className={classes.adds}>
          <Act onClick={add}>+ condition</Act>
          {level < LEVELS && (
            <Act onClick={() => put([...group.items, { of: 'any', items: [] }])}>+ group</Act>
          )}
        </div>
      )}
    </div>
  );
}
