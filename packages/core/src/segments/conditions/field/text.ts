// Ways of asking a text. Case and accents don't count.
import type { Field } from '../../../contacts/index.js';
import type { Fragment } from '../../fragment.js';
import { comparable, isEmpty, isFilled, way, type Asked } from './way.js';

/** `%`, `_` and the escape itself stand for themselves in a LIKE pattern. */
const literally = (text: string): string => text.replace(/[\\%_]/g, '\\$&');

const like = (
  { column, field }: Asked,
  text: string,
  [before, after]: [string, string],
): Fragment => [
  column,
  ' like ',
  { param: `${before}${literally(comparable(field, text))}${after}`, type: 'text' },
];

/** A few of them, and how many more. */
const listed = (texts: readonly string[]): string =>
  texts.length > 6
    ? `${texts.slice(0, 4).join(' or ')} or one of ${(texts.length - 4).toLocaleString('en')} more`
    : texts.join(' or ');

const keysOf = (field: Field, texts: readonly string[]): string[] =>
  texts.map((text) => comparable(field, text)).filter((text) => text !== '');

/** A list is made a table of, which is looked up in once; a long one would be gone through for everybody. */
const among = ({ column, field }: Asked, texts: readonly string[]): Fragment => [
  column,
  ' in (select unnest(',
  { param: keysOf(field, texts), type: 'text[]' },
  '))',
];

export const textWays = {
  is: way({
    operand: 'text',
    compile: ({ column, field }, text) =>
      field.key === 'address'
        ? [column, ' = ', { param: comparable(field, text), type: 'text' }]
        : [
            { ref: { of: 'keys' } },
            ' @> ',
            { param: JSON.stringify({ [field.key]: comparable(field, text) }), type: 'jsonb' },
          ],
    holds: (actual, text, { field }) => actual === comparable(field, text),
    words: (text) => `is ${text}`,
  }),
  'is not': way({
    operand: 'text',
    empty: true,
    compile: ({ column, field }, text) => [
      column,
      ' <> ',
      { param: comparable(field, text), type: 'text' },
    ],
    holds: (actual, text, { field }) => actual !== comparable(field, text),
    words: (text) => `is not ${text}`,
  }),
  'is one of': way({
    operand: 'texts',
    compile: among,
    holds: (actual, texts, { field }) => keysOf(field, texts).includes(String(actual)),
    words: (texts) => `is ${listed(texts)}`,
  }),
  'is none of': way({
    operand: 'texts',
    empty: true,
    compile: (asked, texts) => ['not (', ...among(asked, texts), ')'],
    holds: (actual, texts, { field }) => !keysOf(field, texts).includes(String(actual)),
    words: (texts) => `is not ${listed(texts)}`,
  }),
  contains: way({
    operand: 'text',
    compile: (asked, text) => like(asked, text, ['%', '%']),
    holds: (actual, text, { field }) => String(actual).includes(comparable(field, text)),
    words: (text) => `contains ${text}`,
  }),
  'does not contain': way({
    operand: 'text',
    empty: true,
    compile: (asked, text) => ['not (', ...like(asked, text, ['%', '%']), ')'],
    holds: (actual, text, { field }) => !String(actual).includes(comparable(field, text)),
    words: (text) => `does not contain ${text}`,
  }),
  'starts with': way({
    operand: 'text',
    compile: (asked, text) => like(asked, text, ['', '%']),
    holds: (actual, text, { field }) => String(actual).startsWith(comparable(field, text)),
    words: (text) => `starts with ${text}`,
  }),
  'ends with': way({
    operand: 'text',
    compile: (asked, text) => like(asked, text, ['%', '']),
    holds: (actual, text, { field }) => String(actual).endsWith(comparable(field, text)),
    words: (text) => `ends with ${text}`,
  }),
  between: way({
    operand: 'bounds',
    compile: ({ column, field }, [from, to]) => {
      const last = comparable(field, to ?? '');
      return [
        column,
        ' collate "C" >= ',
        { param: comparable(field, from ?? ''), type: 'text' },
        ' and left(',
        column,
        ', ',
        { param: [...last].length, type: 'int' },
        ') collate "C" <= ',
        { param: last, type: 'text' },
      ];
    },
    holds: (actual, [from, to], { field }) => {
      const [own, last] = [[...String(actual)], [...comparable(field, to ?? '')]];
      return (
        inOrder([...comparable(field, from ?? '')], own) && inOrder(own.slice(0, last.length), last)
      );
    },
    words: ([from, to]) => `is from ${from ?? '…'} to ${to ?? '…'}`,
  }),
  'is empty': isEmpty,
  'is filled': isFilled,
} as const;

/** Whether one text comes before another, or is it, sign by sign, as the database compares. */
function inOrder(one: readonly string[], other: readonly string[]): boolean {
  for (const [at, sign] of one.entries()) {
    const against = other[at];
    if (against === undefined) return false;
    if (sign !== against) return (sign.codePointAt(0) ?? 0) < (against.codePointAt(0) ?? 0);
  }
  return true;
}

/** Several lines are not compared as one. */
export const linesWays = {
  contains: textWays.contains,
  'does not contain': textWays['does not contain'],
  'is empty': isEmpty,
  'is filled': isFilled,
} as const;
