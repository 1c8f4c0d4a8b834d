// The rule as it is edited: groups with their word, conditions with their count. Two levels here, any depth in the model.
import type { Field } from '@palabra/core/contacts';
import {
  groupWords,
  isGroup,
  moveNode,
  nodeAt,
  operandOf,
  operatorsFor,
  parsePath,
  pathText,
  stepNode,
  tagOperators,
  type Condition,
  type FieldCondition,
  type Group,
  type Rule,
  type RuleContext,
  type RuleNode,
  type TagCondition,
} from '@palabra/core/segments';
import { Flag } from '../contacts/Flag';
import { TagPicker } from '../contacts/TagPicker';
import type { TagReply } from '@palabra/contract/contacts';
import { Num } from '../ui/numbers';
import { DropPlace, Dragging, SortableItems, useDrag } from '../ui/Sortable';
import { Words } from '../ui/Words';

const LEVELS = 2;

interface EditorProps {
  readonly context: RuleContext & { readonly tags: readonly TagReply[] };
  readonly alone: Readonly<Record<string, number>>;
  /** Where the people of a condition are, up to its path; while the rule is not saved, nowhere. */
  readonly to: string | undefined;
  readonly disabled: boolean;
  readonly onHover: (path: string | undefined) => void;
}

type Step = (path: string, by: 1 | -1) => void;

export function RuleEditor({
  rule,
  onChange,
  ...rest
}: EditorProps & { readonly rule: Rule; readonly onChange: (rule: Rule) => void }) {
  const put = (root: Group): void => onChange({ v: 1, root });
  /** Onto a condition means to its place; into a group (`in:1`) means to its end. */
  const drop = (from: string, to: string): void => {
    const source = parsePath(from);
    const into = /^in:(.*)$/.exec(to)?.[1];
    const target = parsePath(into ?? to);
    const group = into === undefined ? target.slice(0, -1) : target;
    const moved = nodeAt(rule.root, source);
    const holder = nodeAt(rule.root, group);
    if (!moved || !holder || !isGroup(holder) || (isGroup(moved) && group.length > LEVELS - 2))
      return;
    const own = target.at(-1) ?? 0;
    const isLater = pathText(source.slice(0, -1)) === pathText(group) && (source.at(-1) ?? 0) < own;
    put(
      moveNode(
        rule.root,
        source,
        group,
        into === undefined ? (isLater ? own + 1 : own) : holder.items.length,
      ),
    );
  };
  const step = (path: string, by: 1 | -1): void => {
    const { root, path: now } = stepNode(rule.root, parsePath(path), by);
    put(root);
    requestAnimationFrame(() =>
      document.querySelector<HTMLElement>(`[data-path="${pathText(now)}"] .lead`)?.focus(),
    );
  };
  return (
    <Dragging onMove={drop}>
      <GroupEditor group={rule.root} path="" level={1} onChange={put} onStep={step} {...rest} />
    </Dragging>
  );
}

interface GroupEditorProps extends EditorProps {
  readonly group: Group;
  readonly path: string;
  readonly level: number;
  readonly onChange: (group: Group) => void;
  readonly onRemove?: () => void;
  readonly onStep: Step;
}

function GroupEditor({ group, path, level, onChange, onRemove, ...rest }: GroupEditorProps) {
  const { disabled, context } = rest;
  const put = (items: readonly RuleNode[]): void => onChange({ ...group, items });
  const at = (index: number): string => (path === '' ? String(index) : `${path}.${index}`);
  const replace = (index: number, node: RuleNode): void =>
    put(group.items.map((item, own) => (own === index ? node : item)));
  const remove = (index: number): void => put(group.items.filter((_, own) => own !== index));
  return (
    <div className={`group ${group.of}`} role="group" aria-label={`${group.of} of`}>
      <div className="condition" style={{ borderBottom: 0, minHeight: 26 }}>
        <Words
          label="How the conditions count"
          value={group.of}
          disabled={disabled}
          options={groupWords.map((value) => ({ value, label: `${value} of` }))}
          onChange={(of) => onChange({ ...group, of })}
        />
        {onRemove && !disabled && (
          <span className="end">
            <button type="button" className="act small" onClick={onRemove}>
              Take this group out
            </button>
          </span>
        )}
      </div>
      <SortableItems ids={group.items.map((_, index) => at(index))}>
        <DropPlace id={`in:${path}`}>
          {group.items.length === 0 && (
            <p className="soft small">
              {group.of === 'any' ? 'No condition yet: nobody.' : 'No condition yet: everybody.'}
            </p>
          )}
          {group.items.map((item, index) =>
            isGroup(item) ? (
              <GroupEditor
                key={index}
                {...rest}
                group={item}
                path={at(index)}
                level={level + 1}
                onChange={(node) => replace(index, node)}
                onRemove={() => remove(index)}
              />
            ) : (
              <ConditionEditor
                key={index}
                {...rest}
                condition={item}
                path={at(index)}
                onChange={(node) => replace(index, node)}
                onRemove={() => remove(index)}
              />
            ),
          )}
        </DropPlace>
      </SortableItems>
      {!disabled && (
        <div style={{ display: 'flex', gap: 18, paddingTop: 6 }}>
          <button
            type="button"
            className="act"
            onClick={() =>
              put([
                ...group.items,
                context.tags.length > 0
                  ? { kind: 'tag', op: 'has', tags: [] }
                  : { kind: 'field', field: 'town', op: 'is' },
              ])
            }
          >
            + condition
          </button>
          {level < LEVELS && (
            <button
              type="button"
              className="act"
              onClick={() => put([...group.items, { of: 'any', items: [] }])}
            >
              + group
            </button>
          )}
        </div>
      )}
    </div>
  );
}

interface ConditionEditorProps extends EditorProps {
  readonly condition: Condition;
  readonly path: string;
  readonly onChange: (condition: Condition) => void;
  readonly onRemove: () => void;
  readonly onStep: Step;
}

function ConditionEditor({
  condition,
  path,
  onChange,
  onRemove,
  onStep,
  context,
  alone,
  to,
  disabled,
  onHover,
}: ConditionEditorProps) {
  const own = alone[path];
  const choose = (key: string): void => {
    if (key === 'tag') return onChange({ kind: 'tag', op: 'has', tags: [] });
    const field = context.fields.find((one) => one.key === key);
    if (field)
      onChange({ kind: 'field', field: field.key, op: operatorsFor[field.type][0] ?? 'is filled' });
  };
  const { hold, style, handle } = useDrag(path, disabled);
  return (
    <div
      ref={hold}
      style={style}
      data-path={path}
      className={`condition ${own === undefined ? 'unfinished' : ''}`}
      onKeyDown={(event) => {
        if (disabled || !event.altKey || (event.key !== 'ArrowUp' && event.key !== 'ArrowDown'))
          return;
        event.preventDefault();
        onStep(path, event.key === 'ArrowUp' ? -1 : 1);
      }}
      onMouseEnter={() => onHover(path)}
      onMouseLeave={() => onHover(undefined)}
      onFocus={() => onHover(path)}
      onBlur={() => onHover(undefined)}
    >
      {handle}
      <select
        className="lead"
        aria-label="What is asked"
        disabled={disabled}
        value={condition.kind === 'tag' ? 'tag' : condition.field}
        onChange={(event) => choose(event.currentTarget.value)}
      >
        <option value="tag">tag</option>
        {context.fields.map(({ key, label }) => (
          <option key={key} value={key}>
            {label}
          </option>
        ))}
      </select>
      {condition.kind === 'tag' ? (
        <TagOperand
          condition={condition}
          tags={context.tags}
          disabled={disabled}
          onChange={onChange}
        />
      ) : (
        <FieldOperand
          condition={condition}
          fields={context.fields}
          disabled={disabled}
          onChange={onChange}
        />
      )}
      <span className="end">
        <span className="figure soft" title="people for whom this condition holds by itself">
          {own === undefined ? (
            <span className="caution small">unfinished</span>
          ) : (
            <Num
              value={own}
              to={to && `${to}${path.replaceAll('.', '-')}`}
              label="people for whom this holds by itself"
            />
          )}
        </span>
        {!disabled && (
          <button
            type="button"
            className="act"
            aria-label="Take this condition out"
            onClick={onRemove}
          >
            ×
          </button>
        )}
      </span>
    </div>
  );
}

function TagOperand({
  condition,
  tags,
  disabled,
  onChange,
}: {
  readonly condition: TagCondition;
  readonly tags: readonly TagReply[];
  readonly disabled: boolean;
  readonly onChange: (condition: TagCondition) => void;
}) {
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

function FieldOperand({
  condition,
  fields,
  disabled,
  onChange,
}: {
  readonly condition: FieldCondition;
  readonly fields: readonly Field[];
  readonly disabled: boolean;
  readonly onChange: (condition: FieldCondition) => void;
}) {
  const field = fields.find(({ key }) => key === condition.field);
  if (!field) return <span className="wrong">this field is gone</span>;
  const operand = operandOf(field.type, condition.op);
  const put = (value: FieldCondition['value']): void => {
    const { value: _, ...base } = condition;
    onChange(value === undefined || value === '' ? base : { ...base, value });
  };
  const number = (text: string): number | undefined =>
    text === '' || Number.isNaN(Number(text)) ? undefined : Number(text);
  return (
    <>
      <select
        aria-label="How the field is asked"
        disabled={disabled}
        value={condition.op}
        onChange={(event) => {
          const op = operatorsFor[field.type].find((one) => one === event.currentTarget.value);
          if (op)
            onChange(
              operandOf(field.type, op) === operand
                ? { ...condition, op }
                : { kind: 'field', field: field.key, op },
            );
        }}
      >
        {operatorsFor[field.type].map((op) => (
          <option key={op}>{op}</option>
        ))}
      </select>
      {operand === 'text' && (
        <input
          className="line-input"
          aria-label="Value"
          disabled={disabled}
          maxLength={1000}
          value={String(condition.value ?? '')}
          onChange={(event) => put(event.currentTarget.value)}
        />
      )}
      {operand === 'number' && (
        <input
          className="line-input"
          aria-label="Value"
          type="number"
          step="any"
          disabled={disabled}
          value={String(condition.value ?? '')}
          onChange={(event) => put(number(event.currentTarget.value))}
          style={{ width: 110 }}
        />
      )}
      {operand === 'count of days' && (
        <span>
          <input
            className="line-input"
            aria-label="Number of days"
            type="number"
            min={0}
            max={36500}
            step={1}
            disabled={disabled}
            value={String(condition.value ?? '')}
            onChange={(event) => put(number(event.currentTarget.value))}
            style={{ width: 70 }}
          />{' '}
          days
        </span>
      )}
      {operand === 'day' && (
        <input
          className="line-input"
          aria-label="Day"
          type="date"
          disabled={disabled}
          value={String(condition.value ?? '')}
          onChange={(event) => put(event.currentTarget.value)}
        />
      )}
      {operand === 'choices' && (
        <Choices
          field={field}
          value={Array.isArray(condition.value) ? (condition.value as readonly string[]) : []}
          disabled={disabled}
          onChange={put}
        />
      )}
    </>
  );
}

function Choices({
  field,
  value,
  disabled,
  onChange,
}: {
  readonly field: Field;
  readonly value: readonly string[];
  readonly disabled: boolean;
  readonly onChange: (value: readonly string[] | undefined) => void;
}) {
  return (
    <span className="words">
      {field.choices?.map(({ key, label }) => {
        const on = value.includes(key);
        return (
          <button
            key={key}
            type="button"
            aria-pressed={on}
            disabled={disabled}
            onClick={() => {
              const next = on ? value.filter((one) => one !== key) : [...value, key];
              onChange(next.length === 0 ? undefined : next);
            }}
          >
            {label}
          </button>
        );
      })}
    </span>
  );
}
