// Reading an uploaded file: which encoding, which separator, and its rows one after another.
import { parse, type CsvError, type Parser } from 'csv-parse';
import { beginning, type Field } from '@palabra/core/contacts';
import {
  findHeader,
  findSeparator,
  guessed,
  HEADER_ROWS,
  likeliness,
  oddWords,
  saidSeparator,
  type Encoding,
  type ImportKind,
  type Separator,
} from '@palabra/core/intake';
import { Problem } from '../platform/problem.js';
import { beginningOf, inTurn } from '../platform/upload.js';
import { refuse } from './intake.refusals.js';

const SAMPLE_ROWS = 5;
const MAX_COLUMNS = 200;
const MAX_CELL = 200_000;
/** A row of a torn table may have more columns than are taken; of one with more than this nothing is read. */
const COLUMNS_READ = 5000;
/** So many bytes are given to the parser at a time. */
const SLICE = 4096;

/** So much of a file is looked at for the words in it. */
const LOOKED_AT = 65_536;

/** An encoding, and the first words by which one sees whether it is the right one. */
export interface Guess {
  readonly encoding: Encoding;
  readonly words: readonly string[];
}

/**
 * The likeliest encodings of a file, the best first. A mark at the beginning decides at once; so does UTF-8, which nothing
 * else looks like by accident, but for a stray byte in many signs that fit.
 */
export async function guessEncodings(pieces: readonly Buffer[]): Promise<Guess[]> {
  const sample = beginningOf(pieces, LOOKED_AT);
  const guess = (encoding: Encoding): Guess => ({
    encoding,
    words: oddWords(begun(sample, encoding), 4),
  });
  const wide = wideEncoding(sample);
  if (wide) return [guess(wide)];
  const decoder = new TextDecoder('utf-8');
  let [fit, stray] = [0, 0];
  const count = (text: string): void => {
    for (const sign of text)
      if (sign === '\ufffd') stray++;
      else if (sign > '\u007f') fit++;
  };
  for await (const piece of inTurn(pieces)) count(decoder.decode(piece, { stream: true }));
  count(decoder.decode());
  if (stray === 0) return [guess('utf-8')];
  const others = guessed
    .map((encoding) => ({ encoding, score: likeliness(begun(sample, encoding)) }))
    .sort((a, b) => b.score - a.score)
    .map(({ encoding }) => guess(encoding))
    // Those that read the same are one to whoever looks.
    .filter(
      ({ words }, at, all) => all.findIndex((one) => one.words.join() === words.join()) === at,
    )
    .slice(0, 3);
  // A byte that fits nothing is read as a sign of its own; the names around it are not lost for it.
  return fit >= stray * 4 ? [guess('utf-8'), ...others] : [...others, guess('utf-8')];
}

/** The beginning of a text; a sign that is cut in two at its end is left out. */
const begun = (sample: Buffer, encoding: Encoding): string =>
  new TextDecoder(encoding).decode(sample, { stream: true });

/** UTF-16, by its mark or by every other byte being zero. */
function wideEncoding(sample: Buffer): Encoding | undefined {
  const [first, second] = sample;
  if (first === 0xff && second === 0xfe) return 'utf-16le';
  if (first === 0xfe && second === 0xff) return 'utf-16be';
  const zeros = (from: number): number => {
    let count = 0;
    for (let at = from; at < sample.length; at += 2) if (sample[at] === 0) count++;
    return count;
  };
  const half = sample.length / 2;
  const [even, odd] = [zeros(0), zeros(1)];
  if (half < 4) return undefined;
  if (odd > half * 0.4 && even < half * 0.05) return 'utf-16le';
  return even > half * 0.4 && odd < half * 0.05 ? 'utf-16be' : undefined;
}

/** Texts that hold people, but no table of them. */
const otherKinds: readonly (readonly [RegExp, string])[] = [
  [/^(version: \d|dn:{1,2} )/i, 'an LDIF file'],
  [/^<(!doctype html|html|head|body|table)\b/i, 'a web page'],
  [/^<\?xml\b/i, 'an XML file'],
  [/^(\{\s*"|\[\s*[[{"])/, 'a JSON file'],
];

/** Refuses what is no table of text at all. */
export function refuseBinary(pieces: readonly Buffer[], encoding: Encoding): void {
  const sample = beginningOf(pieces, 100_000);
  if (sample.subarray(0, 4).toString('latin1') === '%PDF') throw refuse('pdf');
  const text = decode(sample.subarray(0, 2000), encoding)
    .replace(/^\ufeff/, '')
    .trimStart();
  const kind = otherKinds.find(([pattern]) => pattern.test(text));
  if (kind) throw refuse('no-table', kind[1]);
  if (encoding.startsWith('utf-16')) return;
  const zeros = sample.filter((byte) => byte === 0).length;
  if (zeros > sample.length / 20) throw refuse('no-text');
}

const decode = (contents: Buffer, encoding: Encoding): string =>
  new TextDecoder(encoding).decode(contents);

export const separatorOf = (pieces: readonly Buffer[], encoding: Encoding): Separator =>
  findSeparator(decode(beginningOf(pieces, 65_536), encoding));

/**
 * A cell as text: NUL signs are dropped, they can't be kept; so is the apostrophe that stands before a sign with
 * which a formula begins, as we and spreadsheet programs write it.
 */
const cell = (text: string): string => text.replaceAll('\0', '').replace(/^'(?=[=+\-@\t\r])/, '');

function parser(separator: Separator): Parser {
  return parse({
    info: true,
    delimiter: separator,
    relax_quotes: true,
    relax_column_count: true,
    skip_empty_lines: true,
    bom: true,
    max_record_size: 2_000_000,
    record_delimiter: ['\r\n', '\n', '\r'],
  });
}

export interface FileRow {
  readonly cells: string[];
  /** Line of the file on which it begins, from 1. */
  readonly line: number;
}

const breaksIn = (row: readonly string[], pattern: RegExp): number =>
  row.reduce((sum, text) => sum + (text.match(pattern)?.length ?? 0), 0);

/**
 * The rows of a file, empty ones and a line that only says the separator left out. A table that was made of something else
 * has a row for each of the rows or cards there, and they are called by these.
 */
export async function* rowsOf(
  pieces: AsyncIterable<Buffer>,
  encoding: Encoding,
  separator: Separator,
  kind: ImportKind = 'text',
): AsyncGenerator<FileRow> {
  const decoder = new TextDecoder(encoding);
  const csv = parser(separator);
  const feed = (async () => {
    for await (const piece of pieces)
      // Thousands of short rows stand in one piece, and are handed on without a pause for anybody else; here is one.
      for (let at = 0; at < piece.length; at += SLICE) {
        if (!csv.write(decoder.decode(piece.subarray(at, at + SLICE), { stream: true })))
          await new Promise((resolve) => csv.once('drain', resolve));
        await new Promise(setImmediate);
      }
    csv.end(decoder.decode());
  })();
  feed.catch((error: unknown) => csv.destroy(error as Error));
  let isFirst = true;
  // The parser counts a line break of two signs inside quotation marks as two lines.
  let tooMany = 0;
  // The first row of a table of cards is its header.
  let place = kind === 'cards' ? -1 : 0;
  try {
    for await (const { record: row, info } of csv as AsyncIterable<{
      record: string[];
      info: { lines: number };
    }>) {
      // No table has as many; nothing is done with each of them.
      if (row.length > COLUMNS_READ) throw refuse('many-columns', MAX_COLUMNS);
      tooMany += breaksIn(row, /\r\n/g);
      place++;
      const line =
        kind === 'text' ? info.lines - tooMany - breaksIn(row, /\r\n?|\n/g) : Math.max(place, 1);
      const isSaid = isFirst && saidSeparator(row.join(separator)) !== undefined;
      isFirst = false;
      if (isSaid) continue;
      const cells = row.map(cell);
      if (cells.some((one) => one.trim() !== '')) yield { cells, line };
    }
    await feed;
  } catch (error) {
    if (error instanceof Problem) throw error;
    const { code, lines } = error as CsvError & { lines?: number };
    throw refuse('torn-table', lines, code === 'CSV_QUOTE_NOT_CLOSED');
  } finally {
    csv.destroy();
  }
}

export interface Shape {
  /** Place of the row that names the columns, from 0; null where none does. */
  readonly headerAt: number | null;
  /** The first rows of the file as they stand there, cut. */
  readonly beginning: string[][];
  readonly headers: string[];
  readonly sample: string[][];
  readonly rows: number;
}

/** Rows above the people: titles and the header. */
export const rowsAbove = (headerAt: number | null): number =>
  headerAt === null ? 0 : headerAt + 1;

const BEGINNING = { rows: 8, cells: 6, signs: 60 } as const;
const cut = (row: readonly string[], cells: number, signs: number): string[] =>
  row.slice(0, cells).map((text) => beginning(text, signs));

/** Headers, first rows, and how many rows there are. The header is found by content where `headerAt` does not say it. */
export async function shapeOf(
  pieces: AsyncIterable<Buffer>,
  encoding: Encoding,
  separator: Separator,
  fields: readonly Field[],
  headerAt?: number | null,
  kind: ImportKind = 'text',
): Promise<Shape> {
  const first: string[][] = [];
  let rows = 0;
  for await (const { cells: row, line } of rowsOf(pieces, encoding, separator, kind)) {
    rows++;
    if (first.length < HEADER_ROWS + SAMPLE_ROWS) first.push(cut(row, MAX_COLUMNS + 1, 200));
    if (row.some((text) => text.length > MAX_CELL)) throw refuse('long-cell', line, MAX_CELL);
  }
  if (rows === 0) throw refuse('empty');
  const at = headerAt === undefined ? findHeader(first, fields) : headerAt;
  const people = first.slice(rowsAbove(at));
  const names = at === null ? [] : (first[at] ?? []);
  const width = at === null ? Math.max(0, ...people.map((row) => row.length)) : names.length;
  if (width > MAX_COLUMNS) throw refuse('many-columns', MAX_COLUMNS);
  if (rows <= rowsAbove(at)) throw refuse('header-alone');
  return {
    headerAt: at,
    beginning: first
      .slice(0, BEGINNING.rows)
      .map((row) => cut(row, BEGINNING.cells, BEGINNING.signs)),
    headers: Array.from({ length: width }, (_, column) => (names[column] ?? '').trim()),
    sample: people.slice(0, SAMPLE_ROWS).map((row) => row.slice(0, width)),
    rows: rows - rowsAbove(at),
  };
}
