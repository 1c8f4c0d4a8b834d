// Ways of asking a day: a day of the office, whether it is kept as one or as a moment.
import { addDays, months } from '../../../office/index.js';
import type { Fragment, Piece } from '../../fragment.js';
import { spanFrom, spanWords, type OperandName, type Operands, type Span } from './operand.js';
import { isEmpty, isFilled, way, type Asked } from './way.js';

const FIRST = '0001-01-01';
const LAST = '9999-12-31';

/** From one day to another, both included. */
type Days = readonly [from: string, to: string];

function within({ column }: Asked, [from, to]: Days): Fragment {
  if (isKeptAsDay(column))
    return [
      column,
      ' between ',
      { param: from, type: 'text' },
      ' and ',
      { param: to, type: 'text' },
    ];
  const begins: Fragment = [column, ' >= ', { day: from, edge: 'begins' }];
  const ends: Fragment = [column, ' < ', { day: to, edge: 'is over' }];
  // A bound that is none is not asked: “before” leaves the index its one edge.
  if (from === FIRST) return ['(', ...ends, ')'];
  if (to === LAST) return ['(', ...begins, ')'];
  return ['(', ...begins, ' and ', ...ends, ')'];
}

const isKeptAsDay = (column: Piece): boolean =>
  !(typeof column === 'object' && 'ref' in column && column.ref.of === 'moment');

/** A way that asks whether a day lies between two. */
const range = <O extends OperandName>(
  operand: O,
  days: (value: Operands[O], today: string) => Days,
  words: (value: Operands[O]) => string,
) =>
  way({
    operand,
    compile: (asked, value) => within(asked, days(value, asked.context.today)),
    holds: (actual, value, { context }) => {
      const [from, to] = days(value, context.today);
      return String(actual) >= from && String(actual) <= to;
    },
    words,
  });

export const monthName = (month: number): string => months[month - 1] ?? '';

/** The day of the year of a column, `MM-DD`. */
const dayOfYear = ({ column }: Asked): Fragment =>
  isKeptAsDay(column)
    ? ['substr(', column, ', 6, 5)']
    : ['to_char(', column, ' at time zone ', { zone: true }, ", 'MM-DD')"];

/** Where the year turns within the span, what is asked lies outside of the rest of it. */
function comingRound(
  today: string,
  span: Span,
): { from: string; to: string; turns: boolean; all: boolean } {
  const last = spanFrom(today, span, 1);
  return {
    from: today.slice(5),
    to: last.slice(5),
    turns: last.slice(0, 4) !== today.slice(0, 4),
    all: last >= spanFrom(today, { count: 12, unit: 'months' }, 1),
  };
}

export const dateWays = {
  is: range(
    'day',
    (day) => [day, day],
    (day) => `is ${day}`,
  ),
  before: range(
    'day',
    (day) => [FIRST, addDays(day, -1)],
    (day) => `is before ${day}`,
  ),
  after: range(
    'day',
    (day) => [addDays(day, 1), LAST],
    (day) => `is after ${day}`,
  ),
  between: range(
    'days',
    ([from, to]) => [from ?? LAST, to ?? FIRST],
    ([from, to]) => `is from ${from} to ${to}`,
  ),
  'in the last': range(
    'span',
    (span, today) => [spanFrom(today, span, -1), today],
    (span) => `is within the last ${spanWords(span)}`,
  ),
  'in the next': range(
    'span',
    (span, today) => [today, spanFrom(today, span, 1)],
    (span) => `is within the next ${spanWords(span)}`,
  ),
  'longer ago than': range(
    'span',
    (span, today) => [FIRST, addDays(spanFrom(today, span, -1), -1)],
    (span) => `is more than ${spanWords(span)} ago`,
  ),
  'comes round in the next': way({
    operand: 'span',
    compile: (asked, span) => {
      const { from, to, turns, all } = comingRound(asked.context.today, span);
      if (all) return [asked.column, ' is not null'];
      const day = dayOfYear(asked);
      return [
        '(',
        ...day,
        ' >= ',
        { param: from, type: 'text' },
        turns ? ' or ' : ' and ',
        ...day,
        ' <= ',
        { param: to, type: 'text' },
        ')',
      ];
    },
    holds: (actual, span, { context }) => {
      const { from, to, turns, all } = comingRound(context.today, span);
      const day = String(actual).slice(5);
      return all || (turns ? day >= from || day <= to : day >= from && day <= to);
    },
    words: (span) => `comes round within the next ${spanWords(span)}`,
  }),
  'is in the month': way({
    operand: 'month',
    compile: (asked, month) => [
      ...dayOfYear(asked),
      ' like ',
      { param: `${String(month).padStart(2, '0')}-%`, type: 'text' },
    ],
    holds: (actual, month) => Number(String(actual).slice(5, 7)) === month,
    words: (month) => `is in ${monthName(month)} of any year`,
  }),
  'is on the day': way({
    operand: 'day of the year',
    compile: (asked, day) => [...dayOfYear(asked), ' = ', { param: day, type: 'text' }],
    holds: (actual, day) => String(actual).slice(5) === day,
    words: (day) =>
      `is on ${Number(day.slice(3))} ${monthName(Number(day.slice(0, 2)))} of any year`,
  }),
  'is empty': isEmpty,
  'is filled': isFilled,
} as const;
