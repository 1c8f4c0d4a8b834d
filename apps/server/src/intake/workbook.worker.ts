// Makes a table of text of one sheet of a workbook, away from the thread that answers people.
import { parentPort, workerData } from 'node:worker_threads';
import { stringify } from 'csv-stringify/sync';
import { NoWorkbook, Workbook } from './workbook.reading.js';

export interface ToRead {
  readonly bytes: Uint8Array;
  /** Which sheet; without it, the first that is in sight and has rows. */
  readonly sheetAt: number | undefined;
  /** So many bytes of text at the most. */
  readonly most: number;
}

export type Answer =
  | { readonly piece: Uint8Array }
  | { readonly sheets: readonly string[]; readonly sheetAt: number }
  | { readonly failed: NoWorkbook['code'] };

const { bytes, sheetAt, most } = workerData as ToRead;
const answer = (one: Answer): void => parentPort?.postMessage(one);

/** How many rows the table has. */
async function write(book: Workbook, at: number): Promise<number> {
  const sheet = book.sheets[at];
  if (!sheet) throw new NoWorkbook('no-sheet');
  let lines: string[][] = [];
  let next = 1;
  let rows = 0;
  let size = 0;
  const flush = (): void => {
    if (lines.length === 0) return;
    const piece = Buffer.from(stringify(lines, { quoted_empty: true }), 'utf8');
    size += piece.length;
    if (size > most) throw new NoWorkbook('large-workbook');
    answer({ piece });
    lines = [];
  };
  await book.rows(
    sheet,
    (row, cells) => {
      // Empty rows keep their place, so that rows are called by the number that the sheet shows.
      for (; next < row; next++) {
        lines.push(['']);
        if (lines.length >= 2000) flush();
      }
      lines.push([...cells]);
      next = row + 1;
      rows++;
      if (lines.length >= 2000) flush();
    },
    () => true,
  );
  flush();
  return rows;
}

async function read(): Promise<void> {
  const book = await Workbook.of(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength));
  const sheets = book.sheets.map(({ name }) => name);
  const tried =
    sheetAt === undefined
      ? [...book.sheets.keys()].sort(
          (a, b) => Number(book.sheets[a]?.isHidden) - Number(book.sheets[b]?.isHidden),
        )
      : [sheetAt];
  for (const at of tried)
    if ((await write(book, at)) > 0 || at === tried.at(-1)) return answer({ sheets, sheetAt: at });
}

read().catch((error: unknown) =>
  answer({ failed: error instanceof NoWorkbook ? error.code : 'broken-workbook' }),
);
