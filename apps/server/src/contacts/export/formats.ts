// The files that a list of people can be taken as: one entry per format, which writes its rows as they come.
import { once } from 'node:events';
import { Readable, type Writable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ExportFormat } from '@palabra/core/contacts';
import { vcard } from '@palabra/core/contacts';
import { stringify } from 'csv-stringify';
import excel from 'exceljs';

/** One person: the cells in the order of the columns, and what a visiting card says. */
export interface ExportedPerson {
  readonly cells: readonly (string | number | null)[];
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

async function* rows(
  head: readonly string[],
  people: AsyncIterable<ExportedPerson>,
): AsyncGenerator<readonly (string | number | null)[]> {
  yield head;
  for await (const { cells } of people) yield cells;
}

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
        stringify({ escape_formulas: true, bom: true }),
        out,
      ),
  },
  xlsx: {
    type: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
    async write(head, people, out) {
      const book = new excel.stream.xlsx.WorkbookWriter({ stream: out, useStyles: true });
      const sheet = book.addWorksheet('Contacts', { views: [{ state: 'frozen', ySplit: 1 }] });
      sheet.addRow([...head]).font = { bold: true };
      for await (const { cells } of people) {
        if (out.destroyed) return;
        // Texts are written as texts: none becomes a formula.
        sheet.addRow([...cells]).commit();
        if (out.writableNeedDrain) await Promise.race([once(out, 'drain'), once(out, 'close')]);
      }
      sheet.commit();
      await book.commit();
    },
  },
  vcf: {
    type: 'text/vcard; charset=utf-8',
    write: (_, people, out) => pipeline(Readable.from(cards(people)), out),
  },
};
