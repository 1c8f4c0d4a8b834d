// Who a campaign is for: segments, tags and people chosen in a list, minus others.
import { fail, ok, type Result } from '../kernel/index.js';

export const whoKinds = ['segment', 'tag', 'people'] as const;
export type WhoKind = (typeof whoKinds)[number];

export interface WhoRef {
  readonly kind: WhoKind;
  readonly id: number;
}

export interface Who {
  readonly to: readonly WhoRef[];
  readonly notTo: readonly WhoRef[];
}

/** A segment or tag as a key of a table of them. */
export const whoKey = ({ kind, id }: WhoRef): string => `${kind}.${id}`;

export const nobodyYet: Who = { to: [], notTo: [] };

export const sameWho = (a: WhoRef, b: WhoRef): boolean => a.kind === b.kind && a.id === b.id;

export function parseWho(raw: unknown): Result<Who, string> {
  if (typeof raw !== 'object' || raw === null)
    return fail('“Who” must say to whom and not to whom.');
  const { to, notTo } = raw as Record<string, unknown>;
  const list = (value: unknown): WhoRef[] | undefined => {
    if (!Array.isArray(value) || value.length > 50) return undefined;
    const refs = value.map((one: unknown): WhoRef | undefined => {
      const { kind, id } = (one ?? {}) as Record<string, unknown>;
      const known = whoKinds.find((word) => word === kind);
      return known && typeof id === 'number' && Number.isInteger(id) && id > 0 && id < 2 ** 31
        ? { kind: known, id }
        : undefined;
    });
    if (refs.some((ref) => ref === undefined)) return undefined;
    return (refs as WhoRef[]).filter(
      (ref, at, all) => all.findIndex((other) => sameWho(other, ref)) === at,
    );
  };
  const parsed = { to: list(to), notTo: list(notTo) };
  return parsed.to && parsed.notTo
    ? ok({ to: parsed.to, notTo: parsed.notTo })
    : fail('“Who” takes up to 50 segments and tags on each side.');
}

/** “Who” with a tag that goes taken out, or with `into` in its place; the same object where it does not name it. */
export function whoWithoutTag(who: Who, tag: number, into?: number): Who {
  const gone: WhoRef = { kind: 'tag', id: tag };
  const names = (refs: readonly WhoRef[]): boolean => refs.some((ref) => sameWho(ref, gone));
  if (!names(who.to) && !names(who.notTo)) return who;
  const without = (refs: readonly WhoRef[]): WhoRef[] =>
    refs
      .flatMap((ref): WhoRef[] =>
        !sameWho(ref, gone) ? [ref] : into === undefined ? [] : [{ kind: 'tag', id: into }],
      )
      .filter((ref, at, all) => all.findIndex((other) => sameWho(other, ref)) === at);
  return { to: without(who.to), notTo: without(who.notTo) };
}
