// One way of asking a field: what it wants beside it, and the same question as SQL, for one value, and in words.
import { normalized } from '../../../kernel/index.js';
import {
  fitting,
  isMoment,
  isText,
  namedKeys,
  parseAddress,
  textKey,
  type Field,
  type FieldType,
  type FieldValue,
} from '../../../contacts/index.js';
import type { Fragment, Piece } from '../../fragment.js';
import type { RuleContext } from '../kind.js';
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
  /** Whether what is asked for says anything of a field: a number without digits does not. */
  readonly says?: (value: Operands[O], field: Field) => boolean;
  /** What follows the field's name: “is within the last 3 weeks”. */
  readonly words: (value: Operands[O], field: Field) => string;
}

/** A field as it is asked, and the day it is asked on. */
export interface Asked {
  readonly field: Field;
  readonly context: RuleContext;
  readonly column: Piece;
  /** Of the person who is asked: the text as it was given. */
  readonly given?: string;
}

/** A way, with its operand's type kept inside: each is only ever given values of its own operand. */
export const way = <O extends OperandName>(one: Way<O>): Way => one as unknown as Way;

/** Moments that every contact has are compared as they stand, so that an index on them is used. */
const always: ReadonlySet<string> = new Set(['came_in', 'changed']);

/** What is kept with the person, not among the office's own fields, and is no text. */
const kept = [
  'owner',
  'shared_with',
  'permission',
  'closeness',
  'rating',
  'band',
  ...namedKeys,
] as const;
const isKept = (key: string): key is (typeof kept)[number] =>
  (kept as readonly string[]).includes(key);

/** Where a field is; undefined where what it is computed from is gone. */
export function columnOf(field: Field, { fields, today }: RuleContext): Piece | undefined {
  const { key, type, since } = field;
  if (isText(field)) return { ref: { of: 'key', field: key } };
  if (isMoment(key)) return { ref: { of: 'moment', field: key } };
  if (isKept(key)) return { ref: { of: 'contact', field: key } };
  if (type === 'computed') {
    const day = fields.find((one) => one.key === since?.day && one.type === 'date');
    if (!since || !day) return undefined;
    return {
      ref: {
        of: 'since',
        unit: since.unit,
        day: isMoment(day.key) ? day.key : { own: day.key },
        today,
      },
    };
  }
  return { ref: { of: 'own', field: key, as: shapeOf[type] ?? 'word' } };
}

const shapeOf: { readonly [T in FieldType]?: 'number' | 'day' } = {
  number: 'number',
  money: 'number',
  date: 'day',
};

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
  if (field.key !== 'address') return textKey(field, text);
  const parsed = parseAddress(text);
  return parsed.ok ? parsed.value.key : normalized(text.trim()).toLowerCase();
}

/** A value as it is asked; undefined where there is none. A text of nothing but marks is none. */
export function filled(field: Field, value: FieldValue | undefined): Filled | undefined {
  const fit = fitting(field, value ?? null);
  if (fit === null) return undefined;
  if (!isText(field) || typeof fit !== 'string') return fit;
  const text = comparable(field, fit);
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
