// A rule that names another tag in the place of one, or none.
import type { TagId } from '../contacts/index.js';
import { isGroup, type Rule, type RuleNode } from './rule.js';

/**
 * The rule with a tag that goes taken out, or with `into` in its place; the same object where it does not name it. A
 * condition that named nothing else stays, unfinished: it sifts nobody, and the rule is not sent by before somebody has
 * looked at it.
 */
export function withoutTag(rule: Rule, tag: TagId, into?: TagId): Rule {
  const walk = <N extends RuleNode>(node: N): N => {
    if (isGroup(node)) {
      const items = node.items.map(walk);
      return items.some((item, at) => item !== node.items[at]) ? { ...node, items } : node;
    }
    if ((node.kind !== 'tag' && node.kind !== 'since') || !node.tags?.includes(tag)) return node;
    const others = node.tags.flatMap((one) => (one === tag ? (into ?? []) : [one]));
    return { ...node, tags: [...new Set(others)] };
  };
  const root = walk(rule.root);
  return root === rule.root ? rule : { ...rule, root };
}
