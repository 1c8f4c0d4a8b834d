// Conditions on fields, built in or the office's own.
import { fail, ok, unreachable, type Result } from '../../kernel/index.js';
import {
  isBuiltIn,
  searchKey,
  type Field,
  type FieldType,
  type FieldValue,
} from '../../contacts/index.js';
import { addDays, isDay } from '../../office/index.js';
import { negate, nobody, type Fragment, type Piece } from '../fragment.js';
import type { ConditionKind, Phrase } from './kind.js';

export const fieldOperators = [
  'is',
  'is not',
  'contains',
  'does not contain',
  'starts with',
  'more than',
  'less than',
  'before',
  'after',
  'in the last days',
  'in the next days',
  'is one of',
  'is none of',
  'is yes',
  'is no',
  'is empty',
  'is filled',
] as const;
export type FieldOperator = (typeof fieldOperators)[number];

/** What the editor offers for a type of field, in this order. */
export const operatorsFor: Record<FieldType, readonly FieldOperator[]> = {
  text: ['is', 'is not', 'contains', 'does not contain', 'starts with', 'is empty', 'is filled'],
  number: ['is', 'is not', 'more than', 'less than', 'is empty', 'is filled'],
  date: ['is', 'before', 'after', 'in the last days', 'in the next days', 'is empty', 'is filled'],
  choice: ['is one of', 'is none of', 'is empty', 'is filled'],
  'yes or no': ['is yes', 'is no', 'is empty'],
};

/** What the editor asks for beside the operator. */
export type Operand = 'none' | 'text' | 'number' | 'day' | 'count of days' | 'choices';

export function operandOf(type: FieldType, op: FieldOperator): Operand {
  if (op === 'is empty' || op === 'is filled' || op === 'is yes' || op === 'is no') return 'none';
  if (op === 'in the last days' || op === 'in the next days') return 'count of days';
  if (type === 'choice') return 'choices';
  if (type === 'date') return 'day';
  return type === 'number' ? 'number' : 'text';
}

export interface FieldCondition {
  readonly kind: 'field';
  readonly field: string;
  readonly op: FieldOperator;
  /** Text, number, day, count of days or keys of choices, as the operator asks; absent while unfinished. */
  readonly value?: string | number | readonly string[];
}

const find = (condition: FieldCondition, fields: readonly Field[]): Field | undefined =>
  fields.find((field) => field.key === condition.field);

function column(field: Field): Piece {
  if (field.type === 'text') return { ref: { of: 'key', field: field.key } };
  if (field.key === 'owner' || field.key === 'permission' || field.key === 'came_in')
    return { ref: { of: 'contact', field: field.key } };
  return { ref: { of: 'own', field: field.key, as: field.type === 'number' ? 'number' : 'word' } };
}

/** `%`, `_` and the escape itself stand for themselves in a LIKE pattern. */
const literally = (text: string): string => text.replace(/[\\%_]/g, '\\$&');

export const field: ConditionKind<FieldCondition, 'values'> = {
  needs: ['values'],

  parse(raw, context): Result<FieldCondition, string> {
    const name = raw['field'];
    const field = context.fields.find((known) => known.key === name);
    if (!field)
      return fail(
        `there is no field “${typeof name === 'string' ? name.slice(0, 60) : '?'}”. Choose another or take the condition out.`,
      );
    const op = operatorsFor[field.type].find((word) => word === raw['op']);
    if (!op) return fail(`“${field.label}” can't be asked that way.`);
    const value = raw['value'];
    const base = { kind: 'field', field: field.key, op } as const;
    if (value === undefined || value === null) return ok(base);
    switch (operandOf(field.type, op)) {
      case 'none':
        return ok(base);
      case 'text':
        return typeof value === 'string' && value.length <= 1000
          ? ok({ ...base, value })
          : fail(`“${field.label}” needs a text.`);
      case 'number':
        return typeof value === 'number' && Number.isFinite(value) && Math.abs(value) < 1e15
          ? ok({ ...base, value })
          : fail(`“${field.label}” needs a number.`);
      case 'count of days':
        return typeof value === 'number' && Number.isInteger(value) && value >= 0 && value <= 36500
          ? ok({ ...base, value })
          : fail(`“${field.label}” needs a number of days from 0 to 36500.`);
      case 'day':
        return typeof value === 'string' && isDay(value)
          ? ok({ ...base, value })
          : fail(`“${field.label}” needs a day such as 2026-03-02.`);
      case 'choices':
        return Array.isArray(value) &&
          value.length <= 200 &&
          value.every((one): one is string => typeof one === 'string')
          ? ok({ ...base, value })
          : fail(`“${field.label}” needs a list of choices.`);
    }
  },

  finished(condition, context) {
    const field = find(condition, context.fields);
    if (!field) return false;
    const { value } = condition;
    switch (operandOf(field.type, condition.op)) {
      case 'none':
        return true;
      case 'text':
        return typeof value === 'string' && searchKey(value) !== '';
      case 'choices':
        return Array.isArray(value) && value.length > 0;
      default:
        return value !== undefined;
    }
  },

  weight: () => 1,

  compile(condition, context) {
    const field = find(condition, context.fields);
    if (!field) return nobody;
    const { op } = condition;
    const value = condition.value ?? '';
    const key = (pattern: string): Piece => ({ param: pattern, type: 'text' });
    const col = column(field);
    switch (op) {
      case 'is empty':
        return [col, ' is null'];
      case 'is filled':
        return [col, ' is not null'];
      case 'is yes':
        return [col, " is not distinct from 'true'"];
      case 'is no':
        return [col, " is not distinct from 'false'"];
      case 'contains':
        return [
          'coalesce(',
          col,
          ' like ',
          key(`%${literally(searchKey(String(value)))}%`),
          ', false)',
        ];
      case 'does not contain':
        return [
          'coalesce(',
          col,
          ' not like ',
          key(`%${literally(searchKey(String(value)))}%`),
          ', true)',
        ];
      case 'starts with':
        return [
          'coalesce(',
          col,
          ' like ',
          key(`${literally(searchKey(String(value)))}%`),
          ', false)',
        ];
      case 'more than':
        return ['coalesce(', col, ' > ', { param: Number(value), type: 'numeric' }, ', false)'];
      case 'less than':
        return ['coalesce(', col, ' < ', { param: Number(value), type: 'numeric' }, ', false)'];
      case 'is one of':
        return [
          'coalesce(',
          col,
          ' = any(',
          { param: value as readonly string[], type: 'text[]' },
          '), false)',
        ];
      case 'is none of':
        return [
          'coalesce(',
          col,
          ' <> all(',
          { param: value as readonly string[], type: 'text[]' },
          '), true)',
        ];
      case 'is':
      case 'is not':
        return equality(field, op, value);
      case 'before':
      case 'after':
      case 'in the last days':
      case 'in the next days': {
        const [from, to] = days(op, value, context.today);
        if (isBuiltIn(field.key)) return cameInWithin(from, to);
        return [
          'coalesce(',
          col,
          ' between ',
          { param: from, type: 'text' },
          ' and ',
          { param: to, type: 'text' },
          ', false)',
        ];
      }
      default:
        return unreachable(op);
    }
  },

  holds(condition, facts, context) {
    const field = find(condition, context.fields);
    if (!field) return false;
    const value = facts.values[field.key] ?? null;
    return test(condition, field, value, context.today);
  },

  words(condition, context) {
    const field = find(condition, context.fields);
    if (!field) return [{ text: 'with a field that is gone', strong: true }];
    const strong = (text: string): Phrase => ({ text, strong: true });
    const { op, value } = condition;
    switch (op) {
      case 'is empty':
        return [{ text: 'with ' }, strong(`no ${field.label}`)];
      case 'is filled':
        return [{ text: 'with ' }, strong(`any ${field.label}`)];
      case 'is yes':
      case 'is no':
        return [{ text: 'whose ' }, strong(`${field.label} is ${op === 'is yes' ? 'yes' : 'no'}`)];
      case 'in the last days':
        return [
          { text: 'whose ' },
          strong(`${field.label} is within the last ${String(value)} days`),
        ];
      case 'in the next days':
        return [
          { text: 'whose ' },
          strong(`${field.label} is within the next ${String(value)} days`),
        ];
      case 'is one of':
      case 'is none of': {
        const labels = (value as readonly string[]).map(
          (key) => field.choices?.find((choice) => choice.key === key)?.label ?? key,
        );
        const list = labels.join(' or ');
        return op === 'is one of'
          ? [{ text: 'whose ' }, strong(`${field.label} is ${list}`)]
          : [
              { text: 'whose ' },
              strong(`${field.label} is not ${list}`),
              { text: ' (or is empty)' },
            ];
      }
      case 'is not':
      case 'does not contain':
        return [
          { text: 'whose ' },
          strong(`${field.label} ${op} ${String(value)}`),
          { text: ' (or is empty)' },
        ];
      default:
        return [{ text: 'whose ' }, strong(`${field.label} ${op} ${String(value)}`)];
    }
  },
};

/** From the beginning of one day of the office to the end of another; a contact always has a moment of coming in. */
function cameInWithin(from: string, to: string): Fragment {
  const moment: Piece = { ref: { of: 'moment', field: 'came_in' } };
  return [
    '(',
    moment,
    ' >= ',
    { day: from, edge: 'begins' },
    ' and ',
    moment,
    ' < ',
    { day: to, edge: 'is over' },
    ')',
  ];
}

function equality(
  field: Field,
  op: 'is' | 'is not',
  value: FieldCondition['value'] & {},
): Fragment {
  const distinct = op === 'is' ? ' is not distinct from ' : ' is distinct from ';
  if (field.type === 'text') {
    const key = searchKey(String(value));
    if (op === 'is not') return [column(field), distinct, { param: key, type: 'text' }];
    if (field.key === 'address')
      return ['coalesce(', column(field), ' = ', { param: key, type: 'text' }, ', false)'];
    // Containment is what the index on search keys answers.
    return [
      { ref: { of: 'keys' } },
      ' @> ',
      { param: JSON.stringify({ [field.key]: key }), type: 'jsonb' },
    ];
  }
  if (field.type === 'date' && isBuiltIn(field.key))
    return op === 'is'
      ? cameInWithin(String(value), String(value))
      : negate(cameInWithin(String(value), String(value)));
  if (field.type === 'number')
    return [column(field), distinct, { param: Number(value), type: 'numeric' }];
  return [column(field), distinct, { param: String(value), type: 'text' }];
}

/** First and last day that match, both included. */
function days(
  op: 'before' | 'after' | 'in the last days' | 'in the next days',
  value: FieldCondition['value'] & {},
  today: string,
): [string, string] {
  switch (op) {
    case 'before':
      return ['0001-01-01', addDays(String(value), -1)];
    case 'after':
      return [addDays(String(value), 1), '9999-12-31'];
    case 'in the last days':
      return [addDays(today, -Number(value)), today];
    case 'in the next days':
      return [today, addDays(today, Number(value))];
  }
}

function test(
  { op, value = '' }: FieldCondition,
  field: Field,
  actual: FieldValue,
  today: string,
): boolean {
  const text = typeof actual === 'string' ? searchKey(actual) : '';
  const wanted = typeof value === 'string' ? searchKey(value) : '';
  // A text of nothing but marks has an empty key; it counts as empty everywhere.
  const empty = actual === null || (field.type === 'text' && text === '');
  switch (op) {
    case 'is empty':
      return empty;
    case 'is filled':
      return !empty;
    case 'is yes':
      return actual === true;
    case 'is no':
      return actual === false;
    case 'contains':
      return !empty && text.includes(wanted);
    case 'does not contain':
      return empty || !text.includes(wanted);
    case 'starts with':
      return !empty && text.startsWith(wanted);
    case 'more than':
      return typeof actual === 'number' && actual > Number(value);
    case 'less than':
      return typeof actual === 'number' && actual < Number(value);
    case 'is one of':
      return !empty && (value as readonly string[]).includes(String(actual));
    case 'is none of':
      return empty || !(value as readonly string[]).includes(String(actual));
    case 'is':
    case 'is not': {
      const same = field.type === 'text' ? !empty && text === wanted : !empty && actual === value;
      return op === 'is' ? same : !same;
    }
    case 'before':
    case 'after':
    case 'in the last days':
    case 'in the next days': {
      const [from, to] = days(op, value, today);
      return typeof actual === 'string' && actual >= from && actual <= to;
    }
    default:
      return unreachable(op);
  }
}
