// Moves in the rule editor. A node is named by its path: the places of its groups and its own, `1.0`.
import { isGroup, type Group, type RuleNode } from './rule.js';

export type Path = readonly number[];

export const parsePath = (text: string): Path => (text === '' ? [] : text.split('.').map(Number));
export const pathText = (path: Path): string => path.join('.');

export function nodeAt(root: Group, path: Path): RuleNode | undefined {
  let node: RuleNode | undefined = root;
  for (const at of path) node = node && isGroup(node) ? node.items[at] : undefined;
  return node;
}

/** The tree with the items of one group made anew. */
function withItems(
  root: Group,
  path: Path,
  change: (items: readonly RuleNode[]) => readonly RuleNode[],
): Group {
  const [first, ...rest] = path;
  if (first === undefined) return { ...root, items: change(root.items) };
  return {
    ...root,
    items: root.items.map((item, at) =>
      at === first && isGroup(item) ? withItems(item, rest, change) : item,
    ),
  };
}

/** The tree with another node at a place, or without one there. */
export function putNode(root: Group, path: Path, node: RuleNode | undefined): Group {
  const own = path.at(-1);
  if (own === undefined) return node && isGroup(node) ? node : root;
  return withItems(root, path.slice(0, -1), (items) =>
    items.flatMap((item, at) => (at === own ? (node ?? []) : [item])),
  );
}

/** The tree with a copy of a node behind it. */
export function copyNode(root: Group, path: Path): Group {
  const node = nodeAt(root, path);
  const own = path.at(-1);
  if (!node || own === undefined) return root;
  return withItems(root, path.slice(0, -1), (items) => items.toSpliced(own + 1, 0, node));
}

/** Just those whom a node leaves out. Said twice, it is the node again. */
export function negated(node: RuleNode): RuleNode {
  if (!isGroup(node)) return { of: 'none', items: [node] };
  const [only, ...others] = node.items;
  if (node.of === 'none')
    return only && others.length === 0 && !node.off ? only : { ...node, of: 'any' };
  if (node.of === 'any') return { ...node, of: 'none' };
  return { of: 'none', items: [node] };
}

const startsWith = (path: Path, beginning: Path): boolean =>
  beginning.every((at, level) => path[level] === at);

/** Where a path leads once the node at `gone` is taken out. */
function without(path: Path, gone: Path): Path {
  const level = gone.length - 1;
  const own = gone[level] ?? 0;
  const here = path[level];
  if (here === undefined || !startsWith(path, gone.slice(0, level)) || here <= own) return path;
  return [...path.slice(0, level), here - 1, ...path.slice(level + 1)];
}

/**
 * Moves the node at `from` to the place `at` of the group `into`, both as they are before the move. A group
 * can't be moved into itself; then, and when there is nothing at `from`, the same tree comes back.
 */
export function moveNode(root: Group, from: Path, into: Path, at: number): Group {
  const node = nodeAt(root, from);
  const target = nodeAt(root, into);
  if (!node || from.length === 0 || !target || !isGroup(target) || startsWith(into, from))
    return root;
  const parent = from.slice(0, -1);
  const own = from.at(-1) ?? 0;
  const taken = withItems(root, parent, (items) => items.filter((_, index) => index !== own));
  const isSameGroup = pathText(parent) === pathText(into);
  const place = isSameGroup && at > own ? at - 1 : at;
  return withItems(taken, without(into, from), (items) => [
    ...items.slice(0, place),
    node,
    ...items.slice(place),
  ]);
}

/** One step up or down: within its group, and at its edge out of it. Returns the tree and where the node is then. */
export function stepNode(
  root: Group,
  from: Path,
  by: 1 | -1,
): { readonly root: Group; readonly path: Path } {
  const parent = from.slice(0, -1);
  const own = from.at(-1);
  const group = nodeAt(root, parent);
  if (own === undefined || !group || !isGroup(group)) return { root, path: from };
  const to = own + by;
  if (to >= 0 && to < group.items.length)
    return { root: moveNode(root, from, parent, by === 1 ? to + 1 : to), path: [...parent, to] };
  const outer = parent.slice(0, -1);
  const groupAt = parent.at(-1);
  if (groupAt === undefined) return { root, path: from };
  const place = by === 1 ? groupAt + 1 : groupAt;
  return { root: moveNode(root, from, outer, place), path: [...outer, place] };
}
