// The rule as it is edited: groups with their word, conditions with their count, every step undone and made again.
import { ActionIcon } from '@mantine/core';
import { useCallbackRef } from '@mantine/hooks';
import { RULE_LIMITS, type Group, type Rule, type RuleNode } from '@palabra/core/segments';
import { IconArrowBackUp, IconArrowForwardUp } from '@tabler/icons-react';
import { useMemo, useRef, type KeyboardEvent } from 'react';
import { useHistory } from '../api/history';
import { Dragging } from '../ui/Sortable';
import type { EditorContext } from './conditions';
import { countConditions, edited, type Edit } from './editing';
import { GroupEditor, type Counted } from './GroupEditor';
import classes from './segments.module.css';

interface RuleEditorProps extends Counted {
  readonly rule: Rule;
  readonly context: EditorContext;
  readonly disabled: boolean;
  readonly onHover: (path: string | undefined) => void;
  readonly onChange: (rule: Rule) => void;
  /** Shows the people of a rule. */
  readonly onOpen?: (root: Group) => void;
}

export function RuleEditor({
  rule,
  context,
  disabled,
  onHover,
  onChange,
  onOpen,
  ...counted
}: RuleEditorProps) {
  const frame = useRef<HTMLDivElement>(null);
  const history = useHistory(rule, onChange);
  const act = useCallbackRef((edit: Edit): void => {
    const { root, focus } = edited(rule.root, edit);
    // What is typed into one condition is one step until there is a pause.
    if (root !== rule.root) history.change({ v: 1, root }, edit.do === 'put' ? edit.path : '');
    if (focus !== undefined)
      requestAnimationFrame(() =>
        frame.current
          ?.querySelector<HTMLElement>(`[data-path="${focus}"] :is(input, button):not(:disabled)`)
          ?.focus(),
      );
  });
  const hover = useCallbackRef(onHover);
  const openOne = useCallbackRef((node: RuleNode): void => onOpen?.({ of: 'all', items: [node] }));
  const open = onOpen ? openOne : undefined;
  const isFull = countConditions(rule.root) >= RULE_LIMITS.conditions;
  const parts = useMemo(
    () => ({ context, disabled, isFull, act, onHover: hover, open }),
    [context, disabled, isFull, act, hover, open],
  );
  /** The rule's own steps, but in a text that undoes by itself. */
  const keys = (event: KeyboardEvent): void => {
    const at = event.target;
    const isTyping =
      at instanceof HTMLTextAreaElement || (at instanceof HTMLInputElement && !at.readOnly);
    if (!(event.ctrlKey || event.metaKey) || event.altKey || isTyping || disabled) return;
    const key = event.key.toLowerCase();
    if (key !== 'z' && key !== 'y') return;
    event.preventDefault();
    if (key === 'y' || event.shiftKey) history.redo();
    else history.undo();
  };
  return (
    <div ref={frame} className={classes.editor} onKeyDown={keys}>
      {!disabled && (
        <span className={classes.steps}>
          <ActionIcon aria-label="Undo" disabled={!history.canUndo} onClick={history.undo}>
            <IconArrowBackUp size={16} />
          </ActionIcon>
          <ActionIcon aria-label="Redo" disabled={!history.canRedo} onClick={history.redo}>
            <IconArrowForwardUp size={16} />
          </ActionIcon>
        </span>
      )}
      <Dragging onMove={(path, onto) => act({ do: 'drop', path, onto })}>
        <GroupEditor group={rule.root} path="" level={1} parts={parts} {...counted} />
      </Dragging>
    </div>
  );
}
