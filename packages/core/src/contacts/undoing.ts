// What somebody is once a change of the log is taken back, or holds again: what all changes that still hold say of them,
// each written over the ones before. So it does not matter in which order changes are taken back.

type Remembered = Readonly<Record<string, unknown>>;

/** What one change remembers of one person; `before` is null where they came in with it. */
export interface LoggedChange {
  /** Later changes have higher numbers. */
  readonly set: number;
  readonly before: Remembered | null;
  readonly after: Remembered;
  readonly isUndone: boolean;
}

/** What a key becomes, and what it has to be now for that: who is anything else was changed past the log. */
export interface Move {
  readonly key: string;
  readonly from: unknown;
  readonly to: unknown;
}

/** Who comes in was not there before, and had none of the tags they came with. */
function whole({ before, after }: LoggedChange): { before: Remembered; after: Remembered } {
  if (before !== null) return { before, after };
  const nothing = Object.fromEntries(Object.keys(after).map((key) => [key, false]));
  return { before: { ...nothing, deleted: true }, after: { ...after, deleted: false } };
}

/** What all that holds says of a key; where none of it does, what was before. Undefined where nothing speaks of it. */
export function said(log: readonly LoggedChange[], key: string): unknown {
  const saying = [...log]
    .sort((a, b) => a.set - b.set)
    .map((one) => ({ ...one, ...whole(one) }))
    .filter(({ after }) => Object.hasOwn(after, key));
  const last = saying.findLast(({ isUndone }) => !isUndone);
  return last ? last.after[key] : saying[0]?.before[key];
}

/**
 * What becomes of a person when one change is taken back (`holds` false), or holds again. `log` is all that is remembered of
 * them, that change among it, whichever way it stands there. What a later change says is as it is, and is none of the moves.
 */
export function movesOf(
  changed: LoggedChange,
  log: readonly LoggedChange[],
  holds: boolean,
): readonly Move[] {
  const others = log
    .filter(({ set }) => set !== changed.set)
    .map((one) => ({ ...one, ...whole(one) }));
  const own = whole(changed);
  return Object.keys(own.after).flatMap((key) => {
    const saying = others.filter(({ after }) => Object.hasOwn(after, key));
    if (saying.some(({ set, isUndone }) => set > changed.set && !isUndone)) return [];
    const before = saying.filter(({ set }) => set < changed.set);
    const without = before.length > 0 ? said(before, key) : own.before[key];
    const [from, to] = holds ? [without, own.after[key]] : [own.after[key], without];
    return [{ key, from: from ?? null, to: to ?? null }];
  });
}
