import fc from 'fast-check';
import {
  isGroup,
  copyNode,
  holds,
  isActive,
  moveNode,
  negated,
  nodeAt,
  parsePath,
  pathText,
  putNode,
  stepNode,
  type Condition,
  type Group,
  type Path,
  type RuleNode,
} from './index.js';

const tag = (id: number): Condition => ({ kind: 'tag', op: 'has', tags: [id] });
const all = (...items: RuleNode[]): Group => ({ of: 'all', items });
const any = (...items: RuleNode[]): Group => ({ of: 'any', items });

it.each<[string, Group, string, string, number, Group]>([
  ['down in its group', all(tag(1), tag(2), tag(3)), '0', '', 2, all(tag(2), tag(1), tag(3))],
  ['up in its group', all(tag(1), tag(2), tag(3)), '2', '', 0, all(tag(3), tag(1), tag(2))],
  ['into a group behind it', all(tag(1), any(tag(2))), '0', '1', 1, all(any(tag(2), tag(1)))],
  ['into a group before it', all(any(tag(2)), tag(1)), '1', '0', 0, all(any(tag(1), tag(2)))],
  ['out of a group', all(any(tag(1), tag(2))), '0.1', '', 0, all(tag(2), any(tag(1)))],
  ['into an empty group', all(tag(1), any()), '0', '1', 0, all(any(tag(1)))],
  ['a whole group', all(tag(1), any(tag(2))), '1', '', 0, all(any(tag(2)), tag(1))],
  ['not into itself', all(any(tag(1))), '0', '0', 0, all(any(tag(1)))],
  ['not from nowhere', all(tag(1)), '5', '', 0, all(tag(1))],
])('moves %s', (_, before, from, into, at, after) =>
  expect(moveNode(before, parsePath(from), parsePath(into), at)).toEqual(after),
);

it('steps out at the edge of a group, and stays at the edge of the rule', () => {
  const root = all(tag(1), any(tag(2), tag(3)));
  expect(stepNode(root, [1, 1], 1)).toEqual({ root: all(tag(1), any(tag(2)), tag(3)), path: [2] });
  expect(stepNode(root, [1, 0], -1)).toEqual({ root: all(tag(1), tag(2), any(tag(3))), path: [1] });
  expect(stepNode(root, [0], -1)).toEqual({ root, path: [0] });
  expect(stepNode(root, [0], 1)).toEqual({ root: all(any(tag(2), tag(3)), tag(1)), path: [1] });
});

const node: fc.Arbitrary<RuleNode> = fc.letrec<{ node: RuleNode }>((tie) => ({
  node: fc.oneof(
    { depthSize: 'small' },
    fc.nat({ max: 99 }).map(tag),
    fc.record({
      of: fc.constantFrom('all' as const, 'any' as const, 'none' as const),
      items: fc.array(tie('node'), { maxLength: 4 }),
    }),
  ),
})).node;
const conditions = (item: RuleNode): number[] =>
  isGroup(item) ? item.items.flatMap(conditions) : item.kind === 'tag' ? [...item.tags] : [];
const paths = (item: RuleNode, path: Path = []): Path[] => [
  path,
  ...(isGroup(item) ? item.items.flatMap((one, at) => paths(one, [...path, at])) : []),
];

it('never loses or doubles a condition, and steps keep hold of theirs', () => {
  fc.assert(
    fc.property(
      fc.array(node, { maxLength: 5 }),
      fc.nat(),
      fc.nat(),
      fc.nat({ max: 5 }),
      fc.constantFrom(1 as const, -1 as const),
      (items, first, second, at, by) => {
        const root = all(...items);
        const every = paths(root);
        const from = every[first % every.length] ?? [];
        const into = every[second % every.length] ?? [];
        expect(conditions(moveNode(root, from, into, at)).sort()).toEqual(conditions(root).sort());
        if (from.length === 0) return;
        const step = stepNode(root, from, by);
        expect(nodeAt(step.root, step.path)).toEqual(nodeAt(root, from));
        expect(parsePath(pathText(step.path))).toEqual(step.path);
      },
    ),
  );
});

it('puts, takes out and copies a node at its place', () => {
  const root = all(tag(1), { of: 'any', items: [tag(2)] });
  expect(conditions(putNode(root, [1, 0], tag(9)))).toEqual([1, 9]);
  expect(putNode(root, [0], undefined)).toEqual(all({ of: 'any', items: [tag(2)] }));
  expect(conditions(copyNode(root, [1]))).toEqual([1, 2, 2]);
  expect(copyNode(root, [7])).toBe(root);
});

it('negates into just the others, and twice into the same people', () => {
  const context = {
    fields: [],
    tags: [],
    topics: [],
    campaigns: [],
    segments: [],
    today: '2026-03-10',
    timeZone: 'UTC',
  };
  fc.assert(
    fc.property(node, fc.subarray([...Array(100).keys()]), (item, own) => {
      fc.pre(isActive(item, context));
      const person = { tags: new Set(own), tagPutOn: new Map<number, number>() };
      const is = (one: RuleNode): boolean => holds(one, person, context);
      expect(conditions(negated(item))).toEqual(conditions(item));
      expect(is(negated(item))).toBe(!is(item));
      expect(is(negated(negated(item)))).toBe(is(item));
    }),
  );
});
