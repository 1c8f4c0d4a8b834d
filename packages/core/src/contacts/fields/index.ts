// How fields behave: one entry per type.
import { choice, choices, yesOrNo } from './choices.js';
import { date } from './days.js';
import { fieldTypes, type Field, type FieldType, type FieldValue } from './field.js';
import type { TypeOfField } from './kind.js';
import { computed, money, number } from './numbers.js';
import { addresses, phone, phones } from './reach.js';
import { link, longText, text } from './texts.js';

const types: { readonly [T in FieldType]: TypeOfField } = {
  text,
  'long text': longText,
  number,
  money,
  date,
  'yes or no': yesOrNo,
  choice,
  choices,
  link,
  computed,
  phone,
  phones,
  addresses,
};

/** What the office can make fields of. */
export const madeTypes: readonly FieldType[] = fieldTypes.filter((type) => types[type].isMade);

/** Whether values are compared as texts, by their key. */
export const isText = ({ type }: Pick<Field, 'type'>): boolean => types[type].key !== undefined;

/** The key by which a text of a field is compared; empty where there is nothing to compare. */
export const textKey = (field: Field, value: string): string =>
  types[field.type].key?.(value, field) ?? '';

/** A value, where it is of the field's type; a field whose type changed may still hold others. */
export const fitting = ({ type }: Pick<Field, 'type'>, value: FieldValue): FieldValue =>
  value !== null && types[type].fits(value) ? value : null;

export const ownKey = (id: number): string => `own_${id}`;

/** The id in `own_7`, or undefined for any other text. */
export function ownId(key: string): number | undefined {
  const found = /^own_([1-9]\d{0,8})$/.exec(key);
  return found ? Number(found[1]) : undefined;
}

/** What the office reads in a table. */
export const formatFieldValue = (field: Field, value: FieldValue): string =>
  value === null ? '' : types[field.type].format(value, field);

/** What a reader reads in a letter, in the letter's language. */
export function readerValue(field: Field, value: FieldValue, language: string): string {
  const fit = fitting(field, value);
  if (fit === null) return '';
  const { read, format } = types[field.type];
  return read ? read(fit, field, language) : format(fit, field);
}
