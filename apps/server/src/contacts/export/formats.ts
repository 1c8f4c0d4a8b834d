// The files that a list of people can be taken as: one entry per format, which writes its rows as they come.
import { Readable, type Writable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ExportFormat } from '@palabra/core/contacts';
import { vcard } from '@palabra/core/contacts';
import { stringify } from 'csv-stringify';
import { writeWorkbook, type Cell } from './workbook.js';

/** One person: the cells in the order of the columns, and what a visiting card says. */
export interface ExportedPerson {
  readonly cells: readonly Cell[];
  readonly card: Parameters<typeof vcard>[0];
}

interface Format {
  readonly type: string;
  /** Writes all rows and ends the stream; gives up when the stream closes. */
  readonly write: (
    head: readonly string[],
    people: AsyncIterable<ExportedPerson>,
    out: Writable,
  ) => Promise<void>;
}

async function* cellsOf(people: AsyncIterable<ExportedPerson>): AsyncGenerator<readonly Cell[]> {
  for await (const { cells } of people) yield cells;
}

async function* rows(
  head: readonly string[],
  people: AsyncIterable<ExportedPerson>,
): AsyncGenerator<readonly Cell[]> {
  yield head.map(harmless);
  for await (const { cells } of people) yield cells.map(harmless);
}

/**
 * A program that takes another sign for the end of a cell, or knows nothing of quotes, finds cells within this one: none of
 * them begins like a formula either.
 */
const harmless = <C extends Cell>(cell: C): C | string =>
  typeof cell === 'string' ? cell.replace(/[;|\t\r\n](?=[ "']*[=+@-])/g, "$&'") : cell;

async function* cards(people: AsyncIterable<ExportedPerson>): AsyncGenerator<string> {
  for await (const { card } of people) yield vcard(card);
}

export const formats: { readonly [F in ExportFormat]: Format } = {
  csv: {
    type: 'text/csv; charset=utf-8',
    // A text that begins like a formula is kept from being one (CWE-1236).
    write: (head, people, out) =>
      pipeline(
        Readable.from(rows(head, people)),
        stringify({ escape_formulas: true, bom: true, quoted_match: /[;|\t]/ }),
        out,
      ),
  },
  xlsx: {
    type: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
    write: (head, people, out) => writeWorkbook(head, cellsOf(people), out),
  },
  vcf: {
    type: 'text/vcard; charset=utf-8',
    write: (_, people, out) => pipeline(Readable.from(cards(people)), out),
  },
};
