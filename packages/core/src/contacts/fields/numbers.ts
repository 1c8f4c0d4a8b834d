// Numbers: plain, amounts of money, and what is computed from a day.
import { isNumber, type TypeOfField } from './kind.js';

export const number: TypeOfField = { fits: isNumber, format: String, isMade: true };

const formats = new Map<string, Intl.NumberFormat>();

function moneyFormat(currency: string, language: string): Intl.NumberFormat {
  const key = `${currency} ${language}`;
  let format = formats.get(key);
  if (!format) {
    format = new Intl.NumberFormat(language, { style: 'currency', currency });
    formats.set(key, format);
  }
  return format;
}

/** How many digits follow the point in amounts of a currency (ISO 4217). */
export const minorDigits = (currency: string): number =>
  moneyFormat(currency, 'en').resolvedOptions().maximumFractionDigits ?? 2;

/** No currency in particular (ISO 4217); every field of money has one. */
const SOME = 'XXX';

export const money: TypeOfField = {
  fits: isNumber,
  format: (value, { currency = SOME }) => moneyFormat(currency, 'en').format(Number(value)),
  read: (value, { currency = SOME }, language) =>
    moneyFormat(currency, language).format(Number(value)),
  isMade: true,
};

export const computed: TypeOfField = { fits: isNumber, format: String, isMade: true };
