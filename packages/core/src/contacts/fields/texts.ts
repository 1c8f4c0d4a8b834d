// Texts: a line, several lines, a link.
import { searchKey } from '../text.js';
import { isString, type TypeOfField } from './kind.js';

const asText: TypeOfField = {
  fits: isString,
  format: String,
  key: searchKey,
  isMade: true,
};

export const text = asText;
export const longText = asText;
export const link: TypeOfField = {
  ...asText,
  // Whoever looks for an address types it without what stands before it.
  key: (value) => searchKey(value).replace(/^https?:\/\//, ''),
};
