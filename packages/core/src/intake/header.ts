// Which row of a file names the columns. Files have titles above it, or none at all: then the first row is a person.
import { parseAddress, searchKey, type Field } from '../contacts/index.js';
import { fieldNamed } from './recognise.js';

/** So many rows are looked at. */
export const HEADER_ROWS = 20;

const filled = (row: readonly string[]): number => row.filter((cell) => cell.trim() !== '').length;
const isPerson = (row: readonly string[]): boolean =>
  row.some((cell) => cell.includes('@') && parseAddress(cell).ok);

/** Its place among the first rows, or null where there is none. A row with an address in it is a person. */
export function findHeader(
  rows: readonly (readonly string[])[],
  fields: readonly Field[],
): number | null {
  const looked = rows.slice(0, HEADER_ROWS);
  const first = looked.findIndex(isPerson);
  if (first === 0) return null;
  const above = first < 0 ? looked : looked.slice(0, first);
  const width = first < 0 ? Math.max(0, ...looked.map(filled)) : filled(looked[first] ?? []);
  const known = above.map(
    (row) => row.filter((cell) => fieldNamed(searchKey(cell), fields) !== undefined).length,
  );
  const best = Math.max(0, ...known);
  if (best > 0) return known.indexOf(best);
  // Names that nobody knows: the row right above the people, or at the top, when it is about as wide as they are.
  const at = first < 0 ? above.findIndex((row) => filled(row) * 2 >= width) : first - 1;
  return at >= 0 && filled(above[at] ?? []) * 2 >= width ? at : null;
}
