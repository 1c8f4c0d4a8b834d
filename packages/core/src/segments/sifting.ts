// All numbers beside a rule from one look at everybody: for whom each condition holds. What is left after each part, and
// what another choice would give, is worked out from these sets alone.
import type { Condition } from './conditions/index.js';
import type { RuleContext } from './conditions/kind.js';
import { KeySet } from './key-set.js';
import {
  findsAnybody,
  isActive,
  isGroup,
  type Group,
  type GroupWord,
  type RuleNode,
} from './rule.js';

export interface Step {
  readonly path: string;
  /** How many come to this part. */
  readonly came: number;
  /** How many are in behind it: left of an “all of”, gathered so far by an “any of”, not left out by a “none of”. */
  readonly left: number;
}

export interface WhatIf {
  readonly path: string;
  /** The group with its other word, or the part not asked. */
  readonly change: 'all' | 'any' | 'without';
  readonly count: number;
}

export interface Sifted {
  readonly count: number;
  readonly everybody: number;
  /** How many each active part holds for by itself, by its path. */
  readonly alone: Readonly<Record<string, number>>;
  /** Every active part but the outermost group, in the order in which they are read. */
  readonly steps: readonly Step[];
  readonly whatIf: readonly WhatIf[];
}

/** From so many parts on no other choices are counted: nobody reads them. */
export const WHAT_IF_PARTS = 40;

interface Leaf {
  readonly path: string;
  readonly condition: Condition;
}

/** The conditions that take part in the sifting, in the order in which they are read. */
export function leavesOf(root: Group, context: RuleContext): readonly Leaf[] {
  const walk = (node: RuleNode, path: string): Leaf[] => {
    if (!isActive(node, context)) return [];
    if (!isGroup(node)) return [{ path, condition: node }];
    return node.items.flatMap((item, at) => walk(item, under(path, at)));
  };
  return walk(root, '');
}

const under = (path: string, at: number): string => (path === '' ? `${at}` : `${path}.${at}`);

/** A rule with those for whom each condition holds; what takes no part is left out. */
type Sieve = { readonly path: string; readonly held: KeySet } | SieveGroup;
interface SieveGroup {
  readonly path: string;
  readonly of: GroupWord;
  readonly items: readonly Sieve[];
}

/** @param held For whom each of `leavesOf` holds. */
function sieveOf(root: Group, held: readonly KeySet[], context: RuleContext): SieveGroup {
  const left = held.values();
  const walk = (node: RuleNode, path: string): Sieve =>
    isGroup(node)
      ? {
          path,
          of: node.of,
          items: node.items.flatMap((item, at) =>
            isActive(item, context) ? [walk(item, under(path, at))] : [],
          ),
        }
      : { path, held: left.next().value ?? KeySet.empty };
  return walk(root, '') as SieveGroup;
}

/** Those of some people for whom a part holds. */
function passing(sieve: Sieve, people: KeySet): KeySet {
  if ('held' in sieve) return people.and(sieve.held);
  const one = (among: KeySet, item: Sieve): KeySet => passing(item, among);
  switch (sieve.of) {
    case 'all':
      return sieve.items.reduce(one, people);
    case 'any':
      return people.without(failing(sieve.items, people));
    case 'none':
      return failing(sieve.items, people);
  }
}

/** Those for whom none of some parts holds. */
const failing = (items: readonly Sieve[], people: KeySet): KeySet =>
  items.reduce((left, item) => left.without(passing(item, left)), people);

/** Whom a rule finds among some people. @param held For whom each of `leavesOf` holds. */
export const found = (
  root: Group,
  held: readonly KeySet[],
  people: KeySet,
  context: RuleContext,
): KeySet =>
  findsAnybody(root, context) ? passing(sieveOf(root, held, context), people) : KeySet.empty;

/** The numbers beside a rule. @param held For whom each of `leavesOf` holds. */
export function sift(
  root: Group,
  held: readonly KeySet[],
  people: KeySet,
  context: RuleContext,
): Sifted {
  const everybody = people.size;
  if (!isActive(root, context)) return { count: 0, everybody, alone: {}, steps: [], whatIf: [] };
  const sieve = sieveOf(root, held, context);
  const parts = partsOf(sieve);
  const isSure = findsAnybody(root, context);
  const others = isSure && parts.length <= WHAT_IF_PARTS ? otherChoices(sieve) : [];
  return {
    count: isSure ? passing(sieve, people).size : 0,
    everybody,
    alone: Object.fromEntries(parts.map((part) => [part.path, passing(part, people).size])),
    steps: stepsOf(sieve, people),
    whatIf: others.map(({ path, change, sieve: other }) => ({
      path,
      change,
      count: passing(other, people).size,
    })),
  };
}

/** Goes with some people through the parts of a group. */
function stepsOf({ of, items }: SieveGroup, people: KeySet): Step[] {
  /** Who is in behind the parts so far. */
  let isIn = of === 'any' ? KeySet.empty : people;
  return items.flatMap((item) => {
    // To an “any of” those come that were not gathered yet; else those that are still in.
    const came = of === 'any' ? people.without(isIn) : isIn;
    const holding = passing(item, came);
    isIn = of === 'any' ? isIn.or(holding) : of === 'none' ? came.without(holding) : holding;
    const step = { path: item.path, came: came.size, left: isIn.size };
    return 'held' in item ? [step] : [step, ...stepsOf(item, came)];
  });
}

/** Every part below a group, in the order in which it is read. */
const partsOf = ({ items }: SieveGroup): readonly Sieve[] =>
  items.flatMap((item) => ('held' in item ? [item] : [item, ...partsOf(item)]));

/** The whole with one part changed: each group's other word, and each part left out where something is left then. */
function otherChoices(
  root: SieveGroup,
): { path: string; change: WhatIf['change']; sieve: SieveGroup }[] {
  const found: { path: string; change: WhatIf['change']; sieve: SieveGroup }[] = [];
  const walk = (group: SieveGroup, put: (next: SieveGroup) => SieveGroup): void => {
    const { of, items, path } = group;
    if (of !== 'none' && items.length > 1) {
      const other = of === 'all' ? 'any' : 'all';
      found.push({ path, change: other, sieve: put({ ...group, of: other }) });
    }
    items.forEach((item, at) => {
      if (items.length > 1)
        found.push({
          path: item.path,
          change: 'without',
          sieve: put({ ...group, items: items.toSpliced(at, 1) }),
        });
      if (!('held' in item)) walk(item, (next) => put({ ...group, items: items.with(at, next) }));
    });
  };
  walk(root, (next) => next);
  return found;
}

/** Whether another choice makes so much of a difference that it should be looked at: a tenth, and more than a few. */
export const differsByMuch = (count: number, other: number): boolean =>
  Math.abs(other - count) >= Math.max(5, count / 10);

/**
 * Who falls out at a part (or is gathered by it, in an “any of”), as a rule: those who come to it and are not in behind it
 * (or are). Undefined for the outermost group.
 */
export function changedAt(root: Group, path: string, context: RuleContext): Group | undefined {
  const places = path.split('.').map(Number);
  const own = places.at(-1);
  if (path === '' || own === undefined) return undefined;
  const arriving: RuleNode[] = [];
  let group = root;
  for (const [level, place] of places.entries()) {
    const before = group.items.slice(0, place).filter((item) => isActive(item, context));
    if (before.length > 0)
      arriving.push(
        group.of === 'all' ? { of: 'all', items: before } : { of: 'none', items: before },
      );
    const next = group.items[place];
    if (!next) return undefined;
    if (level === places.length - 1) {
      const falls: RuleNode = group.of === 'all' ? { of: 'none', items: [next] } : next;
      return { of: 'all', items: [...arriving, falls] };
    }
    if (!isGroup(next)) return undefined;
    group = next;
  }
  return undefined;
}

/** Those who are in behind a part, as a rule: the people of its bar. */
export function leftAfter(root: Group, path: string, context: RuleContext): Group | undefined {
  const places = path.split('.').map(Number);
  const arriving: RuleNode[] = [];
  let group = root;
  for (const [level, place] of places.entries()) {
    const isLast = level === places.length - 1;
    const upTo = group.items
      .slice(0, isLast ? place + 1 : place)
      .filter((item) => isActive(item, context));
    if (isLast) return { of: 'all', items: [...arriving, { of: group.of, items: upTo }] };
    if (upTo.length > 0)
      arriving.push(group.of === 'all' ? { of: 'all', items: upTo } : { of: 'none', items: upTo });
    const next = group.items[place];
    if (!next || !isGroup(next)) return undefined;
    group = next;
  }
  return undefined;
}

/** What is switched off, as paths: a draft that holds some is not used by mistake. */
export function switchedOff(root: Group): readonly string[] {
  const walk = (node: RuleNode, path: string): string[] => [
    ...(node.off ? [path] : []),
    ...(isGroup(node) && !node.off
      ? node.items.flatMap((item, at) => walk(item, under(path, at)))
      : []),
  ];
  return walk(root, '');
}
