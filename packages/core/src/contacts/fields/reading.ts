// How typed or imported text becomes a value: one reader for each type of field.
import parsePhoneNumber, { type CountryCode } from 'libphonenumber-js/min';
import { fail, ok, urlOf, type Result } from '../../kernel/index.js';
import { addressProblems, parseAddress } from '../address.js';
import { beginning, manyLines, oneLine, searchKey } from '../text.js';
import { joinKeys, offered } from './choices.js';
import { dayOrders, isEitherDay, parseDay, type DayOrder } from './day-text.js';
import { FIELD_LIMITS, type Field, type FieldType, type FieldValue } from './field.js';
import { minorDigits } from './numbers.js';

/** What is known of where a text comes from: which comes first in days of figures, and in which country (ISO 3166) numbers are dialled. */
export interface Origin {
  readonly order?: DayOrder | undefined;
  readonly country?: string | undefined;
}

/** `text` is not empty, and in one line except for long text. The error follows the field's name. */
type Reader = (text: string, field: Field, origin?: Origin) => Result<FieldValue, string>;

const YES = new Set(['yes', 'y', 'true', '1', 'x']);
const NO = new Set(['no', 'n', 'false', '0']);

const withinLimit =
  (most: number): Reader =>
  (text) =>
    // Nothing but loose marks leaves nothing to compare by, and nothing to read.
    searchKey(text) === ''
      ? ok(null)
      : text.length > most
        ? fail(`is longer than ${most.toLocaleString('en')} signs`)
        : ok(text);

const wrong = (wanted: string, text: string): Result<FieldValue, string> =>
  fail(`needs ${wanted}, not “${text.length > 80 ? `${beginning(text, 80)}…` : text}”`);

/** `1,200` and `1.200,5` have marks between their thousands; `1.2` and `1,2` have a point. */
function plainNumber(text: string): string {
  const bare = text.replace(/[\s'’]/g, '');
  if (/^-?\d{1,3}(?:,\d{3})+(?:\.\d+)?$/.test(bare)) return bare.replaceAll(',', '');
  if (/^-?\d{1,3}(?:\.\d{3})+,\d+$/.test(bare)) return bare.replaceAll('.', '').replace(',', '.');
  return bare.replace(/^(-?\d+),(\d+)$/, '$1.$2');
}

const readNumber: Reader = (text) => {
  // There is one zero: “-0” is written as 0.
  const number = Number(plainNumber(text)) + 0;
  return Number.isFinite(number) && Math.abs(number) < 1e15 ? ok(number) : wrong('a number', text);
};

/** An amount, with or without its currency’s sign or code before or behind it: `-CA$1.50`, `€ -3`, `12 DKK`. */
const AMOUNT =
  /^([-−]?)(?:[a-z]{0,4}\p{Sc}|[a-z]{2,4})?([-−]?)([\d.,]+)(?:[a-z]{0,4}\p{Sc}|[a-z]{2,4})?$/iu;

/**
 * The last mark of an amount is its point, unless three digits follow it and there is no other kind of mark: then it
 * parts the thousands, because hardly a currency has three digits.
 */
const readMoney: Reader = (text, { currency = 'XXX' }) => {
  const digits = minorDigits(currency);
  const [, before = '', behindSign = '', bare = ''] =
    AMOUNT.exec(text.replace(/[\s'’]/g, '')) ?? [];
  const point = Math.max(bare.lastIndexOf('.'), bare.lastIndexOf(','));
  const behind = bare.length - point - 1;
  const hasPoint =
    point >= 0 && (behind !== 3 || digits === 3 || (bare.includes('.') && bare.includes(',')));
  const whole = (hasPoint ? bare.slice(0, point) : bare).replace(/[.,]/g, '');
  const part = hasPoint ? bare.slice(point + 1) : '';
  const sign = before === '' && behindSign === '' ? 1 : -1;
  const amount = sign * Number(`${whole}.${part}`) + 0;
  if (!/\d/.test(bare) || Number.isNaN(amount) || (before !== '' && behindSign !== ''))
    return wrong('an amount such as 1200.50', text);
  if (part.length > digits)
    return wrong(`an amount with at most ${digits} digits behind the point`, text);
  return Math.abs(amount) < 1e13 ? ok(amount) : wrong('a smaller amount', text);
};

/** The choices that a text may mean, by how they are compared, of the last fields that were asked. */
const choiceKeys = new WeakMap<object, ReadonlyMap<string, string>>();

function keysOf(field: Field): ReadonlyMap<string, string> {
  const list = field.choices ?? NONE;
  let known = choiceKeys.get(list);
  if (!known) {
    const keys = new Map<string, string>();
    // The first of those that are called alike.
    for (const { key, label } of offered(field))
      if (!keys.has(searchKey(label))) keys.set(searchKey(label), key);
    for (const { key } of offered(field)) if (!keys.has(key)) keys.set(key, key);
    choiceKeys.set(list, keys);
    known = keys;
  }
  return known;
}
const NONE: readonly never[] = [];

const readChoice: Reader = (text, field) => {
  const word = beginning(text, LONGEST_CHOICE);
  const key = keysOf(field).get(searchKey(word)) ?? keysOf(field).get(word);
  return key === undefined || word !== text
    ? fail(`has no choice “${beginning(text, 80)}”`)
    : ok(key);
};

/** Longer than any choice is called, with white space and marks. */
const LONGEST_CHOICE = 300;

const readChoices: Reader = (text, field) => {
  const keys: string[] = [];
  for (const part of text.split(/[,;|]/).slice(0, 1000)) {
    const word = part.trim();
    if (word === '') continue;
    const read = readChoice(word, field);
    if (!read.ok) return read;
    keys.push(String(read.value));
  }
  return ok(keys.length === 0 ? null : joinKeys(keys));
};

const readLink: Reader = (text) => {
  // `example.org:8080` has a port, no scheme.
  const whole = /^[a-z][a-z\d+.-]*:(?!\d)/i.test(text) ? text : `https://${text}`;
  if (whole.length > FIELD_LIMITS.text) return fail('is too long for a link');
  const { protocol, hostname, href } = urlOf(whole) ?? {};
  if (
    href !== undefined &&
    (protocol === 'https:' || protocol === 'http:') &&
    hostname?.includes('.') &&
    !/\s/.test(text)
  )
    return href.length > FIELD_LIMITS.text ? fail('is too long for a link') : ok(whole);
  return wrong('a link such as https://example.org', text);
};

/** As the office's country writes it, abroad with the country's code; an office without a country keeps what is no number of the world as it is. */
const readPhone: Reader = (text, { dialling }, { country = dialling?.country } = {}) => {
  if (text.length > 60) return wrong('one telephone number', text);
  const number = parsePhoneNumber(text, country as CountryCode | undefined);
  if (!number?.isPossible())
    return !dialling && /^[\d\s()/.+-]{3,}$/.test(text)
      ? ok(text)
      : wrong('a telephone number', text);
  return ok(
    number.countryCallingCode === dialling?.code
      ? number.formatNational()
      : number.formatInternational(),
  );
};

/** Several, one by one; the first that can't be read is named. */
const several =
  (read: Reader, between: RegExp): Reader =>
  (text, field, origin) => {
    const found: string[] = [];
    for (const part of text.split(between)) {
      if (part.trim() === '') continue;
      const one = read(part.trim(), field, origin);
      if (!one.ok) return one;
      if (typeof one.value === 'string' && !found.includes(one.value)) found.push(one.value);
      if (found.length > FIELD_LIMITS.lines) return fail(`has room for ${FIELD_LIMITS.lines} only`);
    }
    return ok(found.length === 0 ? null : found.join('\n'));
  };

const readAddress: Reader = (text) => {
  const parsed = parseAddress(text);
  return parsed.ok
    ? ok(parsed.value.address)
    : fail(`has “${beginning(text, 80)}”: ${addressProblems[parsed.error]}`);
};

export const readers: { readonly [T in FieldType]: Reader } = {
  text: withinLimit(FIELD_LIMITS.text),
  'long text': withinLimit(FIELD_LIMITS.longText),
  number: readNumber,
  money: readMoney,
  date: (text, _, { order } = {}) => {
    const day = parseDay(text, order);
    if (day) return ok(day);
    return isEitherDay(text)
      ? fail(
          `is ${dayOrders.map((one) => parseDay(text, one)).join(' or ')}, “${text}”: say whether the day or the month comes first`,
        )
      : wrong('a day such as 2026-03-02', text);
  },
  'yes or no': (text) => {
    const word = searchKey(text);
    if (YES.has(word)) return ok(true);
    return NO.has(word) ? ok(false) : wrong('yes or no', text);
  },
  choice: readChoice,
  choices: readChoices,
  link: readLink,
  computed: () => fail('is computed; change the day that it is counted from'),
  phone: readPhone,
  phones: several(readPhone, /[;\n|]|,(?=\s)/),
  addresses: several(readAddress, /[;,\s|]+/),
};

/** Types whose values may have several lines. */
const hasLines: ReadonlySet<FieldType> = new Set(['long text', 'phones', 'addresses']);

/** Reads what was typed or imported into a field; an empty text clears it. */
export function parseFieldValue(
  field: Field,
  text: string,
  origin?: Origin,
): Result<FieldValue, string> {
  const clean = hasLines.has(field.type) ? manyLines(text) : oneLine(text);
  if (clean === '') return ok(null);
  const read = readers[field.type](clean, field, origin);
  return read.ok ? read : fail(`${field.label} ${read.error}`);
}
