// The rule of a segment: a tree of conditions, and everything that can be done with one.
import { fail, ok, type Result } from '../kernel/index.js';
import {
  factsFor,
  kindOf,
  parseCondition,
  type Condition,
  type Person,
} from './conditions/index.js';
import type { FactName, RuleContext } from './conditions/kind.js';
import { everybody, join, negate, nobody, oneByOne, type Fragment } from './fragment.js';

export const groupWords = ['all', 'any', 'none'] as const;
export type GroupWord = (typeof groupWords)[number];

export interface Group {
  readonly of: GroupWord;
  readonly items: readonly RuleNode[];
  /** Kept, and not asked. */
  readonly off?: true;
  /** Shown as one line. */
  readonly folded?: true;
}

export type RuleNode = Group | Condition;

export interface Rule {
  readonly v: 1;
  readonly root: Group;
}

/** Nobody chosen yet. */
export const emptyRule: Rule = { v: 1, root: { of: 'all', items: [] } };

/**
 * `depth` is of groups in groups; `reached` of conditions with those of the segments that are asked for; `weight` of looks at
 * each contact, of what is written anew; `size` of its JSON, in signs.
 */
export const RULE_LIMITS = {
  depth: 12,
  conditions: 200,
  groups: 200,
  reached: 400,
  weight: 400,
  size: 1_000_000,
} as const;

export const isGroup = (node: RuleNode): node is Group => 'of' in node;

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** Reads a rule from JSON. The error names the place (`condition 2.1`) and what to do. */
export function parseRule(raw: unknown, context: RuleContext): Result<Rule, string> {
  if (!isObject(raw) || raw['v'] !== 1)
    return fail('The rule is not of a version this program knows.');
  const left = { conditions: RULE_LIMITS.conditions, groups: RULE_LIMITS.groups };
  const parseNode = (node: unknown, path: string, depth: number): Result<RuleNode, string> => {
    const place = path === '' ? 'the outermost group' : `condition ${path}`;
    if (!isObject(node)) return fail(`In the rule, ${place} is missing.`);
    const part = 'of' in node ? 'groups' : 'conditions';
    if (--left[part] < 0) return fail(`The rule has more than ${RULE_LIMITS[part]} ${part}.`);
    if (!('of' in node)) {
      const parsed = parseCondition(node, context);
      return parsed.ok ? parsed : fail(`In the rule, ${place}: ${parsed.error}`);
    }
    if (depth > RULE_LIMITS.depth)
      return fail(`The rule is nested deeper than ${RULE_LIMITS.depth} groups.`);
    const of = groupWords.find((word) => word === node['of']);
    if (!of || !Array.isArray(node['items']))
      return fail(`In the rule, ${place} must be “all”, “any” or “none” of a list.`);
    const items: RuleNode[] = [];
    for (const [at, item] of node['items'].entries()) {
      const parsed = parseNode(item, path === '' ? `${at + 1}` : `${path}.${at + 1}`, depth + 1);
      if (!parsed.ok) return parsed;
      items.push(parsed.value);
    }
    return ok({
      of,
      items,
      ...(node['off'] === true ? { off: true as const } : {}),
      ...(node['folded'] === true ? { folded: true as const } : {}),
    });
  };
  const root = parseNode(raw['root'], '', 1);
  if (!root.ok) return root;
  if (!isGroup(root.value)) return fail('In the rule, the outermost part must be a group.');
  if (reachedBy(root.value, context) > RULE_LIMITS.reached)
    return fail(
      `The rule and the segments that it asks for have more than ${RULE_LIMITS.reached} conditions. Take some out, or make two segments of it.`,
    );
  return ok({ v: 1, root: root.value });
}

/** How many conditions a rule, or a part of one, has, with those of the segments that it asks for. */
export const reachedBy = (node: RuleNode, context: RuleContext): number =>
  isGroup(node)
    ? node.items.reduce((sum, item) => sum + reachedBy(item, context), 0)
    : 1 + (kindOf(node).reaches?.(node, context) ?? 0);

/** Why a rule is too heavy to be written; undefined where it is not. One that was written before there was a price stays in use. */
export const tooHeavy = ({ root }: Rule, context: RuleContext): string | undefined =>
  weightOf(root, context) > RULE_LIMITS.weight
    ? `The rule takes more than ${RULE_LIMITS.weight} looks at each contact: one for most conditions, as many as a segment that it asks for takes, and more for long texts. Take some out, or make two segments of it.`
    : undefined;

/** How many looks at each contact a rule, or a part of one, takes. */
export const weightOf = (node: RuleNode, context: RuleContext): number =>
  isGroup(node)
    ? node.items.reduce((sum, item) => sum + weightOf(item, context), 0)
    : kindOf(node).weight(node, context);

export const finished = (condition: Condition, context: RuleContext): boolean =>
  kindOf(condition).finished(condition, context);

/** The facts about a person that a rule looks at. */
export function factsOf(node: RuleNode, context: RuleContext): ReadonlySet<FactName> {
  return new Set(
    isGroup(node)
      ? node.items.flatMap((item) => [...factsOf(item, context)])
      : kindOf(node).needs(node, context),
  );
}

/** Whether a part takes part in the sifting: it is not switched off, and is finished or holds something that is. */
export const isActive = (node: RuleNode, context: RuleContext): boolean =>
  !node.off &&
  (isGroup(node) ? node.items.some((item) => isActive(item, context)) : finished(node, context));

const activeItems = (group: Group, context: RuleContext): readonly RuleNode[] =>
  group.items.filter((item) => isActive(item, context));

/**
 * What still lacks something, as paths: conditions, and groups without any; `''` where the whole rule asks for
 * nobody yet. What is switched off lacks nothing.
 */
export function unfinished(rule: Rule, context: RuleContext): string[] {
  const found: string[] = [];
  const walk = (node: RuleNode, path: string): void => {
    if (node.off) return;
    if (!isGroup(node)) {
      if (!finished(node, context)) found.push(path);
    } else if (node.items.length === 0 && path !== '') found.push(path);
    else node.items.forEach((item, at) => walk(item, path === '' ? `${at}` : `${path}.${at}`));
  };
  walk(rule.root, '');
  return isActive(rule.root, context) ? found : ['', ...found];
}

/** Whether something that a part names has lost its meaning. What is switched off is not asked. */
const isLost = (node: RuleNode, context: RuleContext): boolean =>
  !node.off &&
  (isGroup(node)
    ? node.items.some((item) => isLost(item, context))
    : (kindOf(node).lost?.(node, context) ?? false));

/** Whether a rule can find anybody: it asks for something, and knows what of all of it. */
export const findsAnybody = (root: Group, context: RuleContext): boolean =>
  isActive(root, context) && !isLost(root, context);

/** A rule as SQL over the logical sources; one that asks for nothing, or does not know what, is nobody. */
export const compileRule = ({ root }: Rule, context: RuleContext): Fragment =>
  findsAnybody(root, context) ? compile(root, context) : nobody;

/** From so many parts on a database guesses wrongly how many are left after each, and looks people up one by one. */
const MANY = 3;

/** A part of a rule as SQL; one that takes no part in the sifting leaves everybody. */
export function compile(node: RuleNode, context: RuleContext): Fragment {
  if (!isActive(node, context)) return everybody;
  if (!isGroup(node)) return kindOf(node).compile(node, context);
  // A database that asks one after another asks the light ones first.
  const parts = [...activeItems(node, context)]
    .sort((a, b) => weightOf(a, context) - weightOf(b, context))
    .map((item) => compile(item, context));
  switch (node.of) {
    case 'all':
      return join(parts.length < MANY ? parts : parts.map(oneByOne), ' and ');
    case 'any':
      return join(parts, ' or ');
    case 'none':
      return negate(join(parts, ' or '));
  }
}

/** Whether a rule finds one loaded person. */
export const finds = ({ root }: Rule, person: Person, context: RuleContext): boolean =>
  findsAnybody(root, context) && holds(root, person, context);

/** The same decision as `compile` for one loaded person. */
export function holds(node: RuleNode, person: Person, context: RuleContext): boolean {
  if (!isActive(node, context)) return true;
  if (!isGroup(node)) return kindOf(node).holds(node, factsFor(node, person, context), context);
  const parts = activeItems(node, context);
  const one = (item: RuleNode): boolean => holds(item, person, context);
  switch (node.of) {
    case 'all':
      return parts.every(one);
    case 'any':
      return parts.some(one);
    case 'none':
      return !parts.some(one);
  }
}

export interface Trace {
  readonly path: string;
  readonly holds: boolean;
  /** What of the person a condition looked at, in words; not of one that asks nothing. */
  readonly saw?: string;
  readonly items?: readonly Trace[];
}

/** Why a person is in or out: which part holds, down to each condition. */
export function trace(node: RuleNode, person: Person, context: RuleContext, path = ''): Trace {
  const own = holds(node, person, context);
  if (!isGroup(node))
    return isActive(node, context)
      ? { path, holds: own, saw: kindOf(node).saw(node, factsFor(node, person, context), context) }
      : { path, holds: own };
  return {
    path,
    holds: own,
    items: node.items.map((item, at) =>
      trace(item, person, context, path === '' ? `${at}` : `${path}.${at}`),
    ),
  };
}
