import { isGroup, readback, type RuleContext, type RuleNode } from '@palabra/core/segments';

/** A part of the rule in a few words. */
export function shortWords(node: RuleNode, context: RuleContext): string {
  const root = isGroup(node) ? node : { of: 'all' as const, items: [node] };
  const text = readback({ v: 1, root }, context)
    .map((phrase) => phrase.text)
    .join('')
    .replace(/^People |^Everybody, but /, '')
    .replace(/\.$/, '');
  return text.length > 60 ? `${text.slice(0, 58)}…` : text;
}
