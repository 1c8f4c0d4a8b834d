// The rule of a segment: a tree of conditions, and everything that can be done with one.
import { fail, ok, type Result } from '../kernel/index.js';
import {
  factsFor,
  kindOf,
  parseCondition,
  type Condition,
  type Person,
} from './conditions/index.js';
import type { FactName, Phrase, RuleContext } from './conditions/kind.js';
import { everybody, join, negate, nobody, type Fragment } from './fragment.js';

export const groupWords = ['all', 'any', 'none'] as const;
export type GroupWord = (typeof groupWords)[number];

export interface Group {
  readonly of: GroupWord;
  readonly items: readonly RuleNode[];
}

export type RuleNode = Group | Condition;

export interface Rule {
  readonly v: 1;
  readonly root: Group;
}

export const emptyRule: Rule = { v: 1, root: { of: 'all', items: [] } };

/** `parts` are conditions and groups together. */
const LIMITS = { depth: 12, parts: 100, weight: 200 } as const;

export const isGroup = (node: RuleNode): node is Group => 'of' in node;

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** Reads a rule from JSON. The error names the place (`condition 2.1`) and what to do. */
export function parseRule(raw: unknown, context: RuleContext): Result<Rule, string> {
  if (!isObject(raw) || raw['v'] !== 1)
    return fail('The rule is not of a version this program knows.');
  let parts = 0;
  const parseNode = (node: unknown, path: string, depth: number): Result<RuleNode, string> => {
    const place = path === '' ? 'the outermost group' : `condition ${path}`;
    if (!isObject(node)) return fail(`In the rule, ${place} is missing.`);
    if (++parts > LIMITS.parts)
      return fail(`The rule has more than ${LIMITS.parts} conditions and groups.`);
    if (depth > LIMITS.depth) return fail(`The rule is nested deeper than ${LIMITS.depth} groups.`);
    if ('of' in node) {
      const of = groupWords.find((word) => word === node['of']);
      if (!of || !Array.isArray(node['items']))
        return fail(`In the rule, ${place} must be “all”, “any” or “none” of a list.`);
      const items: RuleNode[] = [];
      for (const [at, item] of node['items'].entries()) {
        const parsed = parseNode(item, path === '' ? `${at + 1}` : `${path}.${at + 1}`, depth + 1);
        if (!parsed.ok) return parsed;
        items.push(parsed.value);
      }
      return ok({ of, items });
    }
    const parsed = parseCondition(node, context);
    return parsed.ok ? parsed : fail(`In the rule, ${place}: ${parsed.error}`);
  };
  const root = parseNode(raw['root'], '', 0);
  if (!root.ok) return root;
  if (!isGroup(root.value)) return fail('In the rule, the outermost part must be a group.');
  if (weightOf(root.value) > LIMITS.weight)
    return fail(
      `The rule asks for more than ${LIMITS.weight} things. Take some out, or make two segments of it.`,
    );
  return ok({ v: 1, root: root.value });
}

/** How many looks at each contact a rule, or a part of one, takes. */
export const weightOf = (node: RuleNode): number =>
  isGroup(node)
    ? node.items.reduce((sum, item) => sum + weightOf(item), 0)
    : kindOf(node).weight(node);

export const finished = (condition: Condition, context: RuleContext): boolean =>
  kindOf(condition).finished(condition, context);

/** The facts about a person that a rule looks at. */
export function factsOf(node: RuleNode): ReadonlySet<FactName> {
  return new Set(
    isGroup(node) ? node.items.flatMap((item) => [...factsOf(item)]) : kindOf(node).needs,
  );
}

/** Conditions that still lack something, as paths. */
export function unfinished(rule: Rule, context: RuleContext): string[] {
  const found: string[] = [];
  const walk = (node: RuleNode, path: string): void => {
    if (isGroup(node))
      node.items.forEach((item, at) => walk(item, path === '' ? `${at}` : `${path}.${at}`));
    else if (!finished(node, context)) found.push(path);
  };
  walk(rule.root, '');
  return found;
}

/** What takes part in the sifting: finished conditions, and groups that still hold one or were empty from the start. */
const active = (group: Group, context: RuleContext): readonly RuleNode[] =>
  group.items.filter((item) =>
    isGroup(item)
      ? item.items.length === 0 || active(item, context).length > 0
      : finished(item, context),
  );

/**
 * A node as SQL over the logical sources. Empty *all of* is everybody, empty *any of* nobody, empty
 * *none of* everybody.
 */
export function compile(node: RuleNode, context: RuleContext): Fragment {
  if (!isGroup(node))
    return finished(node, context) ? kindOf(node).compile(node, context) : everybody;
  const parts = active(node, context).map((item) => compile(item, context));
  switch (node.of) {
    case 'all':
      return parts.length === 0 ? everybody : join(parts, ' and ');
    case 'any':
      return parts.length > 0 ? join(parts, ' or ') : node.items.length === 0 ? nobody : everybody;
    case 'none':
      return parts.length === 0 ? everybody : negate(join(parts, ' or '));
  }
}

/** The same decision for one loaded person. */
export function holds(node: RuleNode, person: Person, context: RuleContext): boolean {
  if (!isGroup(node))
    return !finished(node, context) || kindOf(node).holds(node, factsFor(node, person), context);
  const parts = active(node, context);
  switch (node.of) {
    case 'all':
      return parts.every((item) => holds(item, person, context));
    case 'any':
      return parts.length > 0
        ? parts.some((item) => holds(item, person, context))
        : node.items.length > 0;
    case 'none':
      return !parts.some((item) => holds(item, person, context));
  }
}

export interface Trace {
  readonly path: string;
  readonly holds: boolean;
  readonly items?: readonly Trace[];
}

/** Why a person is in or out: which part holds, down to each condition. */
export function trace(node: RuleNode, person: Person, context: RuleContext, path = ''): Trace {
  const own = holds(node, person, context);
  if (!isGroup(node)) return { path, holds: own };
  return {
    path,
    holds: own,
    items: node.items.map((item, at) =>
      trace(item, person, context, path === '' ? `${at}` : `${path}.${at}`),
    ),
  };
}

/** The rule in plain words. */
export function readback(rule: Rule, context: RuleContext): readonly Phrase[] {
  const { of, items } = rule.root;
  const parts = active(rule.root, context);
  if (parts.length === 0)
    return [
      { text: of === 'any' && items.length === 0 ? 'Nobody: any of no conditions' : 'Everybody' },
      { text: '.' },
    ];
  const first = parts[0];
  const beginsWithout =
    of === 'none' || (of === 'all' && first !== undefined && isGroup(first) && first.of === 'none');
  return [
    { text: beginsWithout ? 'Everybody, but ' : 'People ' },
    ...groupPhrases(rule.root, context, ''),
    { text: '.' },
  ];
}

function groupPhrases(group: Group, context: RuleContext, path: string): readonly Phrase[] {
  const parts = active(group, context);
  const inner = parts.map((item) => {
    const at = group.items.indexOf(item);
    const place = path === '' ? `${at}` : `${path}.${at}`;
    if (!isGroup(item))
      return kindOf(item)
        .words(item, context)
        .map((phrase) => ({
          ...phrase,
          path: place,
        }));
    if (item.items.length === 0)
      return [{ text: item.of === 'any' ? 'who are nobody' : 'whoever they are', path: place }];
    const words = groupPhrases(item, context, place);
    return item.of === 'none' || active(item, context).length === 1
      ? words
      : [{ text: '(' }, ...words, { text: ')' }];
  });
  const isWithout = (at: number): boolean => {
    const item = parts[at];
    return item !== undefined && isGroup(item) && item.of === 'none' && item.items.length > 0;
  };
  const link = (at: number): string =>
    group.of === 'all'
      ? isWithout(at)
        ? ', but '
        : ' and '
      : group.of === 'any'
        ? ' or '
        : ' or those ';
  const joined = inner.flatMap((phrases, at) =>
    at === 0 ? phrases : [{ text: link(at) }, ...phrases],
  );
  return group.of === 'none' ? [{ text: 'not those ' }, ...joined] : joined;
}
