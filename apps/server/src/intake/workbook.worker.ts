// Makes a table of text of one sheet of a workbook, in a process of its own: what takes too much memory ends alone.
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

const answer = (one: Answer): void => {
  process.send?.(one);
};

/** Rows, and signs of them, that are gathered before they are handed over. */
const GATHERED = { rows: 2000, signs: 1_000_000 };

/** More empty rows than anybody leaves between others. */
const EMPTY_MOST = 20_000;

/** How many rows the table has. */
async function write(book: Workbook, at: number, most: number): Promise<number> {
  const sheet = book.sheets[at];
  if (!sheet) throw new NoWorkbook('no-sheet');
  let lines: string[][] = [];
  let next = 1;
  let rows = 0;
  let size = 0;
  let signs = 0;
  let empty = 0;
  const flush = (): void => {
    if (lines.length === 0) return;
    const piece = Buffer.from(stringify(lines, { quoted_empty: true }), 'utf8');
    size += piece.length;
    if (size > most) throw new NoWorkbook('large-workbook');
    answer({ piece });
    lines = [];
    signs = 0;
  };
  await book.rows(sheet, (row, cells) => {
    // Empty rows keep their place, so that rows are called by the number that the sheet shows.
    empty += Math.max(0, row - next);
    if (empty > EMPTY_MOST) throw new NoWorkbook('large-workbook');
    for (; next < row; next++) {
      lines.push(['']);
      if (lines.length >= GATHERED.rows) flush();
    }
    lines.push([...cells]);
    signs += cells.reduce((sum, cell) => sum + cell.length, 0);
    next = row + 1;
    rows++;
    if (lines.length >= GATHERED.rows || signs >= GATHERED.signs) flush();
  });
  flush();
  return rows;
}

async function read({ bytes, sheetAt, most }: ToRead): Promise<void> {
  const book = await Workbook.of(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength));
  const sheets = book.sheets.map(({ name }) => name);
  const tried =
    sheetAt === undefined
      ? [...book.sheets.keys()].sort(
          (a, b) => Number(book.sheets[a]?.isHidden) - Number(book.sheets[b]?.isHidden),
        )
      : [sheetAt];
  for (const at of tried)
    if ((await write(book, at, most)) > 0 || at === tried.at(-1))
      return answer({ sheets, sheetAt: at });
}

process.once('message', (task: ToRead) => {
  read(task).catch((error: unknown) =>
    answer({ failed: error instanceof NoWorkbook ? error.code : 'broken-workbook' }),
  );
});
process.once('disconnect', () => process.exit());
