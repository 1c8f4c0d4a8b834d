// How a table of people is arranged: which columns, in which order, how wide, sorted by what, and narrowed how. What
// names a field that is gone is left out where it is shown, and never leaves a table without columns.
import { parseSort, standings, type Standing } from '../contacts/index.js';
import { fail, ok, type Result } from '../kernel/index.js';

export interface Arrangement {
  /** Columns in their order, by key. */
  readonly order: readonly string[];
  readonly shown: readonly string[];
  /** In px. */
  readonly widths: Readonly<Record<string, number>>;
  readonly pinned: readonly string[];
  /** As an address has it: `town,-came_in`. */
  readonly sort: string;
  readonly pool?: number;
  readonly q?: string;
  readonly tag?: number;
  readonly standing?: Standing;
}

export const emptyArrangement: Arrangement = {
  order: [],
  shown: [],
  widths: {},
  pinned: [],
  sort: '',
};

const COLUMNS = 300;

const isKeys = (raw: unknown): raw is readonly string[] =>
  Array.isArray(raw) &&
  raw.length <= COLUMNS &&
  raw.every((one) => typeof one === 'string' && /^[a-z0-9_ ]{1,40}$/.test(one));
const isKey = (raw: unknown): raw is number =>
  typeof raw === 'number' && Number.isInteger(raw) && raw > 0;

/** Reads stored or received JSON; what it doesn't know is dropped, what is missing is as it is at first. */
export function parseArrangement(raw: unknown): Result<Arrangement, string> {
  if (typeof raw !== 'object' || raw === null || Array.isArray(raw))
    return fail('An arrangement of columns is missing.');
  const {
    order = [],
    shown = [],
    widths = {},
    pinned = [],
    sort = '',
    pool,
    q,
    tag,
    standing,
  } = raw as Partial<Record<keyof Arrangement, unknown>>;
  if (!isKeys(order) || !isKeys(shown) || !isKeys(pinned))
    return fail(`Columns are named by their keys, at most ${COLUMNS} of them.`);
  if (typeof widths !== 'object' || widths === null || Object.keys(widths).length > COLUMNS)
    return fail('The widths of columns are numbers by their keys.');
  const sizes = Object.entries(widths).filter(
    (one): one is [string, number] =>
      isKeys([one[0]]) && typeof one[1] === 'number' && one[1] >= 20 && one[1] <= 2000,
  );
  if (typeof sort !== 'string' || !parseSort(sort))
    return fail('This way of sorting is not known.');
  const known = standings.find((one) => one === standing);
  return ok({
    order,
    shown,
    widths: Object.fromEntries(sizes),
    pinned,
    sort,
    ...(isKey(pool) ? { pool } : {}),
    ...(typeof q === 'string' && q !== '' ? { q: q.slice(0, 200) } : {}),
    ...(isKey(tag) ? { tag } : {}),
    ...(known ? { standing: known } : {}),
  });
}
