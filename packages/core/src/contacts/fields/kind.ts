// What a type of field is: how its values are kept, shown and compared. How typed text becomes one stands in `reading.ts`,
// apart, so that the interface does not carry what only the server reads.
import type { Field, FieldValue } from './field.js';

export interface TypeOfField {
  /** Whether what is kept is of this type: after a change of type, it need not be yet. */
  readonly fits: (value: Exclude<FieldValue, null>) => boolean;
  /** As the office reads it, and could type it. */
  readonly format: (value: Exclude<FieldValue, null>, field: Field) => string;
  /** As a reader of a letter reads it, in the letter's language; as the office does, where it is missing. */
  readonly read?: (value: Exclude<FieldValue, null>, field: Field, language: string) => string;
  /** The key by which texts are compared; missing where values are none. An empty key is no value. */
  readonly key?: (text: string, field: Field) => string;
  /** Whether the office can make fields of this type. */
  readonly isMade: boolean;
}

export const isString = (value: unknown): boolean => typeof value === 'string';
export const isNumber = (value: unknown): boolean => typeof value === 'number';
