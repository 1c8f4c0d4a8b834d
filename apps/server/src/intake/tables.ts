// Whatever a list comes as, what is read is a table of text: one entry for each kind, which makes that table.
import { Injectable } from '@nestjs/common';
import {
  cardColumns,
  CardReader,
  type CardRow,
  type Encoding,
  type ImportKind,
  type Separator,
} from '@palabra/core/intake';
import { stringify } from 'csv-stringify/sync';
import { beginningOf, inTurn } from '../platform/upload.js';
import { refuse } from './intake.refusals.js';
import { guessEncodings, refuseBinary, separatorOf, type Guess } from './reading.js';
import { Workbooks } from './workbooks.js';

/** Bytes of a file, and of the table that is made of it. */
export const IMPORT_BYTES = 200 * 1024 * 1024;

export interface Table {
  readonly pieces: readonly Buffer[];
  readonly encoding: Encoding;
  readonly guesses: readonly Guess[];
  readonly separator: Separator;
  readonly sheets: readonly string[];
  readonly sheetAt: number;
}

const ours = { encoding: 'utf-8', separator: ',', guesses: [], sheets: [], sheetAt: 0 } as const;

const signatures: readonly (readonly [Buffer, ImportKind])[] = [
  [Buffer.from('PK\u0003\u0004', 'latin1'), 'workbook'],
  [Buffer.from([0xd0, 0xcf, 0x11, 0xe0]), 'workbook'],
];

/** By what is in it; a name may say anything. */
function kindOf(pieces: readonly Buffer[], encoding: Encoding): ImportKind {
  const start = beginningOf(pieces, 400);
  const known = signatures.find(([signature]) => start.subarray(0, 4).equals(signature));
  if (known) return known[1];
  const text = new TextDecoder(encoding).decode(start, { stream: true });
  return /^\ufeff?\s*begin\s*:\s*vcard/i.test(text) ? 'cards' : 'text';
}

@Injectable()
export class Tables {
  constructor(private readonly workbooks: Workbooks) {}

  async read(pieces: readonly Buffer[]): Promise<Table & { readonly kind: ImportKind }> {
    const guesses = await guessEncodings(pieces);
    const encoding = guesses[0]?.encoding ?? 'utf-8';
    const kind = kindOf(pieces, encoding);
    return { kind, ...(await this.made[kind](pieces, guesses, encoding)) };
  }

  /** Another sheet of a workbook. */
  sheet(pieces: readonly Buffer[], sheetAt: number): Promise<Table> {
    return this.book(pieces, sheetAt);
  }

  private readonly made: {
    readonly [K in ImportKind]: (
      pieces: readonly Buffer[],
      guesses: readonly Guess[],
      encoding: Encoding,
    ) => Promise<Table>;
  } = {
    text: (pieces, guesses, encoding) => {
      refuseBinary(pieces, encoding);
      const separator = separatorOf(pieces, encoding);
      return Promise.resolve({ ...ours, pieces, encoding, guesses, separator });
    },
    workbook: (pieces) => this.book(pieces, undefined),
    cards: async (pieces, _, encoding) => ({ ...ours, pieces: await cardTable(pieces, encoding) }),
  };

  private async book(pieces: readonly Buffer[], sheetAt: number | undefined): Promise<Table> {
    return { ...ours, ...(await this.workbooks.read(pieces, sheetAt, IMPORT_BYTES)) };
  }
}

/** So much of a line of a card is gathered; the rest of it is a picture. */
const LINE_MOST = 200_000;

/** A row for each card. */
async function cardTable(pieces: readonly Buffer[], encoding: Encoding): Promise<Buffer[]> {
  const reader = new CardReader();
  const decoder = new TextDecoder(encoding);
  const made: Buffer[] = [Buffer.from(stringify([cardColumns]), 'utf8')];
  let size = 0;
  const put = (rows: readonly CardRow[]): void => {
    if (rows.length === 0) return;
    const piece = Buffer.from(
      stringify(
        rows.map(({ cells }) => [...cells]),
        { quoted_empty: true },
      ),
      'utf8',
    );
    size += piece.length;
    if (size > IMPORT_BYTES) throw refuse('large-workbook');
    made.push(piece);
  };
  let rest = '';
  for await (const piece of inTurn(pieces)) {
    const lines = (rest + decoder.decode(piece, { stream: true })).split(/\r\n|\n|\r(?!$)/);
    rest = (lines.pop() ?? '').slice(0, LINE_MOST);
    for (const line of lines) reader.take(line);
    put(reader.done);
  }
  for (const line of (rest + decoder.decode()).split(/\r\n|\n|\r/)) reader.take(line);
  put(reader.end());
  if (made.length === 1) throw refuse('no-cards');
  return made;
}
