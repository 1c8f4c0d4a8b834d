// What the office says of a field: read, checked against the other fields, and changed to another type.
import { fail, ok, type Result } from '../../kernel/index.js';
import { builtInFields, isBuiltIn } from './built-in.js';
import { offered } from './choices.js';
import { FIELD_LIMITS, type Choice, type Field, type FieldType, type FieldValue } from './field.js';
import { formatFieldValue, madeTypes } from './index.js';
import { parseFieldValue } from './reading.js';
import { oneLine, searchKey } from '../text.js';

/** A choice as it is written: one without a key is new. */
export interface WrittenChoice {
  readonly key?: string;
  readonly label: string;
}

/**
 * The choices of a field after somebody wrote them: renamed ones keep their key, those left out are gone for whoever
 * comes, and stay for whoever has them; one that is written again comes back.
 */
export function writtenChoices(
  before: readonly Choice[],
  written: readonly WrittenChoice[],
): Result<readonly Choice[], string> {
  if (written.length > FIELD_LIMITS.choices)
    return fail(`A field has at most ${FIELD_LIMITS.choices} choices.`);
  let last = Math.max(0, ...before.map(({ key }) => Number(/^c(\d{1,6})$/.exec(key)?.[1] ?? 0)));
  const seen = new Set<string>();
  const next: Choice[] = [];
  for (const { key, label: text } of written) {
    const label = oneLine(text);
    if (label === '' || label.length > 60) return fail('A choice is 1 to 60 signs.');
    if (/[,;|]/.test(label))
      return fail(`“${label}” has a comma, semicolon or bar, which stand between choices.`);
    const said = searchKey(label);
    if (seen.has(said)) return fail(`“${label}” is there twice.`);
    seen.add(said);
    const known =
      before.find((one) => key !== undefined && one.key === key) ??
      before.find(
        (one) => searchKey(one.label) === said && !written.some((other) => other.key === one.key),
      );
    next.push({ key: known?.key ?? `c${++last}`, label });
  }
  const gone = before
    .filter(({ key }) => !next.some((one) => one.key === key))
    .map(({ key, label }): Choice => ({ key, label, isGone: true }));
  return ok([...next, ...gone]);
}

export interface FieldProblem {
  /** What of the field it is about. */
  readonly at: 'label' | 'type' | 'currency' | 'since' | 'choices' | 'standard';
  readonly why: string;
}

/** Why a field can't be as it is written; undefined when it can. `others` are the office's other fields. */
export function fieldProblem(field: Field, others: readonly Field[]): FieldProblem | undefined {
  const { key, label, type, currency, since, standard } = field;
  const isOwn = !isBuiltIn(key);
  if (label === '' || label.length > 60)
    return { at: 'label', why: 'A field needs a name of 1 to 60 signs.' };
  if (others.some((one) => searchKey(one.label) === searchKey(label)))
    return { at: 'label', why: `There is a field “${label}” already.` };
  if (isOwn ? !madeTypes.includes(type) : type !== builtInType(key))
    return { at: 'type', why: 'A field can’t be of this kind.' };
  if (type === 'money' && !isCurrency(currency ?? ''))
    return { at: 'currency', why: 'An amount needs a currency, such as EUR.' };
  if (type === 'computed') {
    if (!since || !others.some((one) => one.key === since.day && one.type === 'date'))
      return { at: 'since', why: 'Say from which day it is counted.' };
    if (field.isRequired || standard)
      return { at: 'standard', why: 'What is computed is not filled in.' };
  }
  if ((type === 'choice' || type === 'choices') && isOwn && offered(field).length === 0)
    return { at: 'choices', why: 'Say what can be chosen.' };
  const value = standard ? parseFieldValue(field, standard) : undefined;
  return value?.ok === false
    ? { at: 'standard', why: `What somebody new has: ${value.error}.` }
    : undefined;
}

const builtInType = (key: string): FieldType | undefined =>
  builtInFields({ owners: [] }).find((one) => one.key === key)?.type;

function isCurrency(code: string): boolean {
  return /^[A-Z]{3}$/.test(code) && Intl.supportedValuesOf('currency').includes(code);
}

/** What a value becomes when its field is of another type; undefined where it does not fit. */
export function refitted(from: Field, to: Field, value: FieldValue): FieldValue | undefined {
  // Between numbers no sign of a currency is in the way.
  const isNumber = to.type === 'number' || to.type === 'money';
  const text =
    isNumber && typeof value === 'number' ? String(value) : formatFieldValue(from, value);
  const read = parseFieldValue(to, text);
  return read.ok && read.value !== null ? read.value : undefined;
}

/** Types that a field can be changed to. */
export const typesFor = (type: FieldType): FieldType[] =>
  type === 'computed' ? [] : madeTypes.filter((one) => one !== type && one !== 'computed');
