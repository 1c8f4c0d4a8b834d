// Ways of asking a number.
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

const by = (name: keyof typeof ways) =>
  way({
    operand: 'number',
    compile: (asked, value) => compared(asked, ways[name][0], value),
    holds: (actual, value) => ways[name][1](Number(actual), value),
    words: (value) => (name === 'is' ? `is ${value}` : `is ${name} ${value}`),
  });

export const numberWays = {
  is: by('is'),
  'is not': way({
    operand: 'number',
    empty: true,
    compile: (asked, value) => compared(asked, '<>', value),
    holds: (actual, value) => actual !== value,
    words: (value) => `is not ${value}`,
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
    words: ([from, to]) => `is from ${from} to ${to}`,
  }),
  'is empty': isEmpty,
  'is filled': isFilled,
} as const;
