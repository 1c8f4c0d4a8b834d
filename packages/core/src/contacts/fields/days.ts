// Days, `YYYY-MM-DD`, and what is computed from them.
import { isDay } from '../../office/index.js';
import type { SinceUnit } from './field.js';
import type { TypeOfField } from './kind.js';

const formats = new Map<string, Intl.DateTimeFormat>();

export const date: TypeOfField = {
  fits: (value) => typeof value === 'string' && isDay(value),
  format: String,
  read: (value, _, language) => {
    let format = formats.get(language);
    if (!format) {
      format = new Intl.DateTimeFormat(language, { dateStyle: 'long', timeZone: 'UTC' });
      formats.set(language, format);
    }
    return format.format(new Date(`${String(value)}T00:00:00Z`));
  },
  isMade: true,
};

/** Full years, or days, from one day to another; negative where the first is still to come. */
export function since(unit: SinceUnit, day: string, today: string): number {
  if (unit === 'days') return Math.round((Date.parse(today) - Date.parse(day)) / 86_400_000);
  const years = Number(today.slice(0, 4)) - Number(day.slice(0, 4));
  return today.slice(5) < day.slice(5) ? years - 1 : years;
}
