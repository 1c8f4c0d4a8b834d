// Segments in the rules of others: read for them, and followed where they lead.
import type { ReadSegment, RuleContext } from './conditions/kind.js';
import {
  compileRule,
  factsOf,
  finds,
  isGroup,
  parseRule,
  reachedBy,
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
      reached: reachedBy(rule.value.root, context),
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

const isKey = (raw: unknown): raw is number =>
  typeof raw === 'number' && Number.isInteger(raw) && raw > 0 && raw < 2 ** 31;

/** The segments that anything stored or received asks for: rules, parts of rules, several of them. Each once. */
export function segmentsNamed(raw: unknown): readonly number[] {
  const found = new Set<number>();
  const left: unknown[] = [raw];
  while (left.length > 0) {
    const one = left.pop();
    if (typeof one !== 'object' || one === null) continue;
    if (!Array.isArray(one)) {
      const { kind, segment } = one as { kind?: unknown; segment?: unknown };
      if (kind === 'segment' && isKey(segment)) found.add(segment);
    }
    for (const part of Object.values(one)) if (typeof part === 'object') left.push(part);
  }
  return [...found];
}

/**
 * How deep segments ask for segments behind a rule; 0 where it asks for none. Those in a circle count once. `asks` says
 * which segments the rule in force of another one asks for.
 */
export function segmentDepth(rule: Rule, asks: (segment: number) => readonly number[]): number {
  const known = new Map<number, number>();
  // By levels: a chain may be as long as there are segments.
  const order: number[] = [];
  const seen = new Set<number>();
  const left: { readonly id: number; readonly isDone: boolean }[] = segmentsIn(rule).map((id) => ({
    id,
    isDone: false,
  }));
  for (let one = left.pop(); one; one = left.pop()) {
    if (one.isDone) order.push(one.id);
    else if (!seen.has(one.id)) {
      seen.add(one.id);
      left.push({ id: one.id, isDone: true });
      for (const id of asks(one.id)) if (!seen.has(id)) left.push({ id, isDone: false });
    }
  }
  for (const id of order)
    known.set(id, 1 + Math.max(0, ...asks(id).map((next) => known.get(next) ?? 0)));
  return Math.max(0, ...segmentsIn(rule).map((id) => known.get(id) ?? 0));
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
