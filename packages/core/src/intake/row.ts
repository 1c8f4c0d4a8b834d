// One row of a spreadsheet becomes what is known of one person, or is refused with a reason. A cell that can't be read
// refuses itself, not the person; without an address there is nobody.
import { fail, ok, type Result } from '../kernel/index.js';
import {
  addressProblems,
  isBuiltIn,
  parseAddress,
  parseFieldValue,
  parseTagName,
  tagKey,
  type Address,
  type Field,
  type FieldValue,
} from '../contacts/index.js';
import type { Target } from './columns.js';

export interface ImportedRow {
  readonly address: Address;
  /** Only cells that held something; an empty cell leaves what is there. */
  readonly values: Readonly<Record<string, FieldValue>>;
  /** Names of tags, as they stand there; none twice. */
  readonly tags: readonly string[];
  /** What could not be read, in words: those cells say nothing, the rest of the row does. */
  readonly doubts: readonly string[];
}

/** Tags of one cell stand beside each other, or one under another. */
const BETWEEN_TAGS = /[,;|\n\r]/;

/** `cells` and `targets` side by side. The reason is a sentence for the person who mends the file. */
export function readRow(
  cells: readonly string[],
  targets: readonly Target[],
  fields: ReadonlyMap<string, Field>,
): Result<ImportedRow, string> {
  if (
    cells.length > targets.length &&
    cells.slice(targets.length).some((cell) => cell.trim() !== '')
  ) {
    return fail(`the row has ${cells.length} cells, the header ${targets.length}`);
  }
  // Notes and further addresses may have lines and addresses in them; names and towns don't.
  const isOneLine = (target: Target | undefined): boolean =>
    target?.to === 'field' && isBuiltIn(target.field) && target.field !== 'more_addresses';
  if (cells.some((cell, at) => isOneLine(targets[at]) && /[\r\n]/.test(cell) && cell.includes('@')))
    return fail(
      'a cell holds a line break and an address: a quotation mark in this row or above it is not closed',
    );
  let address: Address | undefined;
  const tags = new Map<string, string>();
  const doubts: string[] = [];
  const values: Record<string, FieldValue> = {};
  for (const [at, target] of targets.entries()) {
    const cell = cells[at] ?? '';
    if (target.to === 'nothing') continue;
    if (target.to === 'tags') {
      for (const text of cell.split(BETWEEN_TAGS)) {
        if (text.trim() === '') continue;
        const name = parseTagName(text);
        if (!name.ok) doubts.push(`“${text.trim().slice(0, 40)}…” is too long for a tag`);
        else if (!tags.has(tagKey(name.value))) tags.set(tagKey(name.value), name.value);
      }
      continue;
    }
    if (target.field === 'address') {
      const parsed = parseAddress(cell);
      if (!parsed.ok) return fail(addressProblems[parsed.error]);
      address = parsed.value;
      continue;
    }
    const field = fields.get(target.field);
    if (!field) continue;
    const parsed = parseFieldValue(field, cell, target.days);
    if (!parsed.ok) doubts.push(parsed.error);
    else if (parsed.value !== null) values[field.key] = parsed.value;
  }
  return address
    ? ok({ address, values, tags: [...tags.values()], doubts })
    : fail('no column holds the address');
}

/** Permission only ever rises by an import: what a person confirmed is not weakened by a list. */
const strength = { unknown: 0, customer: 1, asked: 2 } as const;
export const raisesPermission = (from: keyof typeof strength, to: keyof typeof strength): boolean =>
  strength[to] > strength[from];

const KEPT = { cell: 200, row: 2000 } as const;

/** The beginning of a row's cells, for looking at it; the file itself has it whole. At most 2,000 signs in all. */
export function cutCells(cells: readonly string[]): string[] {
  const kept: string[] = [];
  let left: number = KEPT.row;
  for (const cell of cells) {
    if (left <= 0) break;
    const most = Math.min(KEPT.cell, left);
    kept.push(cell.length > most ? `${cell.slice(0, most)}…` : cell);
    // An empty cell takes room, too: a row may have many.
    left -= Math.max(Math.min(cell.length, most), 1);
  }
  return kept;
}
