// Segments in the rules of others: read for them, and followed where they lead.
import type { ReadSegment, RuleContext } from './conditions/kind.js';
import {
  compileRule,
  factsOf,
  finds,
  isGroup,
  parseRule,
  unfinished,
  weightOf,
  type Rule,
  type RuleNode,
} from './rule.js';

/** Reads a rule in force, as it is stored; undefined where it can't be used as it stands: then nobody is sifted by it. */
export const reader =
  (stored: unknown) =>
  (context: RuleContext): ReadSegment | undefined => {
    const rule = parseRule(stored, context);
    if (!rule.ok || unfinished(rule.value, context).length > 0) return undefined;
    return {
      people: compileRule(rule.value, context),
      needs: [...factsOf(rule.value.root, context)],
      weight: weightOf(rule.value.root, context),
      finds: (person) => finds(rule.value, person, context),
    };
  };

/** The segments that a rule asks for itself, each once. */
export function segmentsIn(rule: Rule): readonly number[] {
  const walk = (node: RuleNode): number[] => {
    if (isGroup(node)) return node.items.flatMap(walk);
    return node.kind === 'segment' && node.segment !== undefined ? [node.segment] : [];
  };
  return [...new Set(walk(rule.root))];
}

/**
 * The way on which a rule of segment `own` would come back to it, by the keys on it: `[own, …, own]`; undefined where it
 * does not. `asks` says which segments the rule in force of another one asks for.
 */
export function circleOf(
  own: number,
  rule: Rule,
  asks: (segment: number) => readonly number[],
): readonly number[] | undefined {
  const seen = new Set<number>();
  const walk = (at: number, way: readonly number[]): readonly number[] | undefined => {
    if (at === own) return [...way, own];
    if (seen.has(at)) return undefined;
    seen.add(at);
    for (const next of asks(at)) {
      const found = walk(next, [...way, at]);
      if (found) return found;
    }
    return undefined;
  };
  for (const first of segmentsIn(rule)) {
    const found = walk(first, [own]);
    if (found) return found;
  }
  return undefined;
}
