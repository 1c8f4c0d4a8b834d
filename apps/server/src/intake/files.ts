// The rows of a file that is, or will be, brought in, with what was mended of them.
import { Injectable } from '@nestjs/common';
import type { Mend } from '@palabra/core/intake';
import { Database } from '../platform/database.js';
import { readFile } from '../platform/files/files.store.js';
import type { Import } from './intake.store.js';
import { hasMends, mendsBetween } from './look.store.js';
import { rowsAbove, rowsOf, type FileRow } from './reading.js';

/** A row of a file, as it stands there and as it was mended. */
export interface Line {
  readonly row: number;
  readonly line: number;
  readonly cells: readonly string[];
  readonly mend?: Mend | undefined;
}

@Injectable()
export class ImportFiles {
  constructor(private readonly database: Database) {}

  /** All rows, titles and header included. */
  rows({ fileId, encoding, separator, kind }: Import): AsyncGenerator<FileRow> {
    return rowsOf(readFile(this.database.db, fileId), encoding, separator, kind);
  }

  /** The rows after one, in chunks of about `size()` rows and `signs` signs. */
  async *chunks(
    current: Import,
    after: number,
    size: () => number,
    signs: number,
  ): AsyncGenerator<Line[]> {
    const isMended = await hasMends(this.database.db, current.id);
    const withMends = (lines: Line[]): Line[] | Promise<Line[]> =>
      isMended ? this.withMends(current, lines) : lines;
    let chunk: Line[] = [];
    let weight = 0;
    let row = -rowsAbove(current.headerAt);
    for await (const { cells, line } of this.rows(current)) {
      row++;
      if (row <= Math.max(after, 0)) continue;
      chunk.push({ row, line, cells });
      weight += cells.reduce((sum, cell) => sum + cell.length, 0);
      if (chunk.length < size() && weight < signs) continue;
      yield await withMends(chunk);
      chunk = [];
      weight = 0;
    }
    if (chunk.length > 0) yield await withMends(chunk);
  }

  private async withMends({ id }: Import, lines: Line[]): Promise<Line[]> {
    const mends = await mendsBetween(
      this.database.db,
      id,
      lines[0]?.row ?? 0,
      lines.at(-1)?.row ?? 0,
    );
    return lines.map((one) => ({ ...one, mend: mends.get(one.row) }));
  }

  /** One row as it stands in the file. */
  async line(current: Import, wanted: number): Promise<Line | undefined> {
    let row = -rowsAbove(current.headerAt);
    for await (const { cells, line } of this.rows(current))
      if (++row === wanted) return { row, line, cells };
    return undefined;
  }
}
