// The rule as it is edited: groups with their word, conditions with their count. Two levels here, any depth in the model.
import {
  isGroup,
  moveNode,
  nodeAt,
  parsePath,
  pathText,
  stepNode,
  type Group,
  type Rule,
} from '@palabra/core/segments';
import { Dragging } from '../ui/Sortable';
import { LEVELS, type EditorProps } from './editing';
import { GroupEditor } from './GroupEditor';

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
      document.querySelector<HTMLElement>(`[data-path="${pathText(now)}"] input`)?.focus(),
    );
  };
  return (
    <Dragging onMove={drop}>
      <GroupEditor group={rule.root} path="" level={1} onChange={put} onStep={step} {...rest} />
    </Dragging>
  );
}
