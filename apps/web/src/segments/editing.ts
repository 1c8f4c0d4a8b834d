// What can be done in a rule's editor, as values: every part of it says what is wanted, and this is done to the tree.
import {
  copyNode,
  isGroup,
  moveNode,
  negated,
  nodeAt,
  parsePath,
  pathText,
  putNode,
  RULE_LIMITS,
  stepNode,
  type Condition,
  type Group,
  type RuleNode,
} from '@palabra/core/segments';
import type { EditorContext } from './conditions';

/** Paths are of the tree as it is before. */
export type Edit =
  | { readonly do: 'put'; readonly path: string; readonly node: RuleNode }
  | { readonly do: 'add'; readonly path: string; readonly node: RuleNode }
  | { readonly do: 'take out' | 'copy' | 'negate' | 'switch' | 'fold'; readonly path: string }
  | { readonly do: 'step'; readonly path: string; readonly by: 1 | -1 }
  | { readonly do: 'drop'; readonly path: string; readonly onto: string };

/** The tree after an edit, and where the focus belongs then. */
interface Edited {
  readonly root: Group;
  readonly focus?: string;
}

export const childPath = (path: string, at: number): string =>
  path === '' ? String(at) : `${path}.${at}`;

export function edited(root: Group, edit: Edit): Edited {
  const path = parsePath(edit.path);
  const node = nodeAt(root, path);
  if (!node) return { root };
  const put = (next: RuleNode | undefined): Edited => ({ root: putNode(root, path, next) });
  switch (edit.do) {
    case 'put':
      return put(edit.node);
    case 'add':
      return isGroup(node)
        ? {
            ...put({ ...node, items: [...node.items, edit.node] }),
            focus: childPath(edit.path, node.items.length),
          }
        : { root };
    case 'take out':
      return put(undefined);
    case 'copy':
      return {
        root: copyNode(root, path),
        focus: childPath(pathText(path.slice(0, -1)), (path.at(-1) ?? 0) + 1),
      };
    case 'negate':
      return { ...put(negated(node)), focus: edit.path };
    case 'switch': {
      const { off, ...rest } = node;
      return { ...put(off ? rest : { ...node, off: true }), focus: edit.path };
    }
    case 'fold': {
      if (!isGroup(node)) return { root };
      const { folded, ...rest } = node;
      return put(folded ? rest : { ...node, folded: true });
    }
    case 'step': {
      const step = stepNode(root, path, edit.by);
      return fits(step.root) ? { root: step.root, focus: pathText(step.path) } : { root };
    }
    case 'drop':
      return { root: dropped(root, edit.path, edit.onto) };
  }
}

/** Onto a condition means to its place; into a group (`in:1`) means to its end. */
function dropped(root: Group, from: string, onto: string): Group {
  const source = parsePath(from);
  const into = /^in:(.*)$/.exec(onto)?.[1];
  const target = parsePath(into ?? onto);
  const group = into === undefined ? target.slice(0, -1) : target;
  const holder = nodeAt(root, group);
  if (!holder || !isGroup(holder)) return root;
  const own = target.at(-1) ?? 0;
  const isLater = pathText(source.slice(0, -1)) === pathText(group) && (source.at(-1) ?? 0) < own;
  const place = into === undefined ? (isLater ? own + 1 : own) : holder.items.length;
  const moved = moveNode(root, source, group, place);
  return fits(moved) ? moved : root;
}

const depthOf = (node: RuleNode): number =>
  isGroup(node) ? 1 + Math.max(0, ...node.items.map(depthOf)) : 0;
const fits = (root: Group): boolean => depthOf(root) <= RULE_LIMITS.depth;

export const countConditions = (node: RuleNode): number =>
  isGroup(node) ? node.items.reduce((sum, item) => sum + countConditions(item), 0) : 1;

/** What every part of a rule’s editor is given; it stays the same while one condition is typed in. */
export interface EditorParts {
  readonly context: EditorContext;
  readonly disabled: boolean;
  /** No further condition may be added. */
  readonly isFull: boolean;
  readonly act: (edit: Edit) => void;
  readonly onHover: (path: string | undefined) => void;
  /** Shows the people of a part by itself; without it they can't be opened. */
  readonly open: ((node: RuleNode) => void) | undefined;
}

/** How many a condition holds for by itself: a number; nothing, because it asks nothing yet; or not counted so far. */
export type OwnCount = number | 'none' | undefined;

export const ownCount = (
  alone: Readonly<Record<string, number>> | undefined,
  path: string,
): OwnCount => (alone === undefined ? undefined : (alone[path] ?? 'none'));

export type { Condition };
