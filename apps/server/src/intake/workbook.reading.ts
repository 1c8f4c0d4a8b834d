// What of a workbook (ECMA-376, Office Open XML) an import needs: the names of its sheets, and the rows of one as texts.
// Part by part, as it is unpacked: neither the file's parts nor its rows are ever whole in memory, but for texts that cells
// share. Read by hand, because how much may be unpacked has to be told before it is.
import { text } from 'node:stream/consumers';
import { beginning } from '@palabra/core/contacts';
import { cellFormat, shownNumber, type CellFormat } from '@palabra/core/intake';
import { urlOf } from '@palabra/core/kernel';
import { SaxesParser, type SaxesTagPlain } from 'saxes';
import { fromBufferPromise, type Entry, type ZipFile } from 'yauzl';

/** What can't be read, by the code of its refusal. */
export class NoWorkbook extends Error {
  constructor(
    readonly code:
      'encrypted' | 'other-workbook' | 'broken-workbook' | 'large-workbook' | 'no-sheet',
  ) {
    super(code);
  }
}

/** Bytes of a part, unpacked. */
const MOST = { sheet: 1024 ** 3, shared: 100 * 1024 ** 2, small: 32 * 1024 ** 2 };
/** Columns and signs of a cell that are read; what is beyond is refused by whoever counts. */
const MOST_COLUMNS = 500;
const MOST_SIGNS = 250_000;
/** Signs of all cells of a row. */
const MOST_OF_ROW = 2_000_000;

const local = (name: string): string => name.slice(name.indexOf(':') + 1);
const attribute = (tag: SaxesTagPlain, name: string): string | undefined =>
  Object.entries(tag.attributes).find(([key]) => local(key) === name)?.[1];

interface Reader {
  readonly open?: (name: string, tag: SaxesTagPlain) => void;
  readonly close?: (name: string) => void;
  readonly text?: (text: string) => void;
}

class Parts {
  private constructor(
    private readonly zip: ZipFile,
    private readonly entries: ReadonlyMap<string, Entry>,
  ) {}

  static async of(bytes: Buffer): Promise<Parts> {
    const entries = new Map<string, Entry>();
    try {
      const zip = await fromBufferPromise(bytes, { lazyEntries: true });
      for await (const entry of zip.eachEntry()) {
        entries.set(entry.fileName.replace(/^\//, '').toLowerCase(), entry);
        if (entries.size > 5000) throw new NoWorkbook('broken-workbook');
      }
      return new Parts(zip, entries);
    } catch {
      throw new NoWorkbook('broken-workbook');
    }
  }

  has(name: string): boolean {
    return this.entries.has(name.toLowerCase());
  }

  private find(name: string, most: number): Entry | undefined {
    const entry = this.entries.get(name.toLowerCase());
    // What an entry says of its size is checked while it is unpacked.
    if (entry && entry.uncompressedSize > most) throw new NoWorkbook('large-workbook');
    if (entry?.isEncrypted()) throw new NoWorkbook('encrypted');
    return entry;
  }

  async start(name: string): Promise<string> {
    const entry = this.find(name, MOST.small);
    return entry ? (await text(await this.zip.openReadStreamPromise(entry))).slice(0, 200) : '';
  }

  /** Hands the tags of a part on as they come. */
  async read(name: string, most: number, reader: Reader): Promise<void> {
    const entry = this.find(name, most);
    if (!entry) return;
    const parser = new SaxesParser();
    parser.on('opentag', (tag) => reader.open?.(local(tag.name), tag));
    parser.on('closetag', (tag) => reader.close?.(local(tag.name)));
    parser.on('text', (piece) => reader.text?.(piece));
    parser.on('cdata', (piece) => reader.text?.(piece));
    parser.on('error', () => {
      throw new NoWorkbook('broken-workbook');
    });
    const decoder = new TextDecoder();
    try {
      for await (const piece of await this.zip.openReadStreamPromise(entry)) {
        parser.write(decoder.decode(piece as Buffer, { stream: true }));
      }
      parser.write(decoder.decode()).close();
    } catch (error) {
      throw error instanceof NoWorkbook ? error : new NoWorkbook('broken-workbook');
    }
  }
}

/** ECMA-376 part 1, 22.4.2.4: signs that XML can't have. */
const unescaped = (text: string): string =>
  text.includes('_x')
    ? text.replace(/_x([0-9a-f]{4})_/gi, (_, hex: string) => String.fromCharCode(parseInt(hex, 16)))
    : text;

export interface Sheet {
  readonly name: string;
  readonly path: string;
  readonly isHidden: boolean;
}

/** `A1` is column 0; undefined where it says none. */
function columnOf(reference: string | undefined): number | undefined {
  const letters = /^[A-Z]{1,4}/i.exec(reference ?? '')?.[0];
  if (!letters) return undefined;
  let column = 0;
  for (const letter of letters.toUpperCase()) column = column * 26 + letter.charCodeAt(0) - 64;
  return column - 1;
}

export class Workbook {
  private constructor(
    private readonly parts: Parts,
    readonly sheets: readonly Sheet[],
    private readonly from1904: boolean,
    private readonly paths: { readonly shared: string; readonly styles: string },
  ) {}

  static async of(bytes: Buffer): Promise<Workbook> {
    // A workbook with a password is another kind of file, and so is one of before 2007.
    if (bytes.subarray(0, 4).equals(Buffer.from([0xd0, 0xcf, 0x11, 0xe0])))
      throw new NoWorkbook('encrypted');
    const parts = await Parts.of(bytes);
    if (parts.has('xl/workbook.bin') || (await parts.start('mimetype')).includes('opendocument'))
      throw new NoWorkbook('other-workbook');
    const main = await mainPart(parts);
    const folder = main.slice(0, main.lastIndexOf('/') + 1);
    const related = await relations(parts, main);
    const sheets: Sheet[] = [];
    let from1904 = false;
    await parts.read(main, MOST.small, {
      open: (name, tag) => {
        if (name === 'workbookPr')
          from1904 = ['1', 'true'].includes(attribute(tag, 'date1904') ?? '');
        if (name !== 'sheet' || sheets.length >= 1000) return;
        const path = related.get(attribute(tag, 'id') ?? '');
        if (path)
          sheets.push({
            name: beginning(attribute(tag, 'name') ?? `sheet ${sheets.length + 1}`, 100),
            path: path.path,
            isHidden: (attribute(tag, 'state') ?? 'visible') !== 'visible',
          });
      },
    });
    if (sheets.length === 0) throw new NoWorkbook('no-sheet');
    const partOf = (type: string, usual: string): string =>
      [...related.values()].find((one) => one.type.endsWith(`/${type}`))?.path ?? folder + usual;
    return new Workbook(parts, sheets, from1904, {
      shared: partOf('sharedStrings', 'sharedStrings.xml'),
      styles: partOf('styles', 'styles.xml'),
    });
  }

  private async shared(): Promise<string[]> {
    const found: string[] = [];
    let one = '';
    let isText = false;
    let phonetic = false;
    await this.parts.read(this.paths.shared, MOST.shared, {
      open: (name) => {
        if (name === 'si') one = '';
        else if (name === 'rPh') phonetic = true;
        else if (name === 't') isText = !phonetic;
      },
      text: (piece) => {
        if (isText && one.length < MOST_SIGNS) one += piece;
      },
      close: (name) => {
        if (name === 't') isText = false;
        else if (name === 'rPh') phonetic = false;
        else if (name === 'si') found.push(unescaped(one));
      },
    });
    return found;
  }

  /** How each style shows a number. */
  private async formats(): Promise<CellFormat[]> {
    const codes = new Map<number, string>();
    const ids: number[] = [];
    let isCell = false;
    await this.parts.read(this.paths.styles, MOST.small, {
      open: (name, tag) => {
        if (name === 'numFmt')
          codes.set(Number(attribute(tag, 'numFmtId')), attribute(tag, 'formatCode') ?? '');
        else if (name === 'cellXfs') isCell = true;
        else if (name === 'xf' && isCell && ids.length < 70_000)
          ids.push(Number(attribute(tag, 'numFmtId') ?? 0));
      },
      close: (name) => {
        if (name === 'cellXfs') isCell = false;
      },
    });
    return ids.map((id) => cellFormat(id, codes.get(id)));
  }

  /** The rows of a sheet, by their number from 1; rows without a cell are left out. */
  async rows(
    { path }: Sheet,
    take: (row: number, cells: readonly string[]) => void,
  ): Promise<void> {
    const [shared, formats] = [await this.shared(), await this.formats()];
    let row = 0;
    let column = -1;
    let cells: string[] = [];
    let signs = 0;
    let cell = { type: 'n', style: 0 };
    let value = '';
    let isValue = false;
    let phonetic = false;
    const shown = (): string => {
      switch (cell.type) {
        case 's':
          return shared[Number(value)] ?? '';
        case 'b':
          return value === '1' ? 'true' : value === '0' ? 'false' : value;
        case 'd':
          return value.replace(/T00:00(?::00(?:\.0+)?)?Z?$/, '');
        case 'n':
          return shownNumber(value, formats[cell.style] ?? 'plain', this.from1904);
        default:
          return unescaped(value);
      }
    };
    await this.parts.read(path, MOST.sheet, {
      open: (name, tag) => {
        if (name === 'row') {
          const said = Number(attribute(tag, 'r'));
          row = Number.isInteger(said) && said > row && said <= 1_048_576 ? said : row + 1;
          cells = [];
          signs = 0;
          column = -1;
        } else if (name === 'c') {
          column = columnOf(attribute(tag, 'r')) ?? column + 1;
          cell = { type: attribute(tag, 't') ?? 'n', style: Number(attribute(tag, 's') ?? 0) };
          value = '';
        } else if (name === 'rPh') phonetic = true;
        else if (name === 'v' || (name === 't' && !phonetic)) isValue = true;
      },
      text: (piece) => {
        if (isValue && value.length < MOST_SIGNS) value += piece;
      },
      close: (name) => {
        if (name === 'v' || name === 't') isValue = false;
        else if (name === 'rPh') phonetic = false;
        else if (name === 'c' && value !== '' && column < MOST_COLUMNS) {
          while (cells.length < column) cells.push('');
          const text = shown();
          cells[column] = text;
          signs += text.length;
          if (signs > MOST_OF_ROW) throw new NoWorkbook('large-workbook');
        } else if (name === 'row' && cells.length > 0) take(row, cells);
      },
    });
  }
}

interface Related {
  readonly path: string;
  readonly type: string;
}

/** What a part refers to, by the keys it uses for it (ECMA-376 part 2, 9.3). */
async function relations(parts: Parts, part: string): Promise<ReadonlyMap<string, Related>> {
  const cut = part.lastIndexOf('/') + 1;
  const folder = part.slice(0, cut);
  const found = new Map<string, Related>();
  await parts.read(`${folder}_rels/${part.slice(cut)}.rels`, MOST.small, {
    open: (name, tag) => {
      const [id, target] = [attribute(tag, 'Id'), attribute(tag, 'Target')];
      if (name !== 'Relationship' || id === undefined || target === undefined) return;
      const url = urlOf(target, `file:///${folder}`);
      if (url)
        found.set(id, {
          path: decodeURI(url.pathname).slice(1),
          type: attribute(tag, 'Type') ?? '',
        });
    },
  });
  return found;
}

async function mainPart(parts: Parts): Promise<string> {
  const found = [...(await relations(parts, '')).values()].find(({ type }) =>
    type.endsWith('/officeDocument'),
  );
  const main = found?.path ?? 'xl/workbook.xml';
  if (!parts.has(main)) throw new NoWorkbook('other-workbook');
  return main;
}
