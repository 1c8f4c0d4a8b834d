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
    ...groupPhrases(root, context, ''),
    { text: '.' },
  ];
}

function groupPhrases(group: Group, context: RuleContext, path: string): readonly Phrase[] {
  const parts = active(group, context);
  const link = (item: RuleNode): string => {
    if (group.of === 'all') return isGroup(item) && item.of === 'none' ? ', but ' : ' and ';
    return group.of === 'any' ? ' or ' : ' or those ';
  };
  const joined = parts.flatMap(({ item, at }, place) => {
    const phrases = partPhrases(item, context, path === '' ? `${at}` : `${path}.${at}`);
    return place === 0 ? phrases : [{ text: link(item) }, ...phrases];
  });
  return group.of === 'none' ? [{ text: 'not those ' }, ...joined] : joined;
}

function partPhrases(item: RuleNode, context: RuleContext, path: string): readonly Phrase[] {
  if (!isGroup(item))
    return kindOf(item)
      .words(item, context)
      .map((phrase) => ({ ...phrase, path }));
  const words = groupPhrases(item, context, path);
  return item.of === 'none' || active(item, context).length === 1
    ? words
    : [{ text: '(' }, ...words, { text: ')' }];
}
