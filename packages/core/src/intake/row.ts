// One row of a spreadsheet becomes what is known of one person, or is refused with a reason. A cell that can't be read
// refuses itself, not the person; without an address there is nobody.
import { fail, ok, type Result } from '../kernel/index.js';
import {
  addressProblems,
  beginning,
  dayOrders,
  FIELD_LIMITS,
  formatFieldValue,
  isBuiltIn,
  isEitherDay,
  lines,
  parseAddress,
  parseFieldValue,
  parseTagName,
  tagKey,
  type Address,
  type Field,
  type FieldValue,
} from '../contacts/index.js';
import type { Matching, Target } from './columns.js';
import { countryCode, countryText } from './country.js';
import { splitName } from './names.js';
import { likelyAddress, problem, type Offer, type RowProblem } from './problems.js';

export interface ImportedRow {
  /** Undefined where somebody is known by another number. */
  readonly address: Address | undefined;
  /** Only cells that held something; an empty cell leaves what is there. */
  readonly values: Readonly<Record<string, FieldValue>>;
  /** Names of tags, as they stand there; none twice. */
  readonly tags: readonly string[];
  /** Who is to look after them, as it stands there; empty where nobody is named. */
  readonly owner: string;
  /** What could not be read: those cells say nothing, the rest of the row does. */
  readonly doubts: readonly RowProblem[];
}

/** Tags of one cell stand beside each other, or one under another. */
const BETWEEN_TAGS = /[,;|\n\r]/;
const BETWEEN_ADDRESSES = /[;,\s|]+/;

const refused = (at: number | null, words: string, offers: readonly Offer[] = []) =>
  fail(problem('refused', at, words, offers));

/** `cells` and `targets` side by side. The reason is a sentence for the person who mends the file. */
export function readRow(
  cells: readonly string[],
  targets: readonly Target[],
  fields: ReadonlyMap<string, Field>,
  matching: Matching = 'address',
): Result<ImportedRow, RowProblem> {
  if (
    cells.length > targets.length &&
    cells.slice(targets.length).some((cell) => cell.trim() !== '')
  ) {
    return refused(null, `the row has ${cells.length} cells, the header ${targets.length}`);
  }
  // Notes and further addresses may have lines and addresses in them; names and towns don't.
  const isOneLine = (target: Target | undefined): boolean =>
    target?.to === 'field' &&
    isBuiltIn(target.field) &&
    target.field !== 'more_addresses' &&
    target.field !== 'address';
  const torn = cells.findIndex(
    (cell, at) => isOneLine(targets[at]) && /[\r\n]/.test(cell) && cell.includes('@'),
  );
  if (torn >= 0)
    return refused(
      torn,
      'a cell holds a line break and an address: a quotation mark in this row or above it is not closed',
    );
  const reading = new Reading(cells, targets, fields);
  for (const [at, target] of targets.entries()) {
    const lost = reading.take(at, target, cells[at] ?? '');
    if (lost) return fail(lost);
  }
  return reading.person(matching);
}

class Reading {
  private address: Address | undefined;
  private addressAt: number | null = null;
  private further: readonly string[] = [];
  private owner = '';
  private readonly tags = new Map<string, string>();
  private readonly doubts: RowProblem[] = [];
  private readonly values: Record<string, FieldValue> = {};

  constructor(
    private readonly cells: readonly string[],
    private readonly targets: readonly Target[],
    private readonly fields: ReadonlyMap<string, Field>,
  ) {}

  /** Takes one cell; what it returns refuses the whole row. */
  take(at: number, target: Target, cell: string): RowProblem | undefined {
    switch (target.to) {
      case 'nothing':
        return undefined;
      case 'tags':
        return this.takeTags(at, cell);
      case 'owner':
        this.owner = beginning(cell, 200).trim();
        return undefined;
      case 'name': {
        const { given, family } = splitName(cell);
        this.fill(at, 'given_name', given);
        this.fill(at, 'family_name', family);
        return undefined;
      }
      case 'field':
        return target.field === 'address'
          ? this.takeAddress(at, cell)
          : this.takeField(at, target, cell);
    }
  }

  private takeTags(at: number, cell: string): undefined {
    for (const text of cell.split(BETWEEN_TAGS)) {
      if (text.trim() === '') continue;
      const name = parseTagName(text);
      if (!name.ok) this.doubt(at, `“${beginning(text.trim(), 40)}…” is too long for a tag`);
      else if (!this.tags.has(tagKey(name.value))) this.tags.set(tagKey(name.value), name.value);
    }
  }

  private takeAddress(at: number, cell: string): RowProblem | undefined {
    this.addressAt = at;
    if (cell.trim() === '') return undefined;
    const parsed = parseAddress(cell);
    if (parsed.ok) {
      this.address = parsed.value;
      return undefined;
    }
    // The first of several is the one that letters go to.
    const several = cell.length <= 2000 ? cell.split(BETWEEN_ADDRESSES).filter(Boolean) : [];
    const all = several.map((text) => parseAddress(text));
    if (all.length > 1 && all.length <= FIELD_LIMITS.lines && all.every((one) => one.ok)) {
      const found = all.map(({ value }) => value);
      const [first, ...rest] = found as [Address, ...Address[]];
      this.address = first;
      this.further = rest
        .filter(
          ({ key }, own) => key !== first.key && rest.findIndex((one) => one.key === key) === own,
        )
        .map(({ address }) => address);
      return undefined;
    }
    const likely = likelyAddress(cell);
    return problem(
      'refused',
      at,
      addressProblems[parsed.error],
      likely === undefined ? [] : [{ words: `${likely}?`, cells: { [at]: likely } }],
    );
  }

  private takeField(at: number, target: Extract<Target, { to: 'field' }>, cell: string): undefined {
    const field = this.fields.get(target.field);
    if (!field) return;
    const text = field.key === 'country' ? countryText(cell) : cell;
    const isDialled = field.type === 'phone' || field.type === 'phones';
    const parsed = parseFieldValue(field, text, {
      order: target.days,
      country: isDialled ? this.country : undefined,
    });
    if (parsed.ok) {
      if (parsed.value !== null) this.values[field.key] = parsed.value;
      return;
    }
    const offers = isEitherDay(cell)
      ? dayOrders.map((days): Offer => ({
          words: days,
          column: at,
          days,
        }))
      : [];
    this.doubt(at, parsed.error, offers);
  }

  /** Numbers are dialled as in the country that the row names. */
  private get country(): string | undefined {
    const at = this.targets.findIndex((one) => one.to === 'field' && one.field === 'country');
    return at < 0 ? undefined : countryCode(this.cells[at] ?? '');
  }

  private fill(at: number, key: string, text: string): void {
    const field = this.fields.get(key);
    const parsed = field && parseFieldValue(field, text);
    if (parsed && !parsed.ok) this.doubt(at, parsed.error);
    else if (parsed && parsed.value !== null) this.values[key] ??= parsed.value;
  }

  private doubt(at: number, words: string, offers: readonly Offer[] = []): void {
    this.doubts.push(problem('doubt', at, words, offers));
  }

  person(matching: Matching): Result<ImportedRow, RowProblem> {
    const hasNumber = matching === 'external number' && 'external_number' in this.values;
    if (!this.address && !hasNumber) return this.nobody(matching);
    if (this.further.length > 0) {
      const there = lines(String(this.values['more_addresses'] ?? ''));
      this.values['more_addresses'] = [...there, ...this.further]
        .slice(0, FIELD_LIMITS.lines)
        .join('\n');
    }
    return ok({
      address: this.address,
      values: this.values,
      tags: [...this.tags.values()],
      owner: this.owner,
      doubts: this.doubts,
    });
  }

  private nobody(matching: Matching): Result<ImportedRow, RowProblem> {
    const at = this.addressAt;
    if (at === null)
      return refused(
        null,
        matching === 'address' ? 'no column holds the address' : 'there is no number',
      );
    // Somebody typed it one column too early.
    const astray = this.cells.findIndex(
      (cell, own) => own !== at && cell.includes('@') && parseAddress(cell).ok,
    );
    const found = this.cells[astray];
    return refused(
      at,
      matching === 'address' ? addressProblems.empty : 'there is neither a number nor an address',
      found === undefined || this.targets[astray]?.to === 'nothing'
        ? []
        : [
            {
              words: `take “${beginning(found.trim(), 80)}”`,
              cells: { [at]: found.trim(), [astray]: '' },
            },
          ],
    );
  }
}

/** A value as it is shown beside a cell. */
export const shownValue = (field: Field | undefined, value: FieldValue): string =>
  field ? formatFieldValue(field, value) : String(value ?? '');

/** Permission only ever rises by an import: what a person confirmed is not weakened by a list. */
const strength = { unknown: 0, customer: 1, asked: 2 } as const;
export const raisesPermission = (from: keyof typeof strength, to: keyof typeof strength): boolean =>
  strength[to] > strength[from];

const KEPT = { cell: 200, row: 2000 } as const;

/** Whether cells that were cut by `cutCells` are all of their row, as far as one sees. */
export const isWhole = (cells: readonly string[]): boolean =>
  cells.every((cell) => cell.length <= KEPT.cell) &&
  cells.reduce((sum, cell) => sum + Math.max(cell.length, 1), 0) < KEPT.row;

/** The beginning of a row's cells, for looking at it; the file itself has it whole. At most 2,000 signs in all. */
export function cutCells(cells: readonly string[]): string[] {
  const kept: string[] = [];
  let left: number = KEPT.row;
  for (const cell of cells) {
    if (left <= 0) break;
    const most = Math.min(KEPT.cell, left);
    kept.push(cell.length > most ? `${beginning(cell, most)}…` : cell);
    // An empty cell takes room, too: a row may have many.
    left -= Math.max(Math.min(cell.length, most), 1);
  }
  return kept;
}
