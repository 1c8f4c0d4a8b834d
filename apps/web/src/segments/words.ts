import { beginning } from '@palabra/core/contacts';
import { isGroup, readback, type RuleContext, type RuleNode } from '@palabra/core/segments';

/** In signs: a line, and three lines of the margin. */
const MOST = 60;
export const IN_THE_MARGIN = 120;

/** A part of the rule in a few words. */
export function shortWords(node: RuleNode, context: RuleContext, most = MOST): string {
  const root = isGroup(node) ? node : { of: 'all' as const, items: [node] };
  const text = readback({ v: 1, root }, context)
    .map((phrase) => phrase.text)
    .join('')
    .replace(/^People |^Everybody, but /, '')
    .replace(/\.$/, '');
  return text.length > most ? `${beginning(text, most - 1).trimEnd()}…` : text;
}
