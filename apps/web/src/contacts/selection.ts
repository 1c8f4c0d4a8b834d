// Whom one has chosen: one by one, or everybody in a list but some. Either stays however the list is narrowed and sorted.
import type { PersonRow } from '@palabra/contract/contacts';
import { useHotkeys } from '@mantine/hooks';
import { useState } from 'react';
import type { Filter } from './contacts.api';

/** Chosen one by one (with their tags, for untagging), or everybody who was in a list, but some. */
export type Chosen =
  | { readonly all: false; readonly people: ReadonlyMap<number, readonly number[]> }
  | {
      readonly all: true;
      readonly of: Filter;
      readonly size: number;
      readonly except: ReadonlySet<number>;
    };
const nobody: Chosen = { all: false, people: new Map() };

/** Who is meant: single people, or everybody in a list but some. */
export type Meant = Filter & { readonly ids?: number[]; readonly except?: number[] };

export const sizeOf = (chosen: Chosen): number =>
  chosen.all ? chosen.size - chosen.except.size : chosen.people.size;

export const meantBy = (chosen: Chosen): Meant =>
  chosen.all
    ? { ...chosen.of, ...(chosen.except.size > 0 ? { except: [...chosen.except] } : {}) }
    : { ids: [...chosen.people.keys()] };

/** Whether whoever is in a list is in another one, because it only asks for more. */
export const isWithin = (inner: Filter, outer: Filter): boolean =>
  Object.entries(outer).every(
    ([key, value]) => value === undefined || inner[key as keyof Filter] === value,
  );

export interface Choosing {
  readonly chosen: Chosen;
  /** `wasIn` says who was in the list of which everybody was chosen, where this one does not tell. */
  readonly has: (row: PersonRow, wasIn: (id: number) => boolean) => boolean;
  readonly toggle: (rows: readonly PersonRow[], on: boolean) => void;
  readonly all: () => void;
  readonly none: () => void;
}

/** `list` is whom the list is narrowed to now, `total` how many they are. */
export function useChoosing(list: Filter, total: number): Choosing {
  const [chosen, put] = useState<Chosen>(nobody);
  useHotkeys([
    [
      'Escape',
      (event) => {
        // In a dialog it closes that.
        if (!(event.target instanceof Element && event.target.closest('[role="dialog"]')))
          put(nobody);
      },
      { preventDefault: false },
    ],
  ]);
  const toggle = (rows: readonly PersonRow[], on: boolean): void => {
    if (chosen.all) {
      const except = new Set(chosen.except);
      for (const { id } of rows) {
        if (on) except.delete(id);
        else except.add(id);
      }
      return put({ ...chosen, except });
    }
    const people = new Map(chosen.people);
    for (const row of rows) {
      if (on) people.set(row.id, row.tags);
      else people.delete(row.id);
    }
    put({ all: false, people });
  };
  return {
    chosen,
    has: ({ id }, wasIn) =>
      chosen.all
        ? !chosen.except.has(id) && (isWithin(list, chosen.of) || wasIn(id))
        : chosen.people.has(id),
    toggle,
    all: () => put({ all: true, of: list, size: total, except: new Set() }),
    none: () => put(nobody),
  };
}

/** How often each tag occurs, the most frequent first. */
export function countTags(
  lists: Iterable<readonly number[]>,
): { readonly id: number; readonly count: number }[] {
  const counts = new Map<number, number>();
  for (const tags of lists) for (const id of tags) counts.set(id, (counts.get(id) ?? 0) + 1);
  return [...counts].map(([id, count]) => ({ id, count })).sort((a, b) => b.count - a.count);
}
