// Ways of asking one choice of several, several of them, and yes or no.
import { splitKeys, type Field } from '../../../contacts/index.js';
import type { Fragment } from '../../fragment.js';
import { isEmpty, isFilled, way, type Asked } from './way.js';

const labels = (field: Field, keys: readonly string[], link = ' or '): string =>
  keys.map((key) => field.choices?.find((choice) => choice.key === key)?.label ?? key).join(link);

/** A field whose choices are not known is asked for whatever is kept in it. */
const areChoices = (keys: readonly string[], { choices = [] }: Field): boolean =>
  choices.length === 0 || keys.every((key) => choices.some((choice) => choice.key === key));

export const choiceWays = {
  'is one of': way({
    operand: 'choices',
    says: areChoices,
    compile: ({ column }, keys) => [column, ' = any(', { param: keys, type: 'text[]' }, ')'],
    holds: (actual, keys) => keys.includes(String(actual)),
    words: (keys, field) => `is ${labels(field, keys)}`,
  }),
  'is none of': way({
    operand: 'choices',
    says: areChoices,
    empty: true,
    compile: ({ column }, keys) => [column, ' <> all(', { param: keys, type: 'text[]' }, ')'],
    holds: (actual, keys) => !keys.includes(String(actual)),
    words: (keys, field) => `is not ${labels(field, keys)}`,
  }),
  'is empty': isEmpty,
  'is filled': isFilled,
} as const;

/** Several are kept as one text. */
const have = ({ column }: Asked, sign: '&&' | '@>', keys: readonly string[]): Fragment => [
  'string_to_array(',
  column,
  `, ',') ${sign} `,
  { param: keys, type: 'text[]' },
];
const hasAny = (actual: unknown, keys: readonly string[]): boolean =>
  splitKeys(String(actual)).some((key) => keys.includes(key));

export const choicesWays = {
  'has any of': way({
    operand: 'choices',
    says: areChoices,
    compile: (asked, keys) => have(asked, '&&', keys),
    holds: hasAny,
    words: (keys, field) => `include ${labels(field, keys)}`,
  }),
  'has all of': way({
    operand: 'choices',
    says: areChoices,
    compile: (asked, keys) => have(asked, '@>', keys),
    holds: (actual, keys) => {
      const own = splitKeys(String(actual));
      return keys.every((key) => own.includes(key));
    },
    words: (keys, field) => `include ${labels(field, keys, ' and ')}`,
  }),
  'has none of': way({
    operand: 'choices',
    says: areChoices,
    empty: true,
    compile: (asked, keys) => ['not (', ...have(asked, '&&', keys), ')'],
    holds: (actual, keys) => !hasAny(actual, keys),
    words: (keys, field) => `do not include ${labels(field, keys)}`,
  }),
  'is empty': isEmpty,
  'is filled': isFilled,
} as const;

const answer = (yes: boolean) =>
  way({
    operand: 'none',
    compile: ({ column }) => [column, ` = '${yes}'`],
    holds: (actual) => actual === yes,
    words: () => (yes ? 'is yes' : 'is no'),
  });

export const yesOrNoWays = {
  'is yes': answer(true),
  'is no': answer(false),
  'is empty': isEmpty,
} as const;
