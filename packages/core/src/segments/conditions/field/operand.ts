// What a way of asking wants beside it: one entry per kind, which reads it, and says when it is whole.
import { searchKey } from '../../../contacts/index.js';
import { fail, ok, type Result } from '../../../kernel/index.js';
import { addDays, addMonths, isDay } from '../../../office/index.js';

export const spanUnits = ['days', 'weeks', 'months'] as const;
export type SpanUnit = (typeof spanUnits)[number];

/** A length of time, counted from today. */
export interface Span {
  readonly count: number;
  readonly unit: SpanUnit;
}

export interface Operands {
  none: undefined;
  text: string;
  texts: readonly string[];
  /** From one text to another, both included with whatever begins like the second; either may be missing while it is typed. */
  bounds: readonly (string | null)[];
  number: number;
  /** From and to, both included; either may be missing while it is typed. */
  numbers: readonly (number | null)[];
  /** `YYYY-MM-DD`. */
  day: string;
  days: readonly (string | null)[];
  span: Span;
  /** A day of any year, `MM-DD`. */
  'day of the year': string;
  /** 1 to 12. */
  month: number;
  choices: readonly string[];
}
export type OperandName = keyof Operands;
export type OperandValue = Operands[OperandName];

interface OperandKind<V> {
  /** Reads stored or received JSON that is there at all; the error goes on with the field's name. */
  readonly parse: (raw: unknown) => Result<V, string>;
  readonly isWhole: (value: V) => boolean;
}

export const OPERAND_LIMITS = { text: 1000, texts: 20_000, choices: 200 } as const;
/** A hundred years. */
const LONGEST: Readonly<Record<SpanUnit, number>> = { days: 36_500, weeks: 5200, months: 1200 };

const isNumber = (raw: unknown): raw is number =>
  typeof raw === 'number' && Number.isFinite(raw) && Math.abs(raw) < 1e15;
const isText = (raw: unknown): raw is string =>
  typeof raw === 'string' && raw.length <= OPERAND_LIMITS.text;
const isWholeNumber = (raw: unknown, most: number): raw is number =>
  typeof raw === 'number' && Number.isInteger(raw) && raw >= 0 && raw <= most;

/** Two ends, either of which may be missing. */
const pair =
  <V>(is: (raw: unknown) => raw is V, wanted: string) =>
  (raw: unknown): Result<readonly (V | null)[], string> =>
    Array.isArray(raw) && raw.length === 2 && raw.every((one) => one === null || is(one))
      ? ok(raw as (V | null)[])
      : fail(wanted);
const isBoth = (value: readonly unknown[]): boolean => value.every((one) => one !== null);
/** Years of four signs, so that a day before or after one still is one. */
const isADay = (raw: unknown): raw is string =>
  typeof raw === 'string' && /^[12]/.test(raw) && isDay(raw);

/** 29 February is a day of the year, too. */
const isDayOfYear = (text: string): boolean => /^\d\d-\d\d$/.test(text) && isDay(`2024-${text}`);

export const operands: { readonly [O in OperandName]: OperandKind<Operands[O]> } = {
  none: { parse: () => ok(undefined), isWhole: () => true },
  text: {
    parse: (raw) => (isText(raw) ? ok(raw) : fail('needs a text.')),
    isWhole: (value) => searchKey(value) !== '',
  },
  texts: {
    parse: (raw) => {
      if (!Array.isArray(raw) || !raw.every(isText)) return fail('needs a list of texts.');
      return raw.length <= OPERAND_LIMITS.texts
        ? ok([...new Set(raw)])
        : fail(
            `is compared with ${raw.length.toLocaleString('en')} texts, and ${OPERAND_LIMITS.texts.toLocaleString('en')} are the most. Import them and tag them, then ask for the tag.`,
          );
    },
    isWhole: (value) => value.some((text) => searchKey(text) !== ''),
  },
  bounds: {
    parse: pair(isText, 'needs two texts.'),
    isWhole: (value) => value.every((text) => text !== null && searchKey(text) !== ''),
  },
  number: {
    parse: (raw) => (isNumber(raw) ? ok(raw) : fail('needs a number.')),
    isWhole: () => true,
  },
  numbers: { parse: pair(isNumber, 'needs two numbers.'), isWhole: isBoth },
  day: {
    parse: (raw) => (isADay(raw) ? ok(raw) : fail('needs a day such as 2026-03-02.')),
    isWhole: () => true,
  },
  days: { parse: pair(isADay, 'needs two days such as 2026-03-02.'), isWhole: isBoth },
  span: {
    parse: (raw) => {
      // Rules from before there were weeks and months count days.
      const { count, unit } =
        typeof raw === 'object' && raw !== null
          ? (raw as { count?: unknown; unit?: unknown })
          : { count: raw, unit: 'days' };
      const known = spanUnits.find((one) => one === unit);
      if (!known) return fail('needs a number of days, weeks or months.');
      return isWholeNumber(count, LONGEST[known])
        ? ok({ count, unit: known })
        : fail(`needs a number of ${known} from 0 to ${LONGEST[known]}.`);
    },
    isWhole: () => true,
  },
  'day of the year': {
    parse: (raw) =>
      typeof raw === 'string' && isDayOfYear(raw)
        ? ok(raw)
        : fail('needs a day of the year such as 03-02.'),
    isWhole: () => true,
  },
  month: {
    parse: (raw) =>
      isWholeNumber(raw, 12) && raw > 0 ? ok(raw) : fail('needs a month from 1 to 12.'),
    isWhole: () => true,
  },
  choices: {
    parse: (raw) =>
      Array.isArray(raw) && raw.length <= OPERAND_LIMITS.choices && raw.every(isText)
        ? ok(raw)
        : fail('needs a list of choices.'),
    isWhole: (value) => value.length > 0,
  },
};

/** The day so far after a day (before it, where `by` is -1). */
export const spanFrom = (day: string, { count, unit }: Span, by: 1 | -1): string =>
  unit === 'months'
    ? addMonths(day, by * count)
    : addDays(day, by * count * (unit === 'weeks' ? 7 : 1));

export const spanWords = ({ count, unit }: Span): string =>
  `${count} ${count === 1 ? unit.slice(0, -1) : unit}`;
