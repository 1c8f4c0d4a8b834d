// Days as people and spreadsheets write them. An order that could be either is asked about and not guessed.
import { isDay, months } from '../../office/index.js';

/** What comes first where only figures stand: in “04/05/1980” the day, or the month. */
export const dayOrders = ['day first', 'month first'] as const;
export type DayOrder = (typeof dayOrders)[number];

/** Years of two figures: up to this one in this century, above it in the last. */
const CENTURY = 39;

const fullYear = (year: string): number =>
  year.length > 2
    ? Number(year)
    : Number(year) <= CENTURY
      ? 2000 + Number(year)
      : 1900 + Number(year);

const monthNamed = (name: string): number =>
  months.findIndex((month) => month.slice(0, 3).toLowerCase() === name.slice(0, 3).toLowerCase()) +
  1;

const YEAR_FIRST = /^(\d{4})[-/.](\d{1,2})[-/.](\d{1,2})$/;
const DOTTED = /^(\d{1,2})\.\s?(\d{1,2})\.\s?(\d{2}|\d{4})$/;
const FIGURES = /^(\d{1,2})[-/](\d{1,2})[-/](\d{2}|\d{4})$/;
const DAY_NAMED = /^(\d{1,2})(?:st|nd|rd|th)?[\s.-]+([a-z]{3,12})\.?,?[\s-]+(\d{2}|\d{4})$/i;
const MONTH_NAMED = /^([a-z]{3,12})\.?\s+(\d{1,2})(?:st|nd|rd|th)?,?\s+(\d{4})$/i;
/** What a spreadsheet puts behind a day. */
const CLOCK = /[T\s]\d{1,2}:\d{2}(?::\d{2}(?:\.\d{1,9})?)?\s?(?:Z|[+-]\d{2}:?\d{2})?$/;

/** `YYYY-MM-DD`, or undefined where the calendar has no such day. */
function made(year: number, month: number, day: number): string | undefined {
  const text = `${String(year).padStart(4, '0')}-${String(month).padStart(2, '0')}-${String(day).padStart(2, '0')}`;
  return isDay(text) ? text : undefined;
}

/** Reads one day. `order` says which comes first in figures with strokes between; dots have the day first, as they are used. */
export function parseDay(text: string, order?: DayOrder): string | undefined {
  const day = text.slice(0, 60).trim().replace(CLOCK, '');
  const figures = (pattern: RegExp): string[] | undefined => pattern.exec(day)?.slice(1);
  const yearFirst = figures(YEAR_FIRST);
  if (yearFirst) return made(Number(yearFirst[0]), Number(yearFirst[1]), Number(yearFirst[2]));
  const dotted = figures(DOTTED);
  if (dotted) return made(fullYear(dotted[2] ?? ''), Number(dotted[1]), Number(dotted[0]));
  const [one, other, year = ''] = figures(FIGURES) ?? [];
  if (one !== undefined) {
    const dayFirst = made(fullYear(year), Number(other), Number(one));
    const monthFirst = made(fullYear(year), Number(one), Number(other));
    if (order) return order === 'day first' ? dayFirst : monthFirst;
    return dayFirst === monthFirst || monthFirst === undefined
      ? dayFirst
      : dayFirst === undefined
        ? monthFirst
        : undefined;
  }
  const named = figures(DAY_NAMED);
  if (named) return made(fullYear(named[2] ?? ''), monthNamed(named[1] ?? ''), Number(named[0]));
  const american = figures(MONTH_NAMED);
  return american
    ? made(Number(american[2]), monthNamed(american[0] ?? ''), Number(american[1]))
    : undefined;
}

/** Whether a text has a day in figures with strokes between, whose order somebody may have to say. */
export const hasDayOrder = (text: string): boolean =>
  FIGURES.test(text.slice(0, 60).trim().replace(CLOCK, ''));

/** Whether a text is a day in one order and another day in the other. */
export const isEitherDay = (text: string): boolean =>
  hasDayOrder(text) &&
  parseDay(text) === undefined &&
  dayOrders.every((order) => parseDay(text, order) !== undefined);
