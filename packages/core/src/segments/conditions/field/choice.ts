// Ways of asking one choice of several, and yes or no.
import type { Field } from '../../../contacts/index.js';
import { isEmpty, isFilled, way } from './way.js';

const labels = (field: Field, keys: readonly string[]): string =>
  keys.map((key) => field.choices?.find((choice) => choice.key === key)?.label ?? key).join(' or ');

export const choiceWays = {
  'is one of': way({
    operand: 'choices',
    compile: ({ column }, keys) => [column, ' = any(', { param: keys, type: 'text[]' }, ')'],
    holds: (actual, keys) => keys.includes(String(actual)),
    words: (keys, field) => `is ${labels(field, keys)}`,
  }),
  'is none of': way({
    operand: 'choices',
    empty: true,
    compile: ({ column }, keys) => [column, ' <> all(', { param: keys, type: 'text[]' }, ')'],
    holds: (actual, keys) => !keys.includes(String(actual)),
    words: (keys, field) => `is not ${labels(field, keys)}`,
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
