// Whom one has chosen: one by one, which stays however the list is narrowed and sorted, or everybody in the list, which
// ends with it.
import type { PersonRow } from '@palabra/contract/contacts';
import { useHotkeys } from '@mantine/hooks';
import { useState } from 'react';
import type { Filter } from './contacts.api';

/** Chosen one by one (with their tags, for untagging), or everybody in the list. */
export type Chosen =
  | { readonly all: false; readonly people: ReadonlyMap<number, readonly number[]> }
  | { readonly all: true };
const nobody: Chosen = { all: false, people: new Map() };

/** Who is meant: single people, or everybody in a list. */
export type Meant = Filter & { readonly ids?: number[] };

export interface Choosing {
  readonly chosen: Chosen;
  readonly has: (row: PersonRow) => boolean;
  readonly toggle: (rows: readonly PersonRow[], on: boolean) => void;
  readonly all: () => void;
  readonly none: () => void;
}

/** `list` names whom the list is narrowed to; `inSight` are rows that stay chosen when one is taken out of everybody. */
export function useChoosing(list: string, inSight: () => readonly PersonRow[]): Choosing {
  const [{ of, chosen }, setState] = useState({ of: list, chosen: nobody });
  const now = of === list || !chosen.all ? chosen : nobody;
  const put = (next: Chosen): void => setState({ of: list, chosen: next });
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
  return {
    chosen: now,
    has: ({ id }) => now.all || now.people.has(id),
    toggle: (rows, on) => {
      const next = new Map(
        now.all
          ? inSight().map((row): [number, readonly number[]] => [row.id, row.tags])
          : now.people,
      );
      for (const row of rows) {
        if (on) next.set(row.id, row.tags);
        else next.delete(row.id);
      }
      put({ all: false, people: next });
    },
    all: () => put({ all: true }),
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
