// One choice of several, several of them, and yes or no.
import type { Choice, Field } from './field.js';
import { isString, type TypeOfField } from './kind.js';

/** What can still be chosen. */
export const offered = ({ choices = [] }: Pick<Field, 'choices'>): readonly Choice[] =>
  choices.filter(({ isGone }) => !isGone);

export const choice: TypeOfField = {
  fits: isString,
  format: (value, { choices }) => choices?.find(({ key }) => key === value)?.label ?? String(value),
  isMade: true,
};

/** Several keys are kept as one text, in the order of the keys. */
export const joinKeys = (keys: readonly string[]): string =>
  [...new Set(keys)].sort((one, other) => (one < other ? -1 : 1)).join(',');
export const splitKeys = (value: string): string[] => value.split(',').filter((key) => key !== '');

export const choices: TypeOfField = {
  fits: isString,
  format: (value, { choices: all = [] }) => {
    const keys = new Set(splitKeys(String(value)));
    const known = all.filter(({ key }) => keys.has(key)).map(({ label }) => label);
    for (const { key } of all) keys.delete(key);
    const strange = [...keys];
    return [...known, ...strange].join(', ');
  },
  isMade: true,
};

export const yesOrNo: TypeOfField = {
  fits: (value) => typeof value === 'boolean',
  format: (value) => (value === true ? 'yes' : value === false ? 'no' : String(value)),
  isMade: true,
};
