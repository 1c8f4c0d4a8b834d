// Days and moments as the readback and the reasons say them.
import { dayIn } from '../../office/index.js';
import { months } from '../../office/index.js';
import type { RuleContext } from './kind.js';

/** `2026-03-05` as “5 March 2026”. */
export const dayWords = (day: string): string =>
  `${Number(day.slice(8))} ${months[Number(day.slice(5, 7)) - 1] ?? ''} ${Number(day.slice(0, 4))}`;

/** The day of the office at a moment, in milliseconds since 1970. */
export const dayOf = (at: number, { timeZone }: Pick<RuleContext, 'timeZone'>): string =>
  dayIn(timeZone, new Date(at));

export const momentWords = (at: number, context: Pick<RuleContext, 'timeZone'>): string =>
  dayWords(dayOf(at, context));

/** `1 letter`, `3 letters`. */
export const counted = (count: number, what: string): string =>
  `${count.toLocaleString('en')} ${what}${count === 1 ? '' : 's'}`;
