// What the cell of a spreadsheet shows: numbers are kept apart from their format, and days are numbers, too
// (ECMA-376 part 1, 18.8.30 and 18.17.4).

export type CellFormat = 'plain' | 'day' | 'moment' | 'clock' | { readonly digits: number };

/** Formats that every program knows by number. */
const builtIn: Readonly<Record<number, CellFormat>> = {
  ...Object.fromEntries(
    [14, 15, 16, 17, 27, 28, 29, 30, 31, 36, 50, 51, 52, 53, 54, 55, 56, 57, 58].map((id) => [
      id,
      'day',
    ]),
  ),
  22: 'moment',
  ...Object.fromEntries([18, 19, 20, 21, 32, 33, 34, 35, 45, 46, 47].map((id) => [id, 'clock'])),
};

/** `code` of an own format, where it has one. */
export function cellFormat(id: number, code: string | undefined): CellFormat {
  if (code === undefined) return builtIn[id] ?? 'plain';
  // Texts, colours and escaped signs are no placeholders; a second part is for negative numbers.
  const bare = code
    .slice(0, 300)
    .replace(/"[^"]*"|\\.|_.|\*./g, '')
    .replace(/\[[^[\]]*\]/g, (part) => (/^\[[hms]+\]$/i.test(part) ? part : ''))
    .split(';')[0] as string;
  if (/^0{2,20}$/.test(bare)) return { digits: bare.length };
  const hasDay = /[yd]/i.test(bare) || /m{3,}/i.test(bare);
  const hasClock = /[hs]/i.test(bare);
  if (/general/i.test(bare) || (!hasDay && !hasClock)) return 'plain';
  return hasDay ? (hasClock ? 'moment' : 'day') : 'clock';
}

const DAY_MS = 86_400_000;
/** The last day of the year 9999. */
const LAST = 2_958_465;

/** Days since 30 December 1899, or 1 January 1904 in older Macintosh files; the first two months know a 29 February that never was. */
function dateOf(serial: number, from1904: boolean): Date {
  const epoch = from1904 ? Date.UTC(1904, 0, 1) : Date.UTC(1899, 11, serial < 60 ? 31 : 30);
  // To the second: a fraction is not a whole number of milliseconds.
  return new Date(epoch + Math.round((serial * DAY_MS) / 1000) * 1000);
}

/** A number as its cell shows it, days as `2026-03-02`, moments as `2026-03-02 09:30`. Not the marks between thousands. */
export function shownNumber(text: string, format: CellFormat, from1904 = false): string {
  const number = Number(text);
  if (text.trim() === '' || !Number.isFinite(number)) return text;
  if (typeof format === 'object')
    return Number.isInteger(number) && number >= 0
      ? String(number).padStart(format.digits, '0')
      : String(number);
  if (format === 'plain' || number < 0 || number > LAST) return plainNumber(number);
  const date = dateOf(number, from1904);
  if (date.getUTCFullYear() > 9999) return plainNumber(number);
  const iso = date.toISOString();
  const clock = iso.slice(11, 16);
  if (format === 'clock' && number < 1) return clock;
  return format === 'day' || number % 1 === 0 ? iso.slice(0, 10) : `${iso.slice(0, 10)} ${clock}`;
}

/** Fifteen digits, as spreadsheets show them at most; no power of ten where a number has less than 22. */
function plainNumber(number: number): string {
  return String(Number(number.toPrecision(15)));
}
