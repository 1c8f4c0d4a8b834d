// Reading an uploaded file: which encoding, which separator, and its rows one after another.
import { parse, type CsvError, type Parser } from 'csv-parse';
import { findSeparator, type Encoding, type Separator } from '@palabra/core/intake';
import { Problem } from '../platform/problem.js';
import { beginningOf, inTurn } from '../platform/upload.js';

const SAMPLE_ROWS = 5;
const MAX_COLUMNS = 200;
const MAX_CELL = 200_000;

/** UTF-8 when every byte of the file fits, else Windows-1252; a byte order mark decides at once. */
export async function findEncoding(pieces: readonly Buffer[]): Promise<Encoding> {
  const [first, second] = beginningOf(pieces, 2);
  if (first === 0xff && second === 0xfe) return 'utf-16le';
  if (first === 0xfe && second === 0xff) return 'utf-16be';
  try {
    const decoder = new TextDecoder('utf-8', { fatal: true });
    for await (const piece of inTurn(pieces)) decoder.decode(piece, { stream: true });
    decoder.decode();
    return 'utf-8';
  } catch {
    return 'windows-1252';
  }
}

/** Refuses what is no table of text at all. */
export function refuseBinary(pieces: readonly Buffer[], encoding: Encoding): void {
  const sample = beginningOf(pieces, 100_000);
  const head = sample.subarray(0, 4);
  if (head.equals(Buffer.from('PK\u0003\u0004', 'latin1'))) throw new Problem(415, 'This is a spreadsheet workbook or an archive. Save the sheet as CSV in your spreadsheet program and bring that.');
  if (head.toString('latin1') === '%PDF') throw new Problem(415, 'This is a PDF. Bring the list as a CSV file.');
  if (encoding.startsWith('utf-16')) return;
  const zeros = sample.filter((byte) => byte === 0).length;
  if (zeros > sample.length / 20) throw new Problem(415, 'This file is not text. Bring the list as a CSV file.');
}

const decode = (contents: Buffer, encoding: Encoding): string => new TextDecoder(encoding).decode(contents);

export const separatorOf = (pieces: readonly Buffer[], encoding: Encoding): Separator => findSeparator(decode(beginningOf(pieces, 65_536), encoding));

/** A cell as text: NUL signs are dropped, they can't be kept. */
const cell = (text: string): string => text.replaceAll('\0', '');

function parser(separator: Separator): Parser {
  return parse({ delimiter: separator, relax_quotes: true, relax_column_count: true, skip_empty_lines: true, bom: true, max_record_size: 2_000_000, record_delimiter: ['\r\n', '\n', '\r'] });
}

/** The rows of a file, header first, empty ones left out. */
export async function* rowsOf(pieces: AsyncIterable<Buffer>, encoding: Encoding, separator: Separator): AsyncGenerator<string[]> {
  const decoder = new TextDecoder(encoding);
  const csv = parser(separator);
  const feed = (async () => {
    for await (const piece of pieces) {
      if (!csv.write(decoder.decode(piece, { stream: true }))) await new Promise((resolve) => csv.once('drain', resolve));
      // Rows are handed on without a pause for anybody else; here is one.
      await new Promise(setImmediate);
    }
    csv.end(decoder.decode());
  })();
  feed.catch((error: unknown) => csv.destroy(error as Error));
  try {
    for await (const row of csv as AsyncIterable<string[]>) {
      const cells = row.map(cell);
      if (cells.some((one) => one.trim() !== '')) yield cells;
    }
    await feed;
  } catch (error) {
    if (error instanceof Problem) throw error;
    const { code, lines } = error as CsvError & { lines?: number };
    throw new Problem(422, `The file can’t be read as a table${lines ? ` from line ${lines} on` : ''}${code === 'CSV_QUOTE_NOT_CLOSED' ? ': a quotation mark is never closed' : ''}. Check the separator, or save it again as CSV.`);
  } finally {
    csv.destroy();
  }
}

export interface Shape {
  readonly headers: string[];
  readonly sample: string[][];
  readonly rows: number;
}

/** Headers, first rows, and how many rows there are. */
export async function shapeOf(pieces: AsyncIterable<Buffer>, encoding: Encoding, separator: Separator): Promise<Shape> {
  let headers: string[] | undefined;
  const sample: string[][] = [];
  let rows = 0;
  for await (const row of rowsOf(pieces, encoding, separator)) {
    if (!headers) {
      headers = row.map((header) => header.trim().slice(0, 200));
      if (headers.length > MAX_COLUMNS) throw new Problem(422, `The file has ${headers.length} columns; ${MAX_COLUMNS} are the most. Is the separator right?`);
      continue;
    }
    rows++;
    if (sample.length < SAMPLE_ROWS) sample.push(row.slice(0, headers.length).map((text) => text.slice(0, 200)));
    if (row.some((text) => text.length > MAX_CELL)) throw new Problem(422, `Row ${rows + 1} has a cell of more than ${MAX_CELL} signs. Is a quotation mark missing?`);
  }
  if (!headers) throw new Problem(422, 'The file is empty.');
  if (rows === 0) throw new Problem(422, 'The file has a header but no rows.');
  return { headers, sample, rows };
}
