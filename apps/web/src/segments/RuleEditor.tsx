// The rule as it is edited: groups with their word, conditions with their count. Two levels here, any depth in the model.
import {
  groupWords,
  isGroup,
  moveNode,
  nodeAt,
  parsePath,
  pathText,
  stepNode,
  type Condition,
  type Group,
  type Rule,
  type RuleNode,
} from '@palabra/core/segments';
import { Num } from '../ui/numbers';
import { DropPlace, Dragging, SortableItems, useDrag } from '../ui/Sortable';
import { Words } from '../ui/Words';
import { begin, choices, editorOf, type EditorContext } from './conditions';

const LEVELS = 2;

interface EditorProps {
  readonly context: EditorContext;
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
            onClick={() => {
              const condition = begin(context.tags.length > 0 ? 'tag' : 'town', context);
              if (condition) put([...group.items, condition]);
            }}
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
  const editor = editorOf(condition);
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
        value={editor.chosen(condition)}
        onChange={(event) => {
          const begun = begin(event.currentTarget.value, context);
          if (begun) onChange(begun);
        }}
      >
        {choices(context).map(({ value, label }) => (
          <option key={value} value={value}>
            {label}
          </option>
        ))}
      </select>
      <editor.Operand
        condition={condition}
        context={context}
        disabled={disabled}
        onChange={onChange}
      />
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
