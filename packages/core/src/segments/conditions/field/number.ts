// Ways of asking a number.
import { formatFieldValue, type Field } from '../../../contacts/index.js';
import type { Fragment } from '../../fragment.js';
import { isEmpty, isFilled, way, type Asked } from './way.js';

const compared = ({ column }: Asked, sign: string, value: number): Fragment => [
  column,
  ` ${sign} `,
  { param: value, type: 'numeric' },
];

const ways = {
  is: ['=', (actual: number, value: number) => actual === value],
  'more than': ['>', (actual: number, value: number) => actual > value],
  'at least': ['>=', (actual: number, value: number) => actual >= value],
  'less than': ['<', (actual: number, value: number) => actual < value],
  'at most': ['<=', (actual: number, value: number) => actual <= value],
} as const;

/** Amounts with their currency. */
const said = (value: number | null | undefined, field: Field): string =>
  formatFieldValue(field, value ?? null);

const by = (name: keyof typeof ways) =>
  way({
    operand: 'number',
    compile: (asked, value) => compared(asked, ways[name][0], value),
    holds: (actual, value) => ways[name][1](Number(actual), value),
    words: (value, field) => `is ${name === 'is' ? '' : `${name} `}${said(value, field)}`,
  });

export const numberWays = {
  is: by('is'),
  'is not': way({
    operand: 'number',
    empty: true,
    compile: (asked, value) => compared(asked, '<>', value),
    holds: (actual, value) => actual !== value,
    words: (value, field) => `is not ${said(value, field)}`,
  }),
  'more than': by('more than'),
  'at least': by('at least'),
  'less than': by('less than'),
  'at most': by('at most'),
  between: way({
    operand: 'numbers',
    compile: (asked, [from, to]) => [
      asked.column,
      ' between ',
      { param: from ?? 0, type: 'numeric' },
      ' and ',
      { param: to ?? 0, type: 'numeric' },
    ],
    holds: (actual, [from, to]) => Number(actual) >= (from ?? 0) && Number(actual) <= (to ?? 0),
    words: ([from, to], field) => `is from ${said(from, field)} to ${said(to, field)}`,
  }),
  'is empty': isEmpty,
  'is filled': isFilled,
} as const;
