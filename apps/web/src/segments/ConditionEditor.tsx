import { ActionIcon } from '@mantine/core';
import type { Condition } from '@palabra/core/segments';
import { IconX } from '@tabler/icons-react';
import { Num } from '../ui/numbers';
import { Pick } from '../ui/Pick';
import { useDrag } from '../ui/Sortable';
import { Small } from '../ui/text';
import { begin, choices, editorOf } from './conditions';
import type { EditorProps } from './editing';
import classes from './segments.module.css';
import { isUnfinished } from './words';

interface ConditionEditorProps extends EditorProps {
  readonly condition: Condition;
  readonly path: string;
  readonly onChange: (condition: Condition) => void;
  readonly onRemove: () => void;
  readonly onStep: (path: string, by: 1 | -1) => void;
}

export function ConditionEditor(props: ConditionEditorProps) {
  const { condition, path, context, alone, disabled, lit, onChange, onStep, onHover } = props;
  const unfinished = isUnfinished(condition, alone, path);
  const editor = editorOf(condition);
  const { hold, style, handle } = useDrag(path, disabled);
  return (
    <div
      ref={hold}
      style={style}
      data-path={path}
      data-lit={lit === path}
      className={`${classes.condition} ${unfinished ? classes.unfinished : ''}`}
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
      <Pick
        label="What is asked"
        classNames={{ input: classes.lead }}
        disabled={disabled}
        value={editor.chosen(condition)}
        options={choices(context)}
        onChange={(choice) => {
          const begun = choice === null ? undefined : begin(choice, context);
          if (begun) onChange(begun);
        }}
      />
      <editor.Operand {...{ condition, context, disabled, onChange }} />
      <End {...props} unfinished={unfinished} />
    </div>
  );
}

function End({
  alone,
  path,
  to,
  disabled,
  unfinished,
  onRemove,
}: ConditionEditorProps & { readonly unfinished: boolean }) {
  const own = alone?.[path];
  return (
    <span className={classes.end}>
      {unfinished ? (
        <Small c="var(--caution)">unfinished</Small>
      ) : own === undefined ? (
        <Small>…</Small>
      ) : (
        <span title="people for whom this condition holds by itself">
          <Num
            value={own}
            to={to && `${to}${path.replaceAll('.', '-')}`}
            label="people for whom this holds by itself"
          />
        </span>
      )}
      {!disabled && (
        <ActionIcon aria-label="Take this condition out" onClick={onRemove}>
          <IconX size={15} />
        </ActionIcon>
      )}
    </span>
  );
}
