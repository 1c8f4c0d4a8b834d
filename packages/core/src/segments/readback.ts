// The rule in plain words, each clause with the place it comes from.
import { kindOf } from './conditions/index.js';
import type { Phrase, RuleContext } from './conditions/kind.js';
import { isActive, isGroup, type Group, type Rule, type RuleNode } from './rule.js';

/** The parts that take part in the sifting, with their places. */
const active = (group: Group, context: RuleContext): { item: RuleNode; at: number }[] =>
  group.items.flatMap((item, at) => (isActive(item, context) ? [{ item, at }] : []));

export function readback(rule: Rule, context: RuleContext): readonly Phrase[] {
  const { root } = rule;
  const first = root.off ? undefined : active(root, context)[0]?.item;
  if (!first) return [{ text: 'Nobody yet: the rule asks for nothing.' }];
  const beginsWithout =
    root.of === 'none' || (root.of === 'all' && isGroup(first) && first.of === 'none');
  return [
    { text: beginsWithout ? 'Everybody, but ' : 'People ' },
    ...groupPhrases(root, context, '', 0),
    { text: '.' },
  ];
}

/** Stands in brackets, on lines of its own. */
const standsApart = (item: RuleNode, context: RuleContext): boolean =>
  isGroup(item) && item.of !== 'none' && active(item, context).length > 1;

function groupPhrases(
  group: Group,
  context: RuleContext,
  path: string,
  depth: number,
): readonly Phrase[] {
  const parts = active(group, context);
  const own = path === '' ? {} : { path };
  const link = (item: RuleNode): string => {
    if (group.of === 'all') return isGroup(item) && item.of === 'none' ? ', but ' : ' and ';
    return group.of === 'any' ? ' or ' : ' or those ';
  };
  const joined = parts.flatMap(({ item, at }, place) => {
    const phrases = partPhrases(item, context, path === '' ? `${at}` : `${path}.${at}`, depth);
    if (place === 0) return phrases;
    const before = parts[place - 1];
    const breaks = before && standsApart(before.item, context);
    return [
      { text: link(item), ...own, ...(breaks ? { breaks: true as const, depth } : {}) },
      ...phrases,
    ];
  });
  return group.of === 'none' ? [{ text: 'not those ', ...own }, ...joined] : joined;
}

function partPhrases(
  item: RuleNode,
  context: RuleContext,
  path: string,
  depth: number,
): readonly Phrase[] {
  if (!isGroup(item))
    return kindOf(item)
      .words(item, context)
      .map((phrase) => ({ ...phrase, path }));
  if (!standsApart(item, context)) return groupPhrases(item, context, path, depth);
  return [
    { text: '(', path, breaks: true, depth: depth + 1 },
    ...groupPhrases(item, context, path, depth + 1),
    { text: ')', path },
  ];
}
