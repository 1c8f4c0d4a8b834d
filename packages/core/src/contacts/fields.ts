// Fields: the data a contact carries, built in or added by the office, and how text becomes a value.
import { fail, ok, unreachable, type Result } from '../kernel/index.js';
import { isDay } from '../office/index.js';
import { oneLine, searchKey } from './text.js';

export const fieldTypes = ['text', 'number', 'date', 'choice', 'yes or no'] as const;
export type FieldType = (typeof fieldTypes)[number];

export interface Choice {
  readonly key: string;
  readonly label: string;
}

export interface Field {
  /** `given_name` for a built-in one, `own_7` for the office's own. */
  readonly key: string;
  readonly label: string;
  readonly type: FieldType;
  readonly choices?: readonly Choice[];
  /** Known by the system; nobody fills it. */
  readonly isFact?: true;
}

export type FieldValue = string | number | boolean | null;

export const permissionKinds = ['asked', 'customer', 'unknown'] as const;
export type PermissionKind = (typeof permissionKinds)[number];
export const permissionWords: Record<PermissionKind, string> = {
  asked: 'asked for it',
  customer: 'customer',
  unknown: 'unknown',
};

/** How somebody agreed, when (a moment in ISO 8601, null where it is not known), and where. */
export interface PermissionTerms {
  readonly permission: PermissionKind;
  readonly at: string | null;
  readonly source: string;
}

/** What is written of how somebody agreed. */
export const permissionValues = ({
  permission,
  at,
  source,
}: PermissionTerms): Readonly<Record<string, FieldValue>> => ({
  permission,
  permission_at: at,
  permission_source: source === '' ? null : source,
});

/** How well somebody is known to the office, given by hand. */
export const closenesses = ['close', 'known', 'distant'] as const;

export const builtInKeys = [
  'given_name',
  'family_name',
  'address',
  'position',
  'street',
  'postcode',
  'town',
  'region',
  'country',
  'phone',
  'stage',
  'source',
  'closeness',
  'owner',
  'permission',
  'came_in',
  'changed',
  'last_letter',
  'last_response',
] as const;
export type BuiltInKey = (typeof builtInKeys)[number];

export const isBuiltIn = (key: string): key is BuiltInKey =>
  (builtInKeys as readonly string[]).includes(key);

/** Built-in fields that people fill by hand or by import as plain text. */
export const textKeys = [
  'given_name',
  'family_name',
  'position',
  'street',
  'postcode',
  'town',
  'region',
  'country',
  'phone',
  'stage',
  'source',
] as const;
export type TextKey = (typeof textKeys)[number];

export function builtInFields(owners: readonly Choice[]): readonly Field[] {
  return [
    { key: 'given_name', label: 'given name', type: 'text' },
    { key: 'family_name', label: 'family name', type: 'text' },
    { key: 'address', label: 'email address', type: 'text' },
    { key: 'position', label: 'position', type: 'text' },
    { key: 'street', label: 'street', type: 'text' },
    { key: 'postcode', label: 'postcode', type: 'text' },
    { key: 'town', label: 'town', type: 'text' },
    { key: 'region', label: 'region', type: 'text' },
    { key: 'country', label: 'country', type: 'text' },
    { key: 'phone', label: 'phone', type: 'text' },
    { key: 'stage', label: 'stage', type: 'text' },
    { key: 'source', label: 'source', type: 'text' },
    {
      key: 'closeness',
      label: 'closeness',
      type: 'choice',
      choices: closenesses.map((key) => ({ key, label: key })),
    },
    { key: 'owner', label: 'owner', type: 'choice', choices: owners },
    {
      key: 'permission',
      label: 'permission',
      type: 'choice',
      choices: permissionKinds.map((key) => ({ key, label: permissionWords[key] })),
    },
    { key: 'came_in', label: 'came in', type: 'date', isFact: true },
    { key: 'changed', label: 'changed', type: 'date', isFact: true },
    { key: 'last_letter', label: 'last letter', type: 'date', isFact: true },
    { key: 'last_response', label: 'last response', type: 'date', isFact: true },
  ] satisfies readonly (Field & { key: BuiltInKey })[];
}

export const ownKey = (id: number): string => `own_${id}`;

/** The id in `own_7`, or undefined for any other text. */
export function ownId(key: string): number | undefined {
  const found = /^own_([1-9]\d{0,8})$/.exec(key);
  return found ? Number(found[1]) : undefined;
}

export const TEXT_LIMIT = 1000;

const YES = new Set(['yes', 'y', 'true', '1', 'x']);
const NO = new Set(['no', 'n', 'false', '0']);

/** Reads what was typed or imported into a field; an empty text clears it. */
export function parseFieldValue(field: Field, text: string): Result<FieldValue, string> {
  const line = oneLine(text);
  if (line === '') return ok(null);
  switch (field.type) {
    case 'text':
      // Nothing but loose marks leaves nothing to compare by, and nothing to read.
      if (searchKey(line) === '') return ok(null);
      return line.length > TEXT_LIMIT
        ? fail(`${field.label} is longer than ${TEXT_LIMIT} signs`)
        : ok(line);
    case 'number': {
      const number = Number(line.replace(/[\s'’]/g, '').replace(/^(-?\d+),(\d+)$/, '$1.$2'));
      return Number.isFinite(number) && Math.abs(number) < 1e15
        ? ok(number)
        : fail(`${field.label} needs a number, not “${line}”`);
    }
    case 'date': {
      const day = parseDay(line);
      return day ? ok(day) : fail(`${field.label} needs a day such as 2026-03-02, not “${line}”`);
    }
    case 'choice': {
      const key = searchKey(line);
      const choice = field.choices?.find((one) => searchKey(one.label) === key || one.key === line);
      return choice ? ok(choice.key) : fail(`${field.label} has no choice “${line}”`);
    }
    case 'yes or no': {
      const word = searchKey(line);
      if (YES.has(word)) return ok(true);
      return NO.has(word) ? ok(false) : fail(`${field.label} needs yes or no, not “${line}”`);
    }
    default:
      return unreachable(field.type);
  }
}

/** `2026-03-02`, `2.3.2026` and `2 Mar 2026` are read; an order that could be either is not guessed. */
export function parseDay(text: string): string | undefined {
  const iso = /^(\d{4})-(\d{1,2})-(\d{1,2})$/.exec(text);
  const dotted = /^(\d{1,2})\.\s?(\d{1,2})\.\s?(\d{4})$/.exec(text);
  const worded = /^(\d{1,2})\s+([a-z]{3})[a-z]*\.?\s+(\d{4})$/i.exec(text);
  let day: string | undefined;
  if (iso) day = `${iso[1]}-${iso[2]?.padStart(2, '0')}-${iso[3]?.padStart(2, '0')}`;
  else if (dotted)
    day = `${dotted[3]}-${dotted[2]?.padStart(2, '0')}-${dotted[1]?.padStart(2, '0')}`;
  else if (worded) {
    const month =
      ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'].indexOf(
        (worded[2] ?? '').toLowerCase(),
      ) + 1;
    if (month > 0)
      day = `${worded[3]}-${String(month).padStart(2, '0')}-${worded[1]?.padStart(2, '0')}`;
  }
  return day && isDay(day) ? day : undefined;
}

const dayFormats = new Map<string, Intl.DateTimeFormat>();

/** What a reader reads in a letter: a day as it is written in the letter's language. */
export function readerValue(field: Field, value: FieldValue, language: string): string {
  const text = formatFieldValue(field, value);
  if (field.type !== 'date' || text === '') return text;
  let format = dayFormats.get(language);
  if (!format) {
    format = new Intl.DateTimeFormat(language, { dateStyle: 'long', timeZone: 'UTC' });
    dayFormats.set(language, format);
  }
  return format.format(new Date(`${text}T00:00:00Z`));
}

/** What the office reads in a table. */
export function formatFieldValue(field: Field, value: FieldValue): string {
  if (value === null) return '';
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (field.type === 'choice')
    return field.choices?.find((choice) => choice.key === value)?.label ?? String(value);
  return String(value);
}
