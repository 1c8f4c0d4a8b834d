// All numbers beside a rule from one look at everybody: which conditions hold for how many. What is left after each part,
// and what another choice would give, is worked out from these counts alone.
import type { Condition } from './conditions/index.js';
import type { RuleContext } from './conditions/kind.js';
import { isActive, isGroup, type Group, type GroupWord, type RuleNode } from './rule.js';

/** So many conditions are told in one whole number, one bit each. */
export const BITS = 30;

/** How many people there are for whom just these conditions hold: bit `n % BITS` of word `n / BITS` is of condition `n`. */
export interface HeldBy {
  readonly words: readonly number[];
  readonly count: number;
}

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

/** The conditions that take part in the sifting, in the order of their bits. */
export function leavesOf(root: Group, context: RuleContext): readonly Leaf[] {
  const walk = (node: RuleNode, path: string): Leaf[] => {
    if (!isActive(node, context)) return [];
    if (!isGroup(node)) return [{ path, condition: node }];
    return node.items.flatMap((item, at) => walk(item, under(path, at)));
  };
  return walk(root, '');
}

const under = (path: string, at: number): string => (path === '' ? `${at}` : `${path}.${at}`);

/** A rule whose conditions are places of bits; what takes no part is left out. */
type Sieve = { readonly path: string; readonly bit: number } | SieveGroup;
interface SieveGroup {
  readonly path: string;
  readonly of: GroupWord;
  readonly items: readonly Sieve[];
}

function sieveOf(root: Group, context: RuleContext): SieveGroup {
  let bit = 0;
  const walk = (node: RuleNode, path: string): Sieve =>
    isGroup(node)
      ? {
          path,
          of: node.of,
          items: node.items.flatMap((item, at) =>
            isActive(item, context) ? [walk(item, under(path, at))] : [],
          ),
        }
      : { path, bit: bit++ };
  return walk(root, '') as SieveGroup;
}

const holdsBit = (words: readonly number[], bit: number): boolean =>
  (((words[Math.floor(bit / BITS)] ?? 0) >>> (bit % BITS)) & 1) === 1;

function passes(sieve: Sieve, words: readonly number[]): boolean {
  if ('bit' in sieve) return holdsBit(words, sieve.bit);
  const one = (item: Sieve): boolean => passes(item, words);
  switch (sieve.of) {
    case 'all':
      return sieve.items.every(one);
    case 'any':
      return sieve.items.some(one);
    case 'none':
      return !sieve.items.some(one);
  }
}

/** Counts that grow as stretches of people are added. */
export class Sifter {
  private readonly sieve: SieveGroup;
  private readonly isAsking: boolean;
  private readonly parts: readonly Sieve[];
  private readonly others: readonly { path: string; change: WhatIf['change']; sieve: SieveGroup }[];
  private count = 0;
  private everybody = 0;
  private readonly alone = new Map<string, number>();
  private readonly came = new Map<string, number>();
  private readonly left = new Map<string, number>();
  private readonly otherwise: number[];

  constructor(root: Group, context: RuleContext) {
    this.isAsking = isActive(root, context);
    this.sieve = this.isAsking ? sieveOf(root, context) : { path: '', of: 'all', items: [] };
    this.parts = partsOf(this.sieve);
    this.others = this.parts.length <= WHAT_IF_PARTS ? otherChoices(this.sieve) : [];
    this.otherwise = this.others.map(() => 0);
  }

  add(held: readonly HeldBy[]): void {
    for (const one of held) this.addOne(one);
  }

  private addOne({ words, count }: HeldBy): void {
    this.everybody += count;
    if (!this.isAsking) return;
    if (passes(this.sieve, words)) this.count += count;
    for (const part of this.parts) if (passes(part, words)) grow(this.alone, part.path, count);
    this.walk(this.sieve, words, count);
    this.others.forEach(({ sieve }, at) => {
      if (passes(sieve, words)) this.otherwise[at] = (this.otherwise[at] ?? 0) + count;
    });
  }

  /** Goes with some people through the parts of a group. */
  private walk({ of, items }: SieveGroup, words: readonly number[], count: number): void {
    /** Whether they are in behind the parts so far. */
    let isIn = of !== 'any';
    for (const item of items) {
      // To an “any of” those come that were not gathered yet; else those that are still in.
      const comes = of === 'any' ? !isIn : isIn;
      if (comes) {
        grow(this.came, item.path, count);
        if (!('bit' in item)) this.walk(item, words, count);
        const holds = passes(item, words);
        isIn = of === 'none' ? !holds : holds;
      }
      if (isIn) grow(this.left, item.path, count);
    }
  }

  result(): Sifted {
    const steps = this.parts.map(({ path }) => ({
      path,
      came: this.came.get(path) ?? 0,
      left: this.left.get(path) ?? 0,
    }));
    return {
      count: this.count,
      everybody: this.everybody,
      alone: Object.fromEntries(this.parts.map(({ path }) => [path, this.alone.get(path) ?? 0])),
      steps,
      whatIf: this.others.map(({ path, change }, at) => ({
        path,
        change,
        count: this.otherwise[at] ?? 0,
      })),
    };
  }
}

const grow = (counts: Map<string, number>, path: string, by: number): void => {
  counts.set(path, (counts.get(path) ?? 0) + by);
};

/** Every part below a group, in the order in which it is read. */
const partsOf = ({ items }: SieveGroup): readonly Sieve[] =>
  items.flatMap((item) => ('bit' in item ? [item] : [item, ...partsOf(item)]));

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
      if (!('bit' in item)) walk(item, (next) => put({ ...group, items: items.with(at, next) }));
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
