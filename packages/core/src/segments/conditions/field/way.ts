// One way of asking a field: what it wants beside it, and the same question as SQL, for one value, and in words.
import { parseAddress, searchKey, type Field, type FieldValue } from '../../../contacts/index.js';
import type { Fragment, Piece } from '../../fragment.js';
import type { RuleContext } from '../kind.js';
import { moments, type MomentKey } from './moments.js';
import type { OperandName, Operands } from './operand.js';

/** The value of a field that is filled: text as it is compared, a day as `YYYY-MM-DD`. */
export type Filled = string | number | boolean;

export interface Way<O extends OperandName = OperandName> {
  readonly operand: O;
  /** Whether people without a value are in. */
  readonly empty?: boolean;
  /** What is asked of a value that is there; whether it is, is asked around it. */
  readonly compile: (asked: Asked, value: Operands[O]) => Fragment;
  readonly holds: (actual: Filled, value: Operands[O], asked: Asked) => boolean;
  /** What follows the field's name: “is within the last 3 weeks”. */
  readonly words: (value: Operands[O], field: Field) => string;
}

/** A field as it is asked, and the day it is asked on. */
export interface Asked {
  readonly field: Field;
  readonly context: RuleContext;
  readonly column: Piece;
}

/** A way, with its operand's type kept inside: each is only ever given values of its own operand. */
export const way = <O extends OperandName>(one: Way<O>): Way => one as unknown as Way;

/** Moments that every contact has are compared as they stand, so that an index on them is used. */
const always: ReadonlySet<string> = new Set(['came_in', 'changed']);
const isMoment = (key: string): key is MomentKey => (moments as readonly string[]).includes(key);

export function columnOf(field: Field): Piece {
  if (field.type === 'text') return { ref: { of: 'key', field: field.key } };
  if (isMoment(field.key)) return { ref: { of: 'moment', field: field.key } };
  if (field.key === 'owner' || field.key === 'permission' || field.key === 'closeness')
    return { ref: { of: 'contact', field: field.key } };
  return { ref: { of: 'own', field: field.key, as: field.type === 'number' ? 'number' : 'word' } };
}

/** A question around which it is asked whether there is a value at all. */
export function whole(asked: Asked, one: Way, value: Operands[OperandName]): Fragment {
  const own = one.compile(asked, value);
  if (one.empty) return ['(', asked.column, ' is null or ', ...own, ')'];
  return isContained(own) || always.has(asked.field.key) ? own : ['coalesce(', ...own, ', false)'];
}

/** Containment in the keys of a contact is never null, and what their index answers. */
const isContained = ([first]: Fragment): boolean =>
  typeof first === 'object' && 'ref' in first && first.ref.of === 'keys';

/** How a text is compared, that of a field and that of a question alike. */
export function comparable(field: Field, text: string): string {
  if (field.key !== 'address') return searchKey(text);
  const parsed = parseAddress(text);
  return parsed.ok ? parsed.value.key : text.trim().normalize('NFC').toLowerCase();
}

/** A value as it is asked; undefined where there is none. A text of nothing but marks is none. */
export function filled(field: Field, value: FieldValue | undefined): Filled | undefined {
  if (value === null || value === undefined) return undefined;
  if (field.type !== 'text' || typeof value !== 'string') return value;
  const text = comparable(field, value);
  return text === '' ? undefined : text;
}

export const isEmpty = way({
  operand: 'none',
  empty: true,
  compile: () => ['false'],
  holds: () => false,
  words: () => 'is empty',
});
export const isFilled = way({
  operand: 'none',
  compile: ({ column }) => [column, ' is not null'],
  holds: () => true,
  words: () => 'is filled',
});
