import { isBelonging, type Field } from '@palabra/core/contacts';

/** Fields a column can fill. */
export const importable = (fields: readonly Field[]): Field[] =>
  fields.filter(({ key, isFact }) => !isFact && !isBelonging(key) && key !== 'permission');
