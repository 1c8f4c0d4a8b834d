import { memo } from 'react';
import type { Condition } from '@palabra/core/segments';
import { Num } from '../ui/numbers';
import { useDrag } from '../ui/Sortable';
import { Small } from '../ui/text';
import { AskFinder } from './AskFinder';
import { editorOf, labelOf } from './conditions';
import type { EditorParts, OwnCount } from './editing';
import { PartMenu, partKeys } from './PartMenu';
import classes from './segments.module.css';

interface ConditionEditorProps {
  readonly condition: Condition;
  readonly path: string;
  readonly parts: EditorParts;
  readonly own: OwnCount;
  /** Whether it holds for the person who is asked about. */
  readonly holds?: boolean | undefined;
  readonly isLit: boolean;
}

function ConditionIn({ condition, path, parts, own, holds, isLit }: ConditionEditorProps) {
  const { context, disabled, act, onHover, open } = parts;
  const isOff = condition.off === true;
  const isUnfinished = own === 'none' && !isOff;
  const editor = editorOf(condition);
  const { hold, style, handle } = useDrag(path, disabled);
  const put = (node: Condition): void =>
    act({ do: 'put', path, node: isOff ? { ...node, off: true } : node });
  return (
    <div
      ref={hold}
      style={style}
      data-path={path}
      data-lit={isLit}
      data-off={isOff || undefined}
      data-holds={holds}
      className={`${classes.condition} ${isUnfinished ? classes.unfinished : ''}`}
      onKeyDownCapture={partKeys(path, parts)}
      onMouseEnter={() => onHover(path)}
      onMouseLeave={() => onHover(undefined)}
      onFocus={() => onHover(path)}
      onBlur={() => onHover(undefined)}
    >
      {handle}
      <AskFinder
        words={<b>{labelOf(condition, context)}</b>}
        name={`What is asked: ${labelOf(condition, context)}`}
        context={context}
        disabled={disabled}
        isLead
        onBegin={put}
      />
      <editor.Operand {...{ condition, context, disabled }} onChange={put} />
      <span className={classes.end}>
        {isOff ? (
          <Small>not asked for now</Small>
        ) : isUnfinished ? (
          <Small c="var(--caution)">
            {condition.kind === 'segment' && condition.segment !== undefined
              ? 'that one is unfinished'
              : 'unfinished'}
          </Small>
        ) : own === undefined || own === 'none' ? (
          <Small>…</Small>
        ) : (
          <span title="people for whom this condition holds by itself">
            <Num
              value={own}
              onOpen={open && (() => open(condition))}
              label="people for whom this holds by itself"
            />
          </span>
        )}
        {!disabled && <PartMenu node={condition} path={path} parts={parts} />}
      </span>
    </div>
  );
}

/** Typing in one condition draws no other anew. */
export const ConditionEditor = memo(ConditionIn);
