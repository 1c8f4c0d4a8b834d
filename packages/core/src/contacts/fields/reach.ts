// How somebody is reached: telephone numbers, and further addresses.
import { parseAddress, shownAddressKey } from '../address.js';
import type { Dialling, Field } from './field.js';
import { isString, type TypeOfField } from './kind.js';

/** Several are kept as one text, a line for each. */
export const lines = (value: string): string[] => value.split('\n').filter((line) => line !== '');
const inOneLine = (value: unknown): string => lines(String(value)).join('; ');

/**
 * The digits of a number as it is dialled from abroad, as far as that can be told: `+44 1632 960123` and, in an office
 * of that country, `01632 960123` both are `441632960123`. Beginnings of numbers work, so an area code finds its people.
 */
export function phoneKey(text: string, { dialling }: Pick<Field, 'dialling'>): string {
  const begin = text.trimStart();
  // What follows an extension's sign is not part of the number.
  const digits = (begin.split(/x|ext/i)[0] ?? '').replace(/\D/g, '');
  if (begin.startsWith('+')) return digits;
  if (digits.startsWith('00')) return digits.slice(2);
  if (!dialling) return digits;
  const { code, trunk } = dialling;
  return trunk !== '' && digits.startsWith(trunk) ? code + digits.slice(trunk.length) : digits;
}

/** The digits of a number, or of a part of one, as it is written; of several, a line for each. */
export const phoneDigits = (text: string): string => text.replace(/[^\d\n]/g, '');

/** The keys of numbers as they are dialled at home, where they are of the office's country: `01632960123`. */
export const atHome = (keys: string, { code, trunk }: Dialling): string =>
  keys
    .split(' ')
    .map((key) => (key.startsWith(code) ? trunk + key.slice(code.length) : key))
    .join(' ');

export const phone: TypeOfField = {
  fits: isString,
  format: String,
  key: phoneKey,
  isMade: false,
};

export const phones: TypeOfField = {
  fits: isString,
  format: inOneLine,
  key: (value, field) =>
    lines(value)
      .map((line) => phoneKey(line, field))
      .join(' '),
  isMade: false,
};

export const addresses: TypeOfField = {
  fits: isString,
  format: inOneLine,
  key: (value) =>
    lines(value)
      .flatMap((line) => {
        const parsed = parseAddress(line);
        const shown = shownAddressKey(line);
        return parsed.ok && parsed.value.key !== shown ? [parsed.value.key, shown] : [shown];
      })
      .join(' '),
  isMade: false,
};
