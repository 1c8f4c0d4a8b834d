// Rows of a timeline that stand for a note or a task: what it says is looked up for the rows of one page.
import type { TimelineRow } from '../contacts/index.js';

/** Their keys are a letter and a number. What is gone meanwhile is left out. */
export async function withKept<R extends { readonly id: number }>(
  rows: readonly TimelineRow[],
  kind: 'note' | 'task',
  find: (ids: readonly number[]) => Promise<readonly R[]>,
  reply: (row: R) => object,
): Promise<TimelineRow[]> {
  const idOf = ({ key }: TimelineRow): number => Number(key.slice(1));
  const own = rows.filter((row) => row.kind === kind);
  const found = new Map((await find(own.map(idOf))).map((row) => [row.id, row]));
  return rows.flatMap((row) => {
    if (row.kind !== kind) return [row];
    const kept = found.get(idOf(row));
    return kept ? [{ ...row, more: reply(kept) }] : [];
  });
}
