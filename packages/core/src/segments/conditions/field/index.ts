// Conditions on fields, built in or the office's own: for each type of field the ways in which it can be asked.
import { fail, ok, type Result } from '../../../kernel/index.js';
import {
  beginning,
  formatFieldValue,
  isText,
  searchKey,
  type Field,
  type FieldType,
} from '../../../contacts/index.js';
import { nobody } from '../../fragment.js';
import type { ConditionKind, Phrase, RuleContext } from '../kind.js';
import { choiceWays, choicesWays, yesOrNoWays } from './choice.js';
import { dateWays } from './date.js';
import { numberWays } from './number.js';
import { operands, type OperandName, type OperandValue } from './operand.js';
import { linesWays, textWays } from './text.js';
import { columnOf, filled, whole, type Asked, type Way } from './way.js';

/** In the order in which they are offered. */
const ways = {
  text: textWays,
  'long text': linesWays,
  number: numberWays,
  money: numberWays,
  date: dateWays,
  'yes or no': yesOrNoWays,
  choice: choiceWays,
  choices: choicesWays,
  link: textWays,
  computed: numberWays,
  phone: textWays,
  phones: linesWays,
  addresses: linesWays,
} satisfies { readonly [T in FieldType]: Readonly<Record<string, Way>> };

type WaysOf = typeof ways;
export type FieldOperator = { [T in FieldType]: keyof WaysOf[T] & string }[FieldType];

export interface FieldCondition {
  readonly kind: 'field';
  readonly field: string;
  readonly op: FieldOperator;
  /** What the way of asking wants; absent while unfinished. */
  readonly value?: Exclude<OperandValue, undefined>;
}

/** How rules of older versions called what is asked otherwise today. */
const formerly: Readonly<Record<string, FieldOperator>> = {
  'in the last days': 'in the last',
  'in the next days': 'in the next',
};

const plain = <T extends string>(positive: T, negative: T) => ({
  is: positive,
  'is one of': positive,
  contains: positive,
  'starts with': positive,
  'ends with': positive,
  'has any of': positive,
  'has all of': positive,
  'is not': negative,
  'is none of': negative,
  'does not contain': negative,
  'has none of': negative,
});
/** How a choice is asked by a rule that was written when the field was a text, or had choices of the other kind. */
const asChoices: { readonly [T in FieldType]?: Readonly<Record<string, FieldOperator>> } = {
  choice: plain<FieldOperator>('is one of', 'is none of'),
  choices: plain<FieldOperator>('has any of', 'has none of'),
};

/** The choice that a key, or a text from before there were choices, means; what means none stays as it is. */
const choiceMeant = ({ choices = [] }: Field, said: unknown): unknown =>
  choices.some(({ key }) => key === said)
    ? said
    : (choices.find(({ label }) => searchKey(label) === searchKey(String(said)))?.key ?? said);

/** The text that a choice was, where all that is asked for were choices of the field when it had some. */
function textsMeant({ formerChoices = [] }: Field, value: unknown): unknown {
  const keys = Array.isArray(value) ? value : [value];
  const labels = keys.map((key) => formerChoices.find((one) => one.key === key)?.label);
  if (labels.length === 0 || labels.includes(undefined)) return value;
  return Array.isArray(value) ? labels : labels[0];
}

/**
 * The same question of a field whose type has changed: texts that were asked for become the choices that they meant, and
 * choices the texts that they are now. What can't be told stays, and makes the condition unfinished.
 */
function adapted(field: Field, op: string, value: unknown): { op: string; value: unknown } {
  if (field.formerChoices && isText(field)) return { op, value: textsMeant(field, value) };
  const known = asChoices[field.type];
  if (!known) return { op, value };
  const isAsked = wayOf(field.type, op) !== undefined;
  const next = isAsked || !Object.hasOwn(known, op) ? op : (known[op] ?? op);
  if (Array.isArray(value)) return { op: next, value: value.map((one) => choiceMeant(field, one)) };
  const positive = { 'is not': 'is', 'does not contain': 'contains' }[op] ?? op;
  const asked = wayOf('text', positive);
  const read = asked && (operands[asked.operand].parse(value) as Result<OperandValue, string>);
  if (isAsked || !asked || !read?.ok || value === undefined || value === null)
    return { op: next, value };
  const text = { ...field, type: 'text' } as const;
  const meant = (field.choices ?? []).filter(({ label }) =>
    asked.holds(searchKey(label), read.value, { field: text } as unknown as Asked),
  );
  return { op: next, value: meant.map(({ key }) => key) };
}

/** How a type of field can be asked, in the order in which it is offered. */
export const operatorsFor = (type: FieldType): readonly FieldOperator[] =>
  Object.keys(ways[type]) as FieldOperator[];

const wayOf = (type: FieldType, op: string): Way | undefined =>
  Object.hasOwn(ways[type], op) ? (ways[type] as Readonly<Record<string, Way>>)[op] : undefined;

/** What a way of asking wants beside it. */
export const operandOf = (type: FieldType, op: FieldOperator): OperandName =>
  wayOf(type, op)?.operand ?? 'none';

/** Enough of a long text to know it by. */
const shortened = (text: string): string => (text.length > 80 ? `${beginning(text, 80)} …` : text);

/** How many looks a text takes that may be long, or is written in several ways. */
const lengths: { readonly [T in FieldType]?: number } = {
  'long text': 40,
  addresses: 3,
  phones: 3,
  phone: 3,
};

interface Found extends Asked {
  readonly way: Way;
}

function find({ field: key, op }: FieldCondition, context: RuleContext): Found | undefined {
  const field = context.fields.find((known) => known.key === key);
  const own = field && wayOf(field.type, op);
  const column = field && columnOf(field, context);
  return field && own && column ? { field, context, column, way: own } : undefined;
}

/** Whole operands are of their own kind: that was looked at when they were read. */
const isWhole = ({ operand, says }: Way, value: FieldCondition['value'], field: Field): boolean =>
  operand === 'none' ||
  (value !== undefined &&
    (operands[operand].isWhole as (value: unknown) => boolean)(value) &&
    (says?.(value, field) ?? true));

export const field: ConditionKind<FieldCondition, 'values'> = {
  needs: () => ['values'],

  parse(raw, { fields }): Result<FieldCondition, string> {
    const name = raw['field'];
    const known = fields.find(({ key }) => key === name);
    if (!known)
      return fail(
        `there is no field “${typeof name === 'string' ? name.slice(0, 60) : '?'}”. Choose another or take the condition out.`,
      );
    const said = typeof raw['op'] === 'string' ? raw['op'] : '';
    const { op, value } = adapted(known, formerly[said] ?? said, raw['value']);
    const own = wayOf(known.type, op);
    if (!own) return fail(`“${known.label}” can't be asked that way.`);
    const base = { kind: 'field', field: known.key, op: op as FieldOperator } as const;
    if (value === undefined || value === null || own.operand === 'none') return ok(base);
    const parsed: Result<OperandValue, string> = operands[own.operand].parse(value);
    if (!parsed.ok) return fail(`“${known.label}” ${parsed.error}`);
    return ok(parsed.value === undefined ? base : { ...base, value: parsed.value });
  },

  finished(condition, context) {
    const found = find(condition, context);
    return found !== undefined && isWhole(found.way, condition.value, found.field);
  },

  // Choices that are asked for and are none of the field's.
  lost(condition, context) {
    const found = find(condition, context);
    return (
      found !== undefined &&
      found.way.operand === 'choices' &&
      Array.isArray(condition.value) &&
      condition.value.length > 0 &&
      !isWhole(found.way, condition.value, found.field)
    );
  },

  // A part of a text is looked for at every place of it: what is long costs by its length, and by that of what is sought.
  weight({ field: key, op, value }, { fields }) {
    const type = fields.find((one) => one.key === key)?.type;
    const isLooked = ['contains', 'does not contain', 'starts with', 'ends with'].includes(op);
    if (isLooked && typeof value === 'string')
      return (type === undefined ? 1 : (lengths[type] ?? 1)) * (1 + Math.floor(value.length / 200));
    return Array.isArray(value) && value.length > 1000 ? 2 : 1;
  },

  compile(condition, context) {
    const found = find(condition, context);
    return found ? whole(found, found.way, condition.value) : nobody;
  },

  holds(condition, facts, context) {
    const found = find(condition, context);
    if (!found) return false;
    const given = facts.values[found.field.key];
    const value = filled(found.field, given);
    if (value === undefined) return found.way.empty === true;
    return found.way.holds(value, condition.value, {
      ...found,
      ...(typeof given === 'string' ? { given } : {}),
    });
  },

  saw(condition, facts, context) {
    const found = find(condition, context);
    if (!found) return 'the field is gone';
    const value = facts.values[found.field.key] ?? null;
    return value === null || value === ''
      ? `no ${found.field.label}`
      : `${found.field.label}: ${shortened(formatFieldValue(found.field, value))}`;
  },

  words(condition, context) {
    const found = find(condition, context);
    if (!found) return [{ text: 'with a field that is gone', strong: true }];
    const { field: own, way } = found;
    const strong = (text: string): Phrase => ({ text, strong: true });
    if (condition.op === 'is empty') return [{ text: 'with ' }, strong(`no ${own.label}`)];
    if (condition.op === 'is filled') return [{ text: 'with ' }, strong(`any ${own.label}`)];
    const said: Phrase[] = [
      { text: 'whose ' },
      strong(`${own.label} ${way.words(condition.value, own)}`),
    ];
    return way.empty ? [...said, { text: ' (or is empty)' }] : said;
  },
};
